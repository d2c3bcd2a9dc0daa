"""Density over the whole sheet, before marks are looked for."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from frimble.core.film.detection import solids
from frimble.core.film.scan import evening
from frimble.core.film.scan.curve import Curve, coding_curve, wedge_curve
from frimble.core.film.scan.grid import Cells, Levels, Scan
from frimble.core.film.wedge.definition import Wedge, checked_wedge
from frimble.core.film.wedge.finding import find_wedge
from frimble.core.film.wedge.patches import measure_patches, straighten

# The wedge's rim and shadow are kept clear by this much.
_WEDGE_MARGIN_MM = 1.5


@dataclass(frozen=True)
class DensityMap:
    """What is known of a scan before marks are looked for; kept so that a page can tell the density under a pointer."""

    scan: Scan
    cells: Cells
    levels: Levels
    curve: Curve
    light: np.ndarray
    density: np.ndarray
    solid: np.ndarray
    left_out: np.ndarray
    notes: tuple[str, ...]


def read_densities(
    scan: Scan, cells: Cells, levels: Levels, wedge: Wedge | None = None, find_wedge_of: Sequence[float] | None = None
) -> DensityMap:
    """Density of every cell of the sheet, and notes on how it was come by.

    Args:
        wedge: a reference wedge where it was placed. find_wedge_of: densities of a wedge to be found; ignored when placed.

    Raises:
        InvalidInput: the wedge is not where it is claimed to be.
    """
    notes = list(scan.notes)
    if scan.artwork:
        wedge = find_wedge_of = None  # a drawn wedge is no measure of a film
    if wedge is not None:
        wedge = straighten(scan, checked_wedge(wedge.x_mm, wedge.y_mm, wedge.patch_mm, wedge.densities))
    elif find_wedge_of:
        wedge = find_wedge(scan, cells, levels, find_wedge_of)
        if wedge:
            wedge = straighten(scan, wedge)
        notes.append(
            f"Wedge found at {wedge.x_mm:.1f}, {wedge.y_mm:.1f} mm."
            if wedge
            else "No wedge was found; densities rest on the scanner's coding alone."
        )
    left_out = _wedge_cells(cells, wedge)
    surface = evening.illumination(scan, cells, levels)
    solid = solids.solid_cells(scan, cells, levels, left_out)
    light, stray = evening.even_light(scan, cells, levels, solid, surface)
    if wedge:
        share = measure_patches(scan, wedge, surface)
        x, y = (wedge.patch_centres_mm() / cells.step_mm).astype(int).T
        share = share - stray[np.clip(y, 0, stray.shape[0] - 1), np.clip(x, 0, stray.shape[1] - 1)]
        curve = wedge_curve(scan, wedge, share, levels.noise)
    else:
        curve = coding_curve(scan)
    if not wedge and not scan.artwork:
        notes.append("No wedge: the scanner's stray light counts against the black.")
    density = curve.over(light)
    return DensityMap(scan, cells, levels, curve, light, density, solid, left_out, tuple(notes))


def _wedge_cells(cells: Cells, wedge: Wedge | None) -> np.ndarray:
    flags = np.zeros(cells.mean.shape, bool)
    if wedge:
        x, y, width, height = wedge.box_mm()
        low, high = (np.array(p) / cells.step_mm for p in ((x, y), (x + width, y + height)))
        margin = _WEDGE_MARGIN_MM / cells.step_mm
        (c0, r0), (c1, r1) = np.maximum(0, low - margin).astype(int), np.ceil(high + margin).astype(int)
        flags[r0:r1, c0:c1] = True
    return flags
