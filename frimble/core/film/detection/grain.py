"""Grain: areas in which black and clear take turns so densely that no one hole or line in them was made by chance."""

import cv2
import numpy as np

from frimble.core.film.scan.grid import DARK_SHARE, Cells, Levels

# So many of the cells over such a square hold both; at the area's edge, over a smaller one.
_WIDE_MM, _WIDE_SHARE = 4.0, 0.65
_NEAR_MM, _NEAR_SHARE = 1.4, 0.5


def grain_cells(cells: Cells, levels: Levels) -> np.ndarray:
    """Cells (rows, columns) of random halftones and of drawings as fine."""
    bar = DARK_SHARE * levels.clear
    both = ((cells.low_light < bar) & (cells.high_light > bar)).astype(np.float32)
    wide = _side(_WIDE_MM, cells)
    dense = (_share(both, wide) > _WIDE_SHARE).astype(np.uint8)
    about = cv2.dilate(dense, np.ones((wide, wide), np.uint8)).astype(bool)
    return np.asarray(about & (_share(both, _side(_NEAR_MM, cells)) > _NEAR_SHARE))


def _side(length_mm: float, cells: Cells) -> int:
    return max(3, round(length_mm / cells.step_mm) | 1)


def _share(both: np.ndarray, side: int) -> np.ndarray:
    return cv2.blur(both, (side, side), borderType=cv2.BORDER_CONSTANT)
