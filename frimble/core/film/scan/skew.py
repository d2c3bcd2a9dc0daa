"""How far the film lies turned on the scanner's glass, from the direction of its straight edges."""

import cv2
import numpy as np

from frimble.core.film.scan.comparing import compare
from frimble.core.film.scan.grid import Coarser, Scan, shrunk

_PIXEL_MM = 0.17
_MOST_DEG = 8.0
_BINS = 160


def skew_deg(coarser: Coarser, scan: Scan) -> float:
    """Turn of the artwork in degrees, counter-clockwise positive; 0 when no direction stands out.

    Edges of frames, bars and register marks lie along and across the sheet: their direction, modulo 90°, peaks there.
    """
    small = shrunk(coarser.grey, max(1, int(_PIXEL_MM / (scan.pixel_mm * coarser.shrink))))
    # A sharp edge of few pixels points along the grid; blurred a little it points where it lies.
    small = cv2.GaussianBlur(small, (0, 0), 3)
    across = cv2.Sobel(small, cv2.CV_32F, 1, 0, ksize=5)
    down = cv2.Sobel(small, cv2.CV_32F, 0, 1, ksize=5)
    strength = cv2.magnitude(across, down)
    strong = np.flatnonzero(compare(strength, 0.4 * cv2.minMaxLoc(strength)[1], cv2.CMP_GT))
    across, down, strength = (each.ravel()[strong] for each in (across, down, strength))
    # Normals of horizontal edges point down the sheet, of vertical ones across it: one right angle apart.
    turn = -((np.degrees(np.arctan2(down, across)) + 45) % 90 - 45)
    tally, bins = np.histogram(turn, bins=_BINS, range=(-_MOST_DEG, _MOST_DEG), weights=strength)
    smooth = np.convolve(tally, np.ones(5) / 5, mode="same")
    peak = int(smooth.argmax())
    if smooth[peak] < 6 * max(np.median(smooth), 1e-9):
        return 0.0
    near = slice(max(0, peak - 3), peak + 4)
    middles = (bins[:-1] + bins[1:]) / 2
    return float(np.average(middles[near], weights=tally[near] + 1e-9))
