"""Clear film that is not clear: dry patches of an oiled sheet, stains, glue. On the coarse grid of cells."""

import cv2
import numpy as np

from frimble.core.film.findings import Finding
from frimble.core.film.scan.grid import Cells, Levels, Scan

# Denser than the film's own clear by this much before it is a patch and not the scanner; what passes less than a third
# of the clear film's light counts as ink, and a weak area of it is told as such.
_DULLER_BY, _INK_FROM = 0.12, 0.46
# Within a cell an even patch differs by less than this share of its light; dots of a halftone differ by far more.
_EVEN = 0.3
_LEAST_MM2 = 12.0
# The blur beside ink and edges is narrower than this.
_NARROWEST_MM = 1.7


def dull_areas(
    scan: Scan, cells: Cells, levels: Levels, density: np.ndarray, left_out: np.ndarray, dmin: float
) -> list[Finding]:
    """Patches of film without ink that let less light through than the rest of the clear film does.

    Args:
        density: of each cell. left_out: cells of a wedge or a halftone. dmin: of the film's clear.
    """
    even = cells.high_light - cells.low_light < _EVEN * cells.light + scan.light(6 * levels.noise)
    dull = even & ~left_out & (density > dmin + _DULLER_BY) & (density < dmin + _INK_FROM)
    size = max(3, round(_NARROWEST_MM / cells.step_mm))
    mask = cv2.morphologyEx(dull.astype(np.uint8), cv2.MORPH_OPEN, np.ones((size, size), np.uint8))
    mask = cv2.morphologyEx(mask, cv2.MORPH_CLOSE, np.ones((size, size), np.uint8))
    count, labels, boxes, _ = cv2.connectedComponentsWithStats(mask, connectivity=8)
    findings = []
    for k in range(1, count):
        x, y, width, height, area = boxes[k]
        if area * cells.step_mm**2 < _LEAST_MM2:
            continue
        inside = (labels[y : y + height, x : x + width] == k) & dull[y : y + height, x : x + width]
        level = float(np.median(density[y : y + height, x : x + width][inside]))
        step = cells.step_mm
        findings.append(Finding("dull_clear", x * step, y * step, width * step, height * step, level))
    return findings
