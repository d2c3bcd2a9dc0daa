"""Large blacks: the film's density, weak areas in it, and banding across it. All on the coarse grid of cells."""

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from scipy import ndimage

from frimble.core.film.findings import Finding, Limits
from frimble.core.film.scan.grid import DARK_SHARE, Cells, Levels, Scan

_LEAST_WEAK_MM2 = 1.0
# Weaker than the film's own black by this much before it is an area and not the film.
_WEAKER_BY = 0.12
# A large area can be told from the black a little beyond where its density can be measured.
_TOLD_APART = 0.3
_STRIP_MM = 6.0
_LEAST_BANDS = 3
_BAND_DEPTH = 0.08
_WIDEST_BAND_MM = 6.0
_LEAST_SOLID_MM = 6.0


@dataclass(frozen=True)
class Black:
    """The film's black: share of white through it, and the share's spread from cell to cell."""

    light: float
    spread: float


def solid_cells(scan: Scan, cells: Cells, levels: Levels, left_out: np.ndarray) -> np.ndarray:
    """Cells well inside black: they and all their neighbours are dark to the last pixel, and no mark crosses them."""
    dark = (cells.high < scan.code(DARK_SHARE * levels.clear)) & ~left_out
    # A scratch too narrow to look clear is a mark, not a weak area.
    even = cells.high_light - cells.light < 0.04 * levels.clear + scan.light(7 * levels.noise)
    dark = (dark & even).astype(np.uint8)
    return cv2.erode(dark, np.ones((3, 3), np.uint8), borderValue=0).astype(bool)


def black_of(light: np.ndarray, solid: np.ndarray) -> Black | None:
    """The black most of the solids share; weak areas and bands have no say. None when there is no solid."""
    level = light[solid]
    if level.size < 4:
        return None
    centre = np.quantile(level, 0.35)
    spread = 1.4826 * np.median(centre - level[level <= centre]) + 1e-7
    for _ in range(3):
        near = level[np.abs(level - centre) < 3 * spread]
        if near.size < 4:
            break
        centre, spread = near.mean(), max(near.std(), 1e-7)
    return Black(float(centre), float(spread))


def weak_areas(
    density: np.ndarray, solid: np.ndarray, step_mm: float, dmax: float, dmin: float, ceiling: float, limits: Limits
) -> list[Finding]:
    """Areas of the solids weaker than wanted and than the film's own black.

    Args:
        density: of each cell. solid: cells inside black. ceiling: densest value the scan can tell.
    """
    smooth = _mean_over(density, solid, 3)
    bar = min(limits.least_density + dmin - 0.02, dmax - _WEAKER_BY, ceiling + _TOLD_APART)
    weak = (smooth < bar) & solid
    weak = cv2.morphologyEx(weak.astype(np.uint8), cv2.MORPH_CLOSE, np.ones((5, 5), np.uint8))
    weak = cv2.morphologyEx(weak, cv2.MORPH_OPEN, np.ones((2, 2), np.uint8))
    count, labels, boxes, _ = cv2.connectedComponentsWithStats(weak, connectivity=8)
    findings = []
    for k in range(1, count):
        x, y, width, height, area = boxes[k]
        if area * step_mm**2 < _LEAST_WEAK_MM2:
            continue
        inside = (labels[y : y + height, x : x + width] == k) & solid[y : y + height, x : x + width]
        level = float(np.quantile(smooth[y : y + height, x : x + width][inside], 0.1)) if inside.any() else float(bar)
        # The rim of a solid cell was worn off: give it back.
        findings.append(_cell_box("weak_area", x - 1, y - 1, x + width + 1, y + height + 1, level, step_mm))
    return findings


def _mean_over(values: np.ndarray, mask: np.ndarray, size: int) -> np.ndarray:
    """Mean of `values` over a square, of masked cells only."""
    kernel = (size, size)
    weight = cv2.blur(mask.astype(np.float32), kernel)
    total = cv2.blur(np.where(mask, values, 0).astype(np.float32), kernel)
    return total / np.maximum(weight, 1e-6)


def banding(density: np.ndarray, solid: np.ndarray, step_mm: float) -> list[Finding]:
    """Regular weak bands along or across the sheet, as a blocked nozzle leaves them."""
    along = _bands_down(density, solid, step_mm)
    across = [
        Finding("banding", f.y_mm, f.x_mm, f.height_mm, f.width_mm, f.value)
        for f in _bands_down(np.ascontiguousarray(density.T), np.ascontiguousarray(solid.T), step_mm)
    ]
    return along + across


def _bands_down(density: np.ndarray, solid: np.ndarray, step_mm: float) -> list[Finding]:
    """Bands that lie along rows, met one after another down the sheet."""
    strip = round(_STRIP_MM / step_mm)
    boxes = []
    lefts = range(0, solid.shape[1] - strip // 2, strip)
    held_in = np.add.reduceat(solid, lefts, axis=1, dtype=np.int32) if lefts else np.zeros((len(solid), 0), np.int32)
    for left, held in zip(lefts, held_in.T, strict=True):
        part = solid[:, left : left + strip]
        long = [(a, b) for a, b in _runs(held >= strip * 0.5) if (b - a) * step_mm >= _LEAST_SOLID_MM]
        if not long:
            continue
        values = density[:, left : left + strip] * part
        profile = values.sum(axis=1) / np.maximum(held, 1)
        spread = np.sqrt(np.maximum(np.einsum("rc,rc->r", values, values) / np.maximum(held, 1) - profile**2, 0))
        doubt = spread / np.sqrt(np.maximum(held, 1))
        boxes += [
            (left, top + first, left + strip, top + last, depth)
            for top, low in long
            for first, last, depth in _bands_in(profile[top:low], doubt[top:low], step_mm)
        ]
    wide_enough = (box for box in _joined(boxes) if box[2] - box[0] > strip)
    return [_cell_box("banding", left, top, right, low, depth, step_mm) for left, top, right, low, depth in wide_enough]


def _bands_in(profile: np.ndarray, doubt: np.ndarray, step_mm: float) -> list[tuple[int, int, float]]:
    """(first cell, last cell, depth) of each stretch of a density profile, known within `doubt`, that has regular bands."""
    smooth = _running_median(profile, round(12 / step_mm))
    weaker = smooth - profile
    bar = max(_BAND_DEPTH, 4.5 * float(np.median(doubt)))
    runs = [(a, b) for a, b in _runs(weaker > bar) if (b - a) * step_mm < _WIDEST_BAND_MM]
    if len(runs) < _LEAST_BANDS:
        return []
    middles = np.array([np.average(np.arange(a, b), weights=weaker[a:b]) for a, b in runs])
    stretches, start = [], 0
    for k in range(1, len(middles) + 1):
        gap = np.median(np.diff(middles[start : max(k, start + 2)])) if k > start + 1 else None
        ends = k == len(middles) or (gap and abs(middles[k] - middles[k - 1] - gap) > 0.35 * gap + 1)
        if ends:
            if k - start >= _LEAST_BANDS:
                depth = float(np.median([weaker[a:b].max() for a, b in runs[start:k]]))
                half = int(max(0, (gap or 0) // 4))
                stretches.append((max(0, runs[start][0] - half), min(len(profile), runs[k - 1][1] + half), depth))
            start = k
    return stretches


def _running_median(profile: np.ndarray, size: int) -> np.ndarray:
    half = max(1, size // 2)
    ends = "mirror" if len(profile) > half else "nearest"
    return np.asarray(ndimage.median_filter(profile, 2 * half + 1, mode=ends))


def _runs(flags: np.ndarray) -> list[tuple[int, int]]:
    """(first, past the last) of each run of True."""
    padded = np.zeros(len(flags) + 2, bool)
    padded[1:-1] = flags
    edges = np.flatnonzero(padded[1:] != padded[:-1])
    return list(zip(edges[::2], edges[1::2], strict=True))


def _joined(boxes: Sequence[tuple[int, int, int, int, float]]) -> list[list[float]]:
    """Boxes of neighbouring strips that overlap in height, as one."""
    joined: list[list[float]] = []
    for left, top, right, low, depth in sorted(boxes):
        for other in joined:
            overlap = min(other[3], low) - max(other[1], top)
            if other[2] == left and overlap > 0.4 * min(other[3] - other[1], low - top):
                other[1], other[2], other[3] = min(other[1], top), right, max(other[3], low)
                other[4] = max(other[4], depth)
                break
        else:
            joined.append([left, top, right, low, depth])
    return joined


def _cell_box(kind: str, left: float, top: float, right: float, low: float, value: float, step_mm: float) -> Finding:
    x, y = max(0, left) * step_mm, max(0, top) * step_mm
    return Finding(kind, x, y, right * step_mm - x, low * step_mm - y, float(value))


def explained_by(weak: Finding, bands: Finding, dmax: float) -> bool:
    """Whether a weak area is one or several of these bands: in their box, and either as thin or no weaker than they are."""
    x, y = weak.x_mm + weak.width_mm / 2, weak.y_mm + weak.height_mm / 2
    inside = (
        bands.x_mm - 2 <= x <= bands.x_mm + bands.width_mm + 2
        and bands.y_mm - 2 <= y <= bands.y_mm + bands.height_mm + 2
    )
    thin = min(weak.width_mm, weak.height_mm) < _WIDEST_BAND_MM / 2 < max(weak.width_mm, weak.height_mm)
    return inside and (thin or weak.value > dmax - 1.6 * bands.value)
