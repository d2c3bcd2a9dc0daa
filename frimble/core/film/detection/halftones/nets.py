"""Holes that light joins: where the dots of a tint almost touch, it leaks between them, and holes hang together in nets or
by twos and threes."""

import cv2
import numpy as np

from frimble.core.film.detection.components import Components, components_of
from frimble.core.film.scan.grid import MARK_MM, Levels, Scan, grey_code, odd_pixels

# A net is no smaller, and fills so much of its box.
_LEAST_MM, _FULL = 3.0, (0.35, 0.9)
# Its holes are brighter than the leaks between them: such a share of the brightest so near.
_NEAR_MM, _SHARES = 0.6, (0.9, 0.75)
# A dozen holes or more, most of them of one size, are a tint's.
_FEWEST, _MOST_ALIKE = 12, 0.6
# Where so many shapes are small, those so much larger than the usual are looked at for holes that hang together: they are
# brighter than such a share of the brightest near them, and of the usual size, least and most.
_MANY, _JOINED_FROM, _JOINED_SHARE, _ONE_SIZE = 40, 1.7, 0.5, (0.2, 1.7)


def nets_of(part: np.ndarray, found: Components, scan: Scan, levels: Levels) -> dict[int, Components]:
    """Shape → the holes that it joins, placed from the corner of its box; of those shapes that are nets.

    Args:
        part: piece of the grey picture in which the bright shapes were found.
    """
    full = found.areas / found.boxes[:, 2:].prod(axis=1)
    large = found.boxes[:, 2:].min(axis=1) > _LEAST_MM / scan.pixel_mm
    told = {}
    for k in np.flatnonzero(large & (full > _FULL[0]) & (full < _FULL[1])):
        x, y, wide, high = (int(v) for v in found.boxes[k])
        if holes := _holes_of(part[y : y + high, x : x + wide], found.drawn(int(k)), scan, levels):
            told[int(k)] = holes
    return told


def joined_holes(
    part: np.ndarray, found: Components, scan: Scan, levels: Levels
) -> tuple[np.ndarray, Components, np.ndarray]:
    """Holes that hang together by twos and threes.

    Returns:
        (n,) True for the shapes that join holes; brighter shapes of the piece of the picture; (m,) True for those of them
        that are these holes.
    """
    nothing = np.zeros(len(found.areas), bool), found, np.zeros(len(found.areas), bool)
    small = found.areas[found.boxes[:, 2:].max(axis=1, initial=0) * scan.pixel_mm <= MARK_MM]
    if len(small) < _MANY:
        return nothing
    one = float(np.median(small))
    large = found.areas > _JOINED_FROM * one
    if large.sum() < _FEWEST:
        return nothing
    bright = components_of(_brightest_near(part, scan, levels, _JOINED_SHARE))
    alike = (bright.areas > _ONE_SIZE[0] * one) & (bright.areas < _ONE_SIZE[1] * one)
    column, row = np.rint(bright.centres).astype(int).T
    shape = found.at(column, row)
    inside = (shape >= 0) & large[np.maximum(shape, 0)]
    holds, all_alike = (np.bincount(shape[inside & kind], minlength=len(large)) for kind in (inside, alike))
    joins = (holds > 1) & (all_alike == holds)
    return joins, bright, inside & joins[np.maximum(shape, 0)]


def _brightest_near(window: np.ndarray, scan: Scan, levels: Levels, share: float) -> np.ndarray:
    """Mask of what is brighter than a share of the brightest near it."""
    reach = odd_pixels(_NEAR_MM, scan)
    brightest = cv2.dilate(window, np.ones((reach, reach), np.uint8))
    black, codes = grey_code(levels.black), np.arange(256)
    bar = np.clip(black + share * (codes - black), 0, 255).astype(np.uint8)
    return cv2.compare(window, cv2.LUT(brightest, bar), cv2.CMP_GT)


def _holes_of(window: np.ndarray, net: np.ndarray, scan: Scan, levels: Levels) -> Components | None:
    """The holes at the share of the brightest near them at which most come apart; None where the shape is no net."""
    best, most = None, _FEWEST - 1
    for share in _SHARES:
        holes = components_of(_brightest_near(window, scan, levels, share) & (255 * net))
        if len(holes.areas) < _FEWEST:
            break  # at a smaller share there are fewer still
        alike = _alike(holes, odd_pixels(MARK_MM, scan))
        if alike > most and alike > _MOST_ALIKE * len(holes.areas):
            best, most = holes, alike
    return best


def _alike(holes: Components, side: int) -> int:
    """How many are small and of one size."""
    middle = float(np.median(holes.areas))
    small = (holes.boxes[:, 2:] <= side).all(axis=1)
    return int((small & (holes.areas > 0.4 * middle) & (holes.areas < 2.5 * middle)).sum())
