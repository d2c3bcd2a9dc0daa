"""Where everything lies on the step-test film.

Strips stand side by side along the card's travel, each the full height of the sheet, each with the same parts. All lengths
are whole film pixels, so that a line comes off the printer as wide as it is said to be.
"""

import json
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, fields
from typing import Any, TypeVar

import numpy as np

from frimble.core.conclusions import InvalidInput, Settings, require_between
from frimble.core.units import MM_PER_INCH

FORMAT = "step-test film 1"
SHEET_MM = (277.0, 190.0)
SCALE_BAR_MM = 200.0
# Openings and lines wanted, µm; each is drawn as the nearest whole number of film pixels.
_FINE_UM = (85, 127, 169, 212, 254, 339, 508)
_STANDING_UM = (85, 127, 169, 212, 339)
# One line to this many widths from line to line: what stands between lines must stand by itself.
PITCH_WIDTHS = 3
_DOTS_PER_CM = 14
TINTS = (0.1, 0.9)
_END_MM, _FIDUCIAL_MM, _ROW_MM, _GAP_MM = 16.0, 13.0, 16.0, 1.0
_LEAST_FIDUCIAL_MM = 10.0
_SPREAD_FIDUCIALS = 6
FIDUCIALS_EACH = 2 * _SPREAD_FIDUCIALS + 2
_ID_SETS = 16


@dataclass(frozen=True)
class Rectangle:
    """A rectangle on the sheet, mm from its top left corner, y down."""

    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float

    @property
    def middle(self) -> tuple[float, float]:
        return self.x_mm + self.width_mm / 2, self.y_mm + self.height_mm / 2


@dataclass(frozen=True)
class Strip(Rectangle):
    """One step: `index` 1, 2, … from the left."""

    index: int = 0


@dataclass(frozen=True)
class TargetPatch(Rectangle):
    """One part of a strip.

    Attributes:
        kind: "open" (black film, washes open), "solid" (clear film, hardens), "openings" (black lines on clear film),
            "lines" (clear lines on black film), "dots", "type", "ring" or "number".
        width_um: true width of its lines as drawn, or 0. tint: true share of black on the film.
    """

    step: int = 0
    kind: str = ""
    width_um: float = 0.0
    tint: float = 0.0

    @property
    def ruled_mm(self) -> float:
        """How much of its width the whole pitches of its lines take up."""
        pitch = PITCH_WIDTHS * self.width_um / 1000
        return int(self.width_mm / pitch + 1e-6) * pitch


@dataclass(frozen=True)
class Fiducial(Rectangle):
    """A square marker: clear pattern on a black ground, so that it is dark on bright when the stencil is lit through."""

    number: int = 0


@dataclass(frozen=True)
class Target:
    """The whole film. `dpi` of the printer; the scale bar is `scale_bar` long when the printer kept size."""

    dpi: int
    width_mm: float
    height_mm: float
    steps: tuple[Strip, ...]
    fiducials: tuple[Fiducial, ...]
    patches: tuple[TargetPatch, ...]
    scale_bar: Rectangle

    @property
    def pixel_mm(self) -> float:
        return MM_PER_INCH / self.dpi

    @property
    def pixel_um(self) -> float:
        return self.pixel_mm * 1000

    def patches_of(self, step: int, kind: str) -> list[TargetPatch]:
        return [p for p in self.patches if p.step == step and p.kind == kind]

    def patches_of_kind(self, kind: str) -> list[TargetPatch]:
        return [p for p in self.patches if p.kind == kind]

    @property
    def description(self) -> str:
        """What a picture of the film shows, in words."""
        return (
            f"The film: {len(self.steps)} strips side by side, each with open and solid patches, rulings from "
            f"{self.opening_widths_um[0]:.0f} µm, dots, type and a ring; square markers on all sides."
        )

    @property
    def opening_widths_um(self) -> tuple[float, ...]:
        """True widths of the openings drawn in each strip, µm, finest first."""
        return tuple(sorted({p.width_um for p in self.patches if p.kind == "openings"}))

    @property
    def card_edges_mm(self) -> tuple[float, ...]:
        """Where the card's edge stands, mm from the start of strip 1: one more than steps."""
        last = self.steps[-1]
        edges = [s.x_mm for s in self.steps] + [last.x_mm + last.width_mm]
        return tuple(round(edge - edges[0], 2) for edge in edges)


def design(steps: int, dpi: int, settings: Settings) -> Target:
    """The film for a number of steps on a printer of `dpi`.

    Raises:
        InvalidInput: too few or many steps, or a resolution no film printer has.
    """
    require_between(steps, 3, settings["target.most_steps"], "The number of steps", "steps")
    require_between(
        dpi, settings["target.least_dpi"], settings["target.most_dpi"], "The printer's resolution, in dpi,", "dpi"
    )
    if steps != int(steps) or dpi != int(dpi):
        raise InvalidInput("Steps and dpi are whole numbers.", "steps")
    return _Layout(int(steps), int(dpi)).target()


def dot_pitch_px(pixel_mm: float) -> int:
    """From dot to dot of the film's tints, whole film pixels."""
    return round(10 / _DOTS_PER_CM / pixel_mm)


def dot_pixels(share: float, pitch_px: int) -> tuple[float, int]:
    """(radius, number of pixels) of the round dot in the middle of a square of `pitch_px` that covers nearest to `share`.

    A pixel belongs to the dot whose middle lies within the radius, px.
    """
    reach = (np.arange(pitch_px) + 0.5 - pitch_px / 2) ** 2
    squared, counts = np.unique(np.round(reach[:, None] + reach, 6), return_counts=True)
    pixels = np.cumsum(counts)
    k = int(np.argmin(np.abs(pixels - share * pitch_px**2)))
    return math.sqrt((squared[k] + squared[k + 1]) / 2), int(pixels[k])


_Shape = TypeVar("_Shape", Fiducial, TargetPatch)


class _Layout:
    """Lays the sheet out on the grid of film pixels."""

    def __init__(self, steps: int, dpi: int):
        self.steps, self.dpi, self.pixel = steps, dpi, MM_PER_INCH / dpi
        self.wide = (SHEET_MM[0] - 2 * _END_MM) / steps

    def target(self) -> Target:
        strips = tuple(self._strip(k) for k in range(self.steps))
        patches = tuple(p for s in strips for p in self._parts(s))
        width, height = (self._whole(v) for v in SHEET_MM)
        left = self._whole((SHEET_MM[0] - SCALE_BAR_MM) / 2)
        bar = Rectangle(left, self._whole(SHEET_MM[1] - _ROW_MM - 1.6), self._whole(SCALE_BAR_MM), self._whole(0.5))
        return Target(self.dpi, width, height, strips, tuple(self._fiducials(strips)), patches, bar)

    def _whole(self, mm: float) -> float:
        """The nearest whole number of film pixels, mm."""
        return round(mm / self.pixel) * self.pixel

    def _on_grid(self, **mm: float) -> dict[str, Any]:
        return {name: self._whole(value) for name, value in mm.items()}

    def _box(self, shape: type[_Shape], x: float, y: float, width: float, height: float, **more: Any) -> _Shape:
        return shape(**self._on_grid(x_mm=x, y_mm=y, width_mm=width, height_mm=height), **more)

    def _strip(self, k: int) -> Strip:
        left, right = (self._whole(_END_MM + n * self.wide) for n in (k, k + 1))
        return Strip(left, 0.0, right - left, self._whole(SHEET_MM[1]), index=k + 1)

    def _parts(self, strip: Strip) -> Iterator[TargetPatch]:
        """The parts of a strip from the top down; open and solid patches at top, middle and bottom."""
        plan: list[tuple[str, float, float, float]] = [("number", 5.0, 0, 0), ("open", 8.0, 0, 1), ("solid", 8.0, 0, 0)]
        plan += [("openings", 7.0, um, 1 / PITCH_WIDTHS) for um in _FINE_UM]
        plan += [("open", 6.0, 0, 1), ("solid", 6.0, 0, 0), ("ring", 9.0, 0, 0), ("type", 8.0, 0, 0)]
        plan += [("dots", 6.0, 0, tint) for tint in TINTS]
        plan += [("lines", 5.0, um, 1 - 1 / PITCH_WIDTHS) for um in _STANDING_UM]
        plan += [("solid", 8.0, 0, 0), ("open", 8.0, 0, 1)]
        y = _ROW_MM + 0.4
        for kind, high, um, tint in plan:
            yield self._box(
                TargetPatch,
                strip.x_mm + _GAP_MM,
                y + _GAP_MM / 2,
                strip.width_mm - 2 * _GAP_MM,
                high - _GAP_MM,
                step=strip.index,
                kind=kind,
                width_um=self._width(um),
                tint=self._tint(tint) if kind == "dots" else tint,
            )
            y += high

    def _width(self, um: float) -> float:
        """The true width of a line of about `um`: whole pixels, at least one."""
        return round(max(1, round(um / 1000 / self.pixel)) * self.pixel * 1000, 2) if um else 0.0

    def _tint(self, tint: float) -> float:
        """The true share of black of dots of about `tint`: each is as many whole pixels as come nearest."""
        pitch = dot_pitch_px(self.pixel)
        share = dot_pixels(min(tint, 1 - tint), pitch)[1] / pitch**2
        return round(share if tint < 0.5 else 1 - share, 6)

    def _fiducials(self, strips: Sequence[Strip]) -> Iterator[Fiducial]:
        """Markers over and under as many strips as there is room for, and one in the middle of each end."""
        first = (self.steps % _ID_SETS) * FIDUCIALS_EACH
        size = max(_LEAST_FIDUCIAL_MM, min(_FIDUCIAL_MM, self.wide - 2))
        count = min(_SPREAD_FIDUCIALS, self.steps)
        chosen = [strips[round(k * (self.steps - 1) / (count - 1))] for k in range(count)]
        places = [(s.middle[0], y) for y in (_ROW_MM / 2, SHEET_MM[1] - _ROW_MM / 2) for s in chosen]
        places += [(x, SHEET_MM[1] / 2) for x in (_END_MM / 2, SHEET_MM[0] - _END_MM / 2)]
        for k, (x, y) in enumerate(places):
            yield self._box(Fiducial, x - size / 2, y - size / 2, size, size, number=first + k)


def to_json(target: Target) -> str:
    """The film's geometry as JSON text; `from_json` reads it back."""
    plain = {
        "format": FORMAT,
        "dpi": target.dpi,
        "width_mm": target.width_mm,
        "height_mm": target.height_mm,
        "steps": [_plain(s) for s in target.steps],
        "fiducials": [_plain(f) for f in target.fiducials],
        "patches": [_plain(p) for p in target.patches],
        "scale_bar": _plain(target.scale_bar),
        "card_edges_mm": target.card_edges_mm,
    }
    return json.dumps(plain, indent=1)


def _plain(part: Fiducial | Rectangle | Strip | TargetPatch) -> dict[str, Any]:
    return {f.name: round(v, 4) if isinstance(v := getattr(part, f.name), float) else v for f in fields(part)}


def from_json(text: str) -> Target:
    """A film's geometry from JSON text.

    Raises:
        InvalidInput: it is not the geometry of such a film.
    """
    try:
        plain = json.loads(text)
        if plain["format"] != FORMAT:
            raise InvalidInput(f"This is not a {FORMAT}: it says “{plain['format']}”.", "target")
        target = Target(
            int(plain["dpi"]),
            float(plain["width_mm"]),
            float(plain["height_mm"]),
            tuple(Strip(**s) for s in plain["steps"]),
            tuple(Fiducial(**f) for f in plain["fiducials"]),
            tuple(TargetPatch(**p) for p in plain["patches"]),
            Rectangle(**plain["scale_bar"]),
        )
    except (ValueError, KeyError, TypeError, AttributeError) as error:
        if isinstance(error, InvalidInput):
            raise
        raise InvalidInput("The geometry file cannot be read: give the JSON written with the film.", "target") from None
    if not _sound(target):
        raise InvalidInput("The geometry file has no steps, fiducials or patches a reading could use.", "target")
    return target


def _sound(target: Target) -> bool:
    numbers = [v for part in (*target.steps, *target.fiducials, *target.patches) for v in _plain(part).values()]
    finite = all(math.isfinite(v) for v in numbers if isinstance(v, int | float))
    kinds = {p.kind for p in target.patches}
    return finite and len(target.steps) >= 3 and len(target.fiducials) >= 4 and {"open", "solid", "openings"} <= kinds
