"""Looking for a wedge of known densities on a scan."""

from collections.abc import Sequence

import cv2
import numpy as np

from frimble.core.film.scan.grid import Cells, Levels, Scan
from frimble.core.film.wedge.definition import Wedge
from frimble.core.film.wedge.patches import measure_patches, unevenness


def find_wedge(scan: Scan, cells: Cells, levels: Levels, densities: Sequence[float]) -> Wedge | None:
    """A wedge of these densities somewhere on the scan, or None.

    Looks for a row of even squares, clear to black or black to clear, along rows and columns of cells: the first patch
    that is neither clear nor black starts it. Only wedges that lie along the scan's width are looked for.
    """
    light = cells.light / levels.clear
    grey = ((light < 0.8) & (light > 0.03) & (_evenness(scan, cells) < 0.12)).astype(np.uint8)
    grey = np.asarray(cv2.morphologyEx(grey, cv2.MORPH_OPEN, np.ones((5, 5), np.uint8)))
    count, _, boxes, _ = cv2.connectedComponentsWithStats(cv2.dilate(grey, np.ones((3, 9), np.uint8)))
    best = None
    for x, y, width, height, area in boxes[1:count]:
        if width < 2.5 * height or area < 0.5 * width * height or height < 6:
            continue
        fitted = _fit_steps(scan, cells, (x, y, width, height), densities)
        if fitted and (best is None or fitted[0] < best[0]):
            best = fitted
    return best[1] if best else None


def _evenness(scan: Scan, cells: Cells) -> np.ndarray:
    low, high = scan.light(cells.low), scan.light(cells.high)
    return np.asarray((high - low) / np.maximum(high, 1e-6) * (high > 0.02))


def _fit_steps(
    scan: Scan, cells: Cells, box: tuple[int, int, int, int], densities: Sequence[float]
) -> tuple[float, Wedge] | None:
    """The placing inside a grey strip whose patch means fall most like the densities: (misfit, wedge) or None."""
    x, y, _, height = (v * cells.step_mm for v in box)
    given = np.array(densities)
    tried = []
    for patch in np.linspace(height * 0.7, height * 1.35, 27):
        for start in np.arange(max(0, x - 2.5 * patch), x + 1.5 * patch, patch / 10):
            placed = Wedge(float(start), float(max(0, y + height / 2 - patch / 2)), float(patch), tuple(given))
            misfit = unevenness(scan, placed)
            if misfit is not None:
                tried.append((misfit, placed))
    if not tried:
        return None
    # One patch further along is as even in itself: the fall of its densities tells which is the first.
    bar = 1.6 * min(t[0] for t in tried) + 0.005
    fits = [(_correlation(scan, placed, given), placed) for misfit, placed in tried if misfit <= bar]
    best, placed = max(fits, key=lambda f: f[0])
    return (1 - best, placed) if best > 0.97 else None


def _correlation(scan: Scan, wedge: Wedge, given: np.ndarray) -> float:
    seen = np.log10(np.maximum(measure_patches(scan, wedge), 1e-5))
    return abs(float(np.corrcoef(-seen, given)[0, 1])) if np.ptp(seen) > 0 else 0.0
