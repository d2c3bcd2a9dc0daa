"""Where films lie on a screen: a plan in mm of frame, image area, films and register marks, and what does not fit.

The plan is seen as the screen lies for exposure, print side up; the film is laid print (ink) side down on it.
"""

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

from frimble.core.conclusions import InvalidInput, Settings, require_between, require_positive
from frimble.core.units import MM_PER_INCH, a_size_mm

# Only their lengths decide; drawn this deep they can be told.
_TOOL_DEPTH_MM = 22


# Sheets by name: width and length, mm.
SHEETS: dict[str, tuple[float, float]] = {
    "A4": a_size_mm("A4"),
    "A3": a_size_mm("A3"),
    "13 × 19 in": (13 * MM_PER_INCH, 19 * MM_PER_INCH),
    "A2": a_size_mm("A2"),
}


@dataclass(frozen=True)
class Art:
    """One image: name, size in mm as it is drawn, whether it is printed now or taped out, and the exposure it wants in s.

    Attributes:
        centre_mm: where its middle lies, from the frame's middle: right and down; None to be stacked with the others.
        turned: laid a quarter turned.
    """

    name: str
    width_mm: float
    height_mm: float
    used: bool = True
    time_s: float | None = None
    centre_mm: tuple[float, float] | None = None
    turned: bool = False

    @property
    def laid_mm(self) -> tuple[float, float]:
        """Width and height as it lies."""
        return (self.height_mm, self.width_mm) if self.turned else (self.width_mm, self.height_mm)


@dataclass(frozen=True)
class Bench:
    """What the plan is made for, mm: frame outer size, coater, squeegee, sheet of film, the platen under the print, the
    longest stroke of the press, and transfer or not.

    Attributes:
        film_length_mm: of a sheet; None for film off a roll. systems: (name, widest sheet in mm) of the film processes.
    """

    frame_width_mm: float
    frame_height_mm: float
    coater_mm: float | None = None
    squeegee_mm: float | None = None
    film_mm: float | None = None
    film_length_mm: float | None = None
    platen_width_mm: float | None = None
    platen_height_mm: float | None = None
    travel_mm: float | None = None
    transfer: bool = False
    systems: tuple[tuple[str, float], ...] = ()


@dataclass(frozen=True)
class PlacedBox:
    """A rectangle of the plan: what it is, its top left corner and size in mm from the frame's top left."""

    what: str
    name: str
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float

    def centre_from(self, middle_mm: tuple[float, float]) -> tuple[float, float]:
        """Where its own middle lies from another point, mm right and down."""
        return self.x_mm + self.width_mm / 2 - middle_mm[0], self.y_mm + self.height_mm / 2 - middle_mm[1]


@dataclass(frozen=True)
class PlacementPlan:
    """The plan: every box, mark centres (x, y) in mm, words on how the film lies, and warnings."""

    bench: Bench
    boxes: tuple[PlacedBox, ...]
    marks: tuple[tuple[float, float], ...]
    orientation: tuple[str, ...]
    warnings: tuple[str, ...]
    tape: tuple[str, ...]

    def of(self, what: str) -> list[PlacedBox]:
        return [b for b in self.boxes if b.what == what]


def plan_films(bench: Bench, arts: Sequence[Art], settings: Settings) -> PlacementPlan:
    """Lay one image or several on a screen.

    An image lies where it was put; the others stand one under the other in the middle of the area that ink and squeegee
    leave. A film larger than its sheet is turned, and where that does not help it is tiled.

    Raises:
        InvalidInput: no image, or an absurd size.
    """
    _check(bench, arts, settings)
    boxes = [_frame(bench), _well(bench, settings), _image_area(bench, settings)]
    warnings: list[str] = []
    placed = _stack(arts, bench, boxes[2], settings)
    boxes += placed
    for art, box in zip(arts, placed, strict=True):
        warnings += _fits(art, box, boxes[2], boxes[1])
        boxes += _tiles(art, box, bench, settings, warnings)
    warnings += _overlaps(placed)
    warnings += _tools(bench, placed, boxes[1], settings)
    warnings += _exposures(arts, settings)
    warnings += _on_press(bench, placed, settings)
    boxes[3:3] = _platen(bench, boxes[2])
    boxes += _tool_boxes(bench, boxes[1], boxes[2])
    boxes += [
        PlacedBox("tape", b.name, b.x_mm, b.y_mm, b.width_mm, b.height_mm)
        for a, b in zip(arts, placed, strict=True)
        if not a.used
    ]
    tape = tuple(f"Tape out {a.name}: it is on the screen and not in this print." for a in arts if not a.used)
    return PlacementPlan(
        bench, tuple(boxes), _marks(placed, boxes[2], settings), _orientation(bench), tuple(warnings), tape
    )


def _check(bench: Bench, arts: Sequence[Art], settings: Settings) -> None:
    if not arts:
        raise InvalidInput("Give at least one image.", "arts")
    low, high = settings["frame.least_mm"], settings["frame.most_mm"]
    require_between(bench.frame_width_mm, low, high, "The frame's width, in mm,", "frame_width_mm")
    require_between(bench.frame_height_mm, low, high, "The frame's height, in mm,", "frame_height_mm")
    for value, what in (
        (bench.coater_mm, "The coater"),
        (bench.squeegee_mm, "The squeegee"),
        (bench.film_mm, "The film"),
        (bench.film_length_mm, "The film's length"),
        (bench.platen_width_mm, "The platen's width"),
        (bench.platen_height_mm, "The platen's height"),
        (bench.travel_mm, "The press's stroke"),
    ):
        if value is not None:
            require_positive(value, f"{what}, in mm,", "bench")
    for art in arts:
        require_positive(art.width_mm, f"{art.name}: its width, in mm,", "arts")
        require_positive(art.height_mm, f"{art.name}: its height, in mm,", "arts")
        if art.time_s is not None:
            require_positive(art.time_s, f"{art.name}: its exposure, in s,", "arts")


def _frame(bench: Bench) -> PlacedBox:
    return PlacedBox("frame", "frame", 0, 0, bench.frame_width_mm, bench.frame_height_mm)


def _inset(box: PlacedBox, what: str, side: float, ends: float) -> PlacedBox:
    return PlacedBox(what, what, box.x_mm + side, box.y_mm + ends, box.width_mm - 2 * side, box.height_mm - 2 * ends)


def _well(bench: Bench, settings: Settings) -> PlacedBox:
    profile = settings["placement.profile_mm"]
    return _inset(_frame(bench), "well", profile, profile)


def _image_area(bench: Bench, settings: Settings) -> PlacedBox:
    """The well less the room that ink wells and the squeegee's travel take."""
    ends = settings["placement.ink_margin_mm"] - settings["placement.profile_mm"]
    return _inset(_well(bench, settings), "area", settings["placement.side_margin_mm"], max(0, ends))


def place_on_frame(art: Art, frame_mm: tuple[float, float]) -> PlacedBox | None:
    """Where an image lies on a frame of this outer size; None where no place is kept for it."""
    if art.centre_mm is None:
        return None
    (width, height), (x, y) = art.laid_mm, art.centre_mm
    left, top = frame_mm[0] / 2 + x - width / 2, frame_mm[1] / 2 + y - height / 2
    return PlacedBox("image", art.name, left, top, width, height)


def _stack(arts: Sequence[Art], bench: Bench, area: PlacedBox, settings: Settings) -> list[PlacedBox]:
    """A box for each image, in their order: where it was put, else under the one before."""
    gap = settings["placement.gap_mm"]
    loose = [a.laid_mm[1] for a in arts if a.centre_mm is None]
    y = area.y_mm + (area.height_mm - sum(loose) - gap * (len(loose) - 1)) / 2
    boxes = []
    for art in arts:
        box = place_on_frame(art, (bench.frame_width_mm, bench.frame_height_mm))
        if box is None:
            width, height = art.laid_mm
            box = PlacedBox("image", art.name, area.x_mm + (area.width_mm - width) / 2, y, width, height)
            y += height + gap
        boxes.append(box)
    return boxes


def _beyond(box: PlacedBox, room: PlacedBox) -> tuple[float, float]:
    """How far a box reaches out of another, mm across and along."""
    across = max(room.x_mm - box.x_mm, box.x_mm + box.width_mm - room.x_mm - room.width_mm)
    along = max(room.y_mm - box.y_mm, box.y_mm + box.height_mm - room.y_mm - room.height_mm)
    return across, along


def _fits(art: Art, box: PlacedBox, area: PlacedBox, inside: PlacedBox) -> list[str]:
    if max(_beyond(box, inside)) > 0.05:
        return [f"{art.name} lies on the frame's side: move it in, or take a larger frame."]
    across, along = _beyond(box, area)
    words = []
    if across > 0.05:
        words.append(
            f"{art.name} reaches {across:.0f} mm into the side margin: the squeegee needs {area.width_mm:.0f} mm at most."
        )
    if along > 0.05:
        words.append(
            f"{art.name} reaches {along:.0f} mm into the room for ink and squeegee travel. Take a longer frame."
        )
    return words


def _overlaps(placed: Sequence[PlacedBox]) -> list[str]:
    """A warning for each two images that lie on each other."""
    return [
        f"{a.name} and {b.name} lie on each other: move one."
        for a, b in itertools.combinations(placed, 2)
        if a.x_mm < b.x_mm + b.width_mm - 0.05
        and b.x_mm < a.x_mm + a.width_mm - 0.05
        and a.y_mm < b.y_mm + b.height_mm - 0.05
        and b.y_mm < a.y_mm + a.height_mm - 0.05
    ]


def _tiles(art: Art, box: PlacedBox, bench: Bench, settings: Settings, warnings: list[str]) -> list[PlacedBox]:
    """The films of an image: one where a sheet takes it, turned if that helps, else tiles in register."""
    if bench.film_mm is None:
        return []
    width, length = bench.film_mm, bench.film_length_mm or math.inf
    if _on_sheet(box.width_mm, box.height_mm, width, length):
        return []
    if _on_sheet(box.height_mm, box.width_mm, width, length):
        warnings.append(
            f"{art.name} is {box.width_mm:.0f} mm wide, the film {width:.0f} mm: print it turned sideways, "
            f"{box.height_mm:.0f} mm wide."
        )
        return []
    overlap = settings["placement.overlap_mm"]
    if width <= 2 * overlap or length <= 2 * overlap:
        raise InvalidInput(f"A film of {min(width, length):g} mm is too narrow to tile.", "film_mm")
    ways = [
        (_number(box.width_mm, across, overlap), _number(box.height_mm, along, overlap))
        for across, along in ((width, length), (length, width))
    ]
    columns, rows = min(ways, key=lambda way: way[0] * way[1])
    across, along = _tile_mm(box.width_mm, columns, overlap), _tile_mm(box.height_mm, rows, overlap)
    warnings.append(
        f"{art.name} is larger than the film both ways: {columns * rows} films of {across:.0f} × {along:.0f} mm, "
        f"{overlap:g} mm over each other, taped by their register marks; or {_wider(box, bench)}."
    )
    return [
        PlacedBox(
            "tile",
            f"{art.name} {row * columns + column + 1}",
            box.x_mm + column * (across - overlap),
            box.y_mm + row * (along - overlap),
            across,
            along,
        )
        for row in range(rows)
        for column in range(columns)
    ]


def _on_sheet(width: float, height: float, sheet_width: float, sheet_length: float) -> bool:
    return width <= sheet_width and height <= sheet_length


def _number(size: float, film: float, overlap: float) -> int:
    """How many films of a width cover a size."""
    return 1 if size <= film else math.ceil((size - overlap) / (film - overlap))


def _tile_mm(size: float, number: int, overlap: float) -> float:
    return (size + overlap * (number - 1)) / number


def _wider(box: PlacedBox, bench: Bench) -> str:
    """The film process that would take an image in one piece, by name where there is one."""
    narrow = min(box.width_mm, box.height_mm)
    fitting = sorted((widest, name) for name, widest in bench.systems if widest >= narrow)
    return f"it fits {fitting[0][1]}, {fitting[0][0]:.0f} mm wide, in one piece" if fitting else "a wider process"


def _tools(bench: Bench, placed: Sequence[PlacedBox], well: PlacedBox, settings: Settings) -> list[str]:
    said = []
    widest = max(b.width_mm for b in placed)
    wanted = widest + 2 * settings["placement.squeegee_over_mm"]
    if bench.squeegee_mm is not None and bench.squeegee_mm < wanted:
        said.append(f"The squeegee of {bench.squeegee_mm:.0f} mm is too narrow: {wanted:.0f} mm covers the image.")
    if bench.squeegee_mm is not None and bench.squeegee_mm > well.width_mm:
        said.append(f"The squeegee of {bench.squeegee_mm:.0f} mm does not go into the well of {well.width_mm:.0f} mm.")
    if bench.coater_mm is not None and bench.coater_mm >= well.width_mm:
        said.append(
            f"The coater of {bench.coater_mm:.0f} mm does not go between the frame's sides, {well.width_mm:.0f} mm apart."
        )
    if bench.coater_mm is not None and bench.coater_mm <= widest:
        said.append(f"The coater of {bench.coater_mm:.0f} mm is no wider than the image of {widest:.0f} mm.")
    return said


def _exposures(arts: Sequence[Art], settings: Settings) -> list[str]:
    """One screen gets one exposure: images that want different ones cannot share it."""
    timed = sorted((a.time_s, a.name) for a in arts if a.time_s)
    if len(timed) < 2 or timed[-1][0] <= settings["placement.time_ratio"] * timed[0][0]:
        return []
    (short_s, short), (long_s, long) = timed[0], timed[-1]
    return [
        f"{short} wants {short_s:.0f} s and {long} {long_s:.0f} s: one screen gets one exposure. "
        "Make two screens, or redraw the finer image for the longer time."
    ]


def _on_press(bench: Bench, placed: Sequence[PlacedBox], settings: Settings) -> list[str]:
    """What the press and the platen allow: said before the film is made."""
    said = []
    height = max(b.y_mm + b.height_mm for b in placed) - min(b.y_mm for b in placed)
    if bench.travel_mm is not None:
        stroke = height + 2 * settings["placement.stroke_over_mm"]
        if stroke > bench.travel_mm:
            said.append(
                f"The print is {height:.0f} mm long and wants a stroke of {stroke:.0f} mm; the press has "
                f"{bench.travel_mm:.0f} mm. Turn the image, make it smaller, or take a longer press."
            )
    for size, platen, what in (
        (max(b.width_mm for b in placed), bench.platen_width_mm, "wide"),
        (height, bench.platen_height_mm, "high"),
    ):
        if platen is not None and size > platen:
            said.append(f"The print is {size:.0f} mm {what}, the platen {platen:.0f} mm: it hangs over its edge.")
    return said


def _platen(bench: Bench, area: PlacedBox) -> list[PlacedBox]:
    """The platen under the middle of the image area, when its size is known."""
    if bench.platen_width_mm is None or bench.platen_height_mm is None:
        return []
    width, height = bench.platen_width_mm, bench.platen_height_mm
    x, y = area.x_mm + (area.width_mm - width) / 2, area.y_mm + (area.height_mm - height) / 2
    return [PlacedBox("platen", f"platen {width:.0f} × {height:.0f} mm", x, y, width, height)]


def _tool_boxes(bench: Bench, well: PlacedBox, area: PlacedBox) -> list[PlacedBox]:
    """The squeegee where its stroke begins and the coater at the other end, each as long as it is."""
    middle = well.x_mm + well.width_mm / 2
    low = area.y_mm + area.height_mm
    return [
        PlacedBox(what, f"{what} {length:.0f} mm", middle - length / 2, y, length, _TOOL_DEPTH_MM)
        for what, length, y in (
            ("squeegee", bench.squeegee_mm, (well.y_mm + area.y_mm - _TOOL_DEPTH_MM) / 2),
            ("coater", bench.coater_mm, (low + well.y_mm + well.height_mm - _TOOL_DEPTH_MM) / 2),
        )
        if length is not None
    ]


def _marks(placed: Sequence[PlacedBox], area: PlacedBox, settings: Settings) -> tuple[tuple[float, float], ...]:
    """Register marks at the corners about all images and centre marks on the axes, kept inside the image area."""
    off = settings["placement.mark_off_mm"]
    left, top = min(b.x_mm for b in placed) - off, min(b.y_mm for b in placed) - off
    right, low = max(b.x_mm + b.width_mm for b in placed) + off, max(b.y_mm + b.height_mm for b in placed) + off
    centre = area.x_mm + area.width_mm / 2
    middle = (top + low) / 2
    return (
        (left, top),
        (right, top),
        (left, low),
        (right, low),
        (centre, top),
        (centre, low),
        (left, middle),
        (right, middle),
    )


def _orientation(bench: Bench) -> tuple[str, ...]:
    return (
        "Film on the print side of the screen, its printed side against the emulsion.",
        "The printed side of inkjet film is tacky to a damp finger, the back is slick.",
        "It reads mirrored from the squeegee side: the transfer turns it round."
        if bench.transfer
        else "It reads right from the squeegee side.",
        "No gap, no bubble: light creeps under a film that does not lie flat.",
    )
