"""Scratches: bright strokes in black that are no letters, no drawn lines and no part of a pattern."""

import numpy as np

from frimble.core.film.detection.fragments import Fragment, fragment_in, joined
from frimble.core.film.detection.marks import SmallMarks
from frimble.core.film.findings import NEAR_LIMIT, Finding, Limits, pixel_box
from frimble.core.film.scan.grid import Levels, Scan

_LEAST_FRAGMENT_MM = 0.5
_LEAST_SCRATCH_MM = 1.6
_LONG_SCRATCH_MM = 6.0
_LONG_FOR_WIDTH = 5
_WIDEST_SCRATCH_MM = 0.5
# A spot so far past its end may be another fault.
_BEYOND_MM = 0.6
# Feet and heads of letters on one line differ by less than this share of a stem.
_OFF_LEVEL = 0.2


def elongated(marks: SmallMarks, scan: Scan) -> np.ndarray:
    """Marks long for their area: three times as long as wide or more."""
    length = np.hypot(marks.boxes[:, 2], marks.boxes[:, 3])
    return np.asarray((length * scan.pixel_mm >= _LEAST_FRAGMENT_MM) & (marks.areas < 0.3 * length**2))


def scratches_of(
    scan: Scan, levels: Levels, limits: Limits, bright: SmallMarks, strokes: np.ndarray, free: np.ndarray
) -> tuple[list[Finding], np.ndarray]:
    """(scratch and thin-gap findings, flags of the marks they take up).

    Args:
        strokes, free: numbers of the marks that may be scratches, and of all that belong to nothing else.
    """
    pieces = [s for k in strokes if (s := fragment_in(scan, levels, bright.boxes[k], [k]))]
    found = joined([p for p in pieces if p.width_mm <= _WIDEST_SCRATCH_MM], scan)
    letters, first_of = _letter_like(bright, scan), np.arange(len(bright.areas))
    for stroke in found:
        first_of[stroke.members] = stroke.members[0]
    findings, used = [], np.zeros(len(bright.areas), bool)
    for stroke, alike in zip(found, _siblings(found), strict=True):
        length = stroke.length * scan.pixel_mm
        stubby = length < max(_LEAST_SCRATCH_MM, _LONG_FOR_WIDTH * stroke.width_mm)
        if stubby or (length < _LONG_SCRATCH_MM and _among_letters(stroke, bright, letters, first_of)):
            continue
        straight = stroke.bow * scan.pixel_mm < 0.1 * length
        wide = stroke.width_mm >= (NEAR_LIMIT if alike else 1) * limits.line_mm
        if wide and straight:
            continue  # a reversed line wide enough to hold
        _absorb(stroke, bright, free, scan, used)
        (x0, y0), (x1, y1) = stroke.points.min(axis=0), stroke.points.max(axis=0) + 1
        kind = "thin_line" if alike else "scratch"
        findings.append(Finding(kind, *pixel_box(x0, y0, x1, y1, scan.pixel_mm), stroke.width_mm))
        used[stroke.members] = True
    return findings, used


def _siblings(strokes: list[Fragment]) -> list[bool]:
    """Whether a stroke has two parallels of its length and width beside it: lines that were drawn."""
    flags = []
    for s in strokes:
        alike = sum(
            1
            for o in strokes
            if o is not s
            and abs(float(o.along @ s.along)) > 0.9995
            and abs(o.length - s.length) < 0.05 * s.length
            and abs(o.width_mm - s.width_mm) < 0.35 * max(o.width_mm, s.width_mm)
        )
        flags.append(alike >= 2)
    return flags


def _letter_like(bright: SmallMarks, scan: Scan) -> np.ndarray:
    size = bright.longest * scan.pixel_mm
    return np.flatnonzero((size > 0.5) & (size < 8))


def _among_letters(stroke: Fragment, bright: SmallMarks, letters: np.ndarray, first_of: np.ndarray) -> bool:
    """Whether two bright marks or more of like height stand on one line beside the stroke: it is a letter's stem.

    Args:
        letters: numbers of the marks that may be letters. first_of: for each mark the first of those joined with it.
    """
    centre = stroke.points.mean(axis=0)
    boxes = bright.boxes[letters]
    middle, half = boxes[:, :2] + boxes[:, 2:] / 2, boxes[:, 2:] / 2
    size = np.hypot(boxes[:, 2], boxes[:, 3])
    near = np.hypot(*(middle - centre).T) < 2.0 * stroke.length
    alike = (size > 0.3 * stroke.length) & (size < 2.5 * stroke.length)
    own = np.isin(letters, stroke.members)
    side = np.array([-stroke.along[1], stroke.along[0]])
    beside = np.abs((middle - centre) @ side) > 0.2 * stroke.length
    # Letters share their foot or their head; the pieces of another scratch lie anywhere.
    upright = np.eye(2)[np.abs(stroke.along).argmax()]
    level = _in_line(stroke, middle, half, stroke.along) | _in_line(stroke, middle, half, upright)  # or slanted
    return len(np.unique(first_of[letters[near & alike & beside & level & ~own]])) >= 2


def _in_line(stroke: Fragment, middle: np.ndarray, half: np.ndarray, way: np.ndarray) -> np.ndarray:
    """Boxes (n,) whose lower or upper end, going that way, is level with the stroke's."""
    first, last = np.sort(stroke.ends @ way)
    place, reach = middle @ way, half @ np.abs(way)
    off = np.minimum(np.abs(place - reach - first), np.abs(place + reach - last))
    return np.asarray(off < _OFF_LEVEL * stroke.length)


def _absorb(stroke: Fragment, bright: SmallMarks, free: np.ndarray, scan: Scan, used: np.ndarray) -> None:
    """Spots along a broken scratch, straight or bowed, belong to it."""
    side = np.array([-stroke.along[1], stroke.along[0]])

    def placed(points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        way = points - stroke.ends[0]
        return way @ stroke.along, way @ side

    own_along, own_aside = placed(stroke.points)
    step = np.rint(own_along - own_along.min()).astype(int)
    number = np.bincount(step)
    middle = np.bincount(step, own_aside)[number > 0] / number[number > 0]
    steps = np.flatnonzero(number) + own_along.min()
    spread = float((own_aside - np.interp(own_along, steps, middle)).std())
    along, aside = placed(bright.centres[free])
    off = np.abs(aside - np.interp(along, steps, middle))
    reach = _BEYOND_MM / scan.pixel_mm
    on = (off < 0.12 / scan.pixel_mm + 2 * spread) & (along > -reach) & (along < stroke.length + reach)
    used[free[on]] = True
