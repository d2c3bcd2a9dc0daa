"""Where films lie on a screen: a plan in mm of frame, image area, films and register marks, and what does not fit.

The plan is seen as the screen lies for exposure, print side up; the film is laid print (ink) side down on it.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from frimble.core.conclusions import InvalidInput, Settings, require_between, require_positive

# Only their lengths decide; drawn this deep they can be told.
_TOOL_DEPTH_MM = 22


@dataclass(frozen=True)
class Art:
    """One image: name, size in mm, whether it is printed now or taped out, and the exposure it wants in s, when known."""

    name: str
    width_mm: float
    height_mm: float
    used: bool = True
    time_s: float | None = None


@dataclass(frozen=True)
class Bench:
    """What the plan is made for, mm: frame outer size, coater, squeegee, widest film, the platen under the print, the
    longest stroke of the press, and transfer or not."""

    frame_width_mm: float
    frame_height_mm: float
    coater_mm: float | None = None
    squeegee_mm: float | None = None
    film_mm: float | None = None
    platen_width_mm: float | None = None
    platen_height_mm: float | None = None
    travel_mm: float | None = None
    transfer: bool = False


@dataclass(frozen=True)
class PlacedBox:
    """A rectangle of the plan: what it is, its top left corner and size in mm from the frame's top left."""

    what: str
    name: str
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float


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

    Images stand one under the other in the middle of the area that ink and squeegee leave; a film wider than the process
    prints is turned, and where that does not help it is tiled.

    Raises:
        InvalidInput: no image, or an absurd size.
    """
    _check(bench, arts, settings)
    boxes = [_frame(bench), _well(bench, settings), _image_area(bench, settings)]
    warnings: list[str] = []
    placed = _stack(arts, boxes[2], settings)
    boxes += placed
    for art, box in zip(arts, placed, strict=True):
        warnings += _fits(art, box, boxes[2])
        boxes += _tiles(art, box, bench, settings, warnings)
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


def _stack(arts: Sequence[Art], area: PlacedBox, settings: Settings) -> list[PlacedBox]:
    gap = settings["placement.gap_mm"]
    height = sum(a.height_mm for a in arts) + gap * (len(arts) - 1)
    y = area.y_mm + (area.height_mm - height) / 2
    boxes = []
    for art in arts:
        boxes.append(
            PlacedBox("image", art.name, area.x_mm + (area.width_mm - art.width_mm) / 2, y, art.width_mm, art.height_mm)
        )
        y += art.height_mm + gap
    return boxes


def _fits(art: Art, box: PlacedBox, area: PlacedBox) -> list[str]:
    said = []
    across = max(area.x_mm - box.x_mm, box.x_mm + box.width_mm - area.x_mm - area.width_mm)
    along = max(area.y_mm - box.y_mm, box.y_mm + box.height_mm - area.y_mm - area.height_mm)
    if across > 0.05:
        said.append(
            f"{art.name} reaches {across:.0f} mm into the side margin: the squeegee needs {area.width_mm:.0f} mm at most."
        )
    if along > 0.05:
        said.append(
            f"{art.name} reaches {along:.0f} mm into the room for ink and squeegee travel. Take a longer frame."
        )
    return said


def _tiles(art: Art, box: PlacedBox, bench: Bench, settings: Settings, warnings: list[str]) -> list[PlacedBox]:
    """The films of an image: one when the process prints it wide enough, turned if that helps, else tiles in register."""
    if bench.film_mm is None or art.width_mm <= bench.film_mm:
        return []
    if art.height_mm <= bench.film_mm:
        warnings.append(
            f"{art.name} is {art.width_mm:.0f} mm wide, the film {bench.film_mm:.0f} mm: print it turned sideways, "
            f"{art.height_mm:.0f} mm wide."
        )
        return []
    overlap = settings["placement.overlap_mm"]
    if bench.film_mm <= 2 * overlap:
        raise InvalidInput(f"A film of {bench.film_mm:g} mm is too narrow to tile.", "film_mm")
    number = math.ceil((art.width_mm - overlap) / (bench.film_mm - overlap))
    width = (art.width_mm + overlap * (number - 1)) / number
    warnings.append(
        f"{art.name} is wider than the film both ways: {number} films of {width:.0f} mm, {overlap:g} mm over each other, "
        "taped by their register marks; or a wider process."
    )
    return [
        PlacedBox("tile", f"{art.name} {k + 1}", box.x_mm + k * (width - overlap), box.y_mm, width, box.height_mm)
        for k in range(number)
    ]


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
