"""Nets of holes: where the dots of a tint almost touch, light leaks between them and joins the holes that they leave."""

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


def _holes_of(window: np.ndarray, net: np.ndarray, scan: Scan, levels: Levels) -> Components | None:
    """The holes at the share of the brightest near them at which most come apart; None where the shape is no net."""
    reach = odd_pixels(_NEAR_MM, scan)
    brightest = cv2.dilate(window, np.ones((reach, reach), np.uint8))
    black, codes = grey_code(levels.black), np.arange(256)
    best, most = None, _FEWEST - 1
    for share in _SHARES:
        bar = np.clip(black + share * (codes - black), 0, 255).astype(np.uint8)
        holes = components_of(cv2.compare(window, cv2.LUT(brightest, bar), cv2.CMP_GT) & (255 * net))
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
