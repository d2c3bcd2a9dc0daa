"""Bright marks in the black: which are pinholes, which scratches, and which were meant."""

import numpy as np

from frimble.core.film.detection.celltest import CellTest
from frimble.core.film.detection.marks import DarkMarks, SmallMarks, dark_about, diameter_mm, passed_light
from frimble.core.film.detection.scratches import elongated, scratches_of
from frimble.core.film.findings import NEAR_LIMIT, Finding, Limits, pixel_box
from frimble.core.film.scan.grid import MARK_MM, Levels, Scan

_LARGEST_PINHOLE_MM = 0.9
_LARGEST_LETTER_MM = 25.0
# Dots and stops lie within this share of a letter's longer side about it.
_NEAR_LETTER = 0.7
# Those of a larger letter are no pinholes by their size.
_LARGEST_DOTTED_MM = 8.0


def holes_and_scratches(
    scan: Scan,
    levels: Levels,
    limits: Limits,
    bright: SmallMarks,
    meant: np.ndarray,
    dark: DarkMarks,
    left_out: CellTest,
) -> list[Finding]:
    """Findings among bright marks.

    Args:
        bright: every bright mark; `meant` (n,) True where it belongs to a pattern. dark: dark marks with labels.
        left_out: test of centres (n, 2) in pixels for places not to look at, such as the wedge.
    """
    free = ~meant & ~left_out(bright.centres)
    strokes = free & elongated(bright, scan)
    strokes[strokes] = ~_in_letters(bright, np.flatnonzero(strokes), dark, scan)
    scratches, used = scratches_of(scan, levels, limits, bright, np.flatnonzero(strokes), np.flatnonzero(free))
    spots = np.flatnonzero(free & ~used & (bright.longest * scan.pixel_mm <= MARK_MM))
    spots = spots[~_in_letters(bright, spots, dark, scan)]
    spots = spots[~_punctuation(bright, spots, used, scan)]
    pinholes = [f for k in spots if (f := _pinhole(scan, levels, limits, bright.boxes[k]))]
    return pinholes + scratches


def _in_letters(bright: SmallMarks, spots: np.ndarray, dark: DarkMarks, scan: Scan) -> np.ndarray:
    """Holes that are large for the dark shape they lie in: the counters of letters and figures."""
    flags = np.zeros(len(spots), bool)
    if not len(spots):
        return flags
    boxes, size = bright.boxes[spots], np.sqrt(bright.areas[spots])
    x0, y0 = boxes[:, 0], boxes[:, 1]
    x1, y1 = x0 + boxes[:, 2], y0 + boxes[:, 3]
    middle_x, middle_y = bright.centres[spots].round().astype(int).T
    for column, row in ((x0 - 2, middle_y), (x1 + 1, middle_y), (middle_x, y0 - 2), (middle_x, y1 + 1)):
        within = dark.shape_at(column, row)
        left, top, width, height = dark.boxes[np.maximum(within, 0)].T
        encloses = (left < x0) & (left + width > x1) & (top < y0) & (top + height > y1)
        longest = np.maximum(width, height)
        around = np.where(longest * scan.pixel_mm < _LARGEST_LETTER_MM, np.sqrt(width * height.astype(float)), longest)
        flags |= (within >= 0) & encloses & (size > 0.1 * around)
    return flags


def _punctuation(bright: SmallMarks, spots: np.ndarray, scratched: np.ndarray, scan: Scan) -> np.ndarray:
    """Spots beside reversed letters and as thick as their strokes: dots on i and j, full stops. A scratch is no letter."""
    filled = bright.areas > 0.12 * bright.boxes[:, 2:].prod(axis=1)
    size = bright.longest * scan.pixel_mm
    letters = np.flatnonzero((size > 0.8) & (size < _LARGEST_DOTTED_MM) & filled & ~scratched)
    if not len(spots) or not len(letters):
        return np.zeros(len(spots), bool)
    corner, box = bright.boxes[letters, :2], bright.boxes[letters, 2:]
    stroke = bright.areas[letters] / box.sum(axis=1)
    # Whichever way the words run.
    reach = _NEAR_LETTER * box.max(axis=1, keepdims=True)
    places = bright.centres[spots][:, None]
    beside = ((places > corner - reach) & (places < corner + box + reach)).all(axis=2)
    size = np.sqrt(bright.areas[spots])[:, None]
    return np.asarray((beside & (size > 0.5 * stroke) & (size < 2.5 * stroke)).any(axis=1))


def _pinhole(scan: Scan, levels: Levels, limits: Limits, box: np.ndarray) -> Finding | None:
    """A pinhole when black surrounds it on most sides and it is wide enough to count."""
    if dark_about(scan, levels, box, 0.08, 0.14) < 0.85 or dark_about(scan, levels, box, 0.1, 0.3) < 0.66:
        return None
    diameter = diameter_mm(passed_light(scan, levels, box, black_is_ground=True))
    if not NEAR_LIMIT * limits.pinhole_mm <= diameter <= _LARGEST_PINHOLE_MM:
        return None
    # More light than so small an opening can pass comes from a clear part beside it.
    if diameter > 1.5 * max(box[2:]) * scan.pixel_mm + 2 * scan.pixel_mm:
        return None
    wide = max(0.5, diameter)
    if dark_about(scan, levels, box, 0.1, wide) < 0.55:
        return None
    x, y, width, height = (int(v) for v in box)
    return Finding("pinhole", *pixel_box(x, y, x + width, y + height, scan.pixel_mm), diameter)
