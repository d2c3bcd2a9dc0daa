"""Where on the sheet edges can lie: cells among whose neighbours the picture changes."""

import cv2
import numpy as np

from frimble.core.film.scan.grid import Cells, Scan


def edge_cells(scan: Scan, cells: Cells, rise: float, reach_px: int = 1) -> np.ndarray:
    """Cells (rows, columns) of the whole sheet within `reach_px` pixels of which the grey picture differs by more than
    `rise` codes."""
    low, high = scan.in_grey(cells.low), scan.in_grey(cells.high)
    side = 2 * -(-reach_px // cells.side) + 1
    about = np.ones((side, side), np.uint8)
    return with_the_rim(
        cv2.subtract(cv2.dilate(high, about), cv2.erode(low, about)) > rise, scan.codes.shape, cells.side
    )


def most_about(values: np.ndarray) -> np.ndarray:
    """Greatest value of each cell and its neighbours: an edge may fall between two cells."""
    return cv2.dilate(values, np.ones((3, 3), np.uint8))


def with_the_rim(wanted: np.ndarray, shape: tuple[int, ...], cell: int) -> np.ndarray:
    """Cells cut by the right and lower edge of a sheet of that shape were not measured: they are looked at."""
    missing = [(0, -(-n // cell) - m) for n, m in zip(shape, wanted.shape, strict=True)]
    return np.pad(wanted, missing, constant_values=True)
