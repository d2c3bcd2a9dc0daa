"""Evening a scan's light: the scanner's own fall-off from clear film, and stray light that bright parts throw on black."""

from collections.abc import Callable

import cv2
import numpy as np
from scipy.optimize import nnls

from frimble.core.film.scan.grid import Cells, Levels, Scan

_REACHES_MM = (1.5, 5.0, 15.0)
_COARSER = 6


# How bright the scanner is at x, y in mm, of the mean of the sheet.
Surface = Callable[[float | np.ndarray, float | np.ndarray], np.ndarray]


def illumination(scan: Scan, cells: Cells, levels: Levels) -> Surface:
    """The scanner's light over the sheet as a function of x, y in mm, 1 where clear film is at its level.

    A quadratic surface through clear cells; flat when clear film does not reach over the sheet.
    """
    light = cells.light
    clear = (cells.low_light > 0.6 * levels.clear) & (np.abs(light / levels.clear - 1) < 0.35)
    rows, columns = np.nonzero(clear)
    width, height = scan.size_mm
    step = cells.step_mm
    if len(rows) < 200 or np.ptp(rows) < 0.6 * cells.mean.shape[0] or np.ptp(columns) < 0.6 * cells.mean.shape[1]:
        return lambda x, y: np.ones(np.broadcast(x, y).shape)
    keep = slice(None, None, max(1, len(rows) // 20000))
    u, v = _unit((columns[keep] + 0.5) * step, width), _unit((rows[keep] + 0.5) * step, height)
    level = light[rows[keep], columns[keep]] / levels.clear
    terms = _terms(u, v)
    weights = np.ones_like(level)
    for _ in range(3):  # cells with a speck or a faint mark lose their say
        solved, *_ = np.linalg.lstsq(terms * weights[:, None], level * weights, rcond=None)
        miss = np.abs(terms @ solved - level)
        weights = (miss < 3 * np.median(miss) + 1e-4).astype(float)

    def at(x: float | np.ndarray, y: float | np.ndarray) -> np.ndarray:
        surface = np.tensordot(_terms(_unit(np.asarray(x), width), _unit(np.asarray(y), height)), solved, (-1, 0))
        return np.asarray(np.clip(surface, 0.3, 2.0))

    return at


def _unit(value: np.ndarray, whole: float) -> np.ndarray:
    return 2 * value / whole - 1


def _terms(u: float | np.ndarray, v: float | np.ndarray) -> np.ndarray:
    u, v = np.broadcast_arrays(u, v)
    return np.stack([np.ones_like(u), u, v, u * u, u * v, v * v], axis=-1)


def even_light(
    scan: Scan, cells: Cells, levels: Levels, solid: np.ndarray, surface: Surface
) -> tuple[np.ndarray, np.ndarray]:
    """Share of white of every cell, evened; and the stray light taken off it beyond the sheet's mean.

    Args:
        solid: cells well inside black, shape as cells. surface: `illumination`'s result.
    """
    rows, columns = cells.mean.shape
    step = cells.step_mm
    # So smooth a surface is as good drawn up from a coarser grid.
    shape = (max(2, rows // _COARSER), max(2, columns // _COARSER))
    x = (np.arange(shape[1]) + 0.5) * columns * step / shape[1]
    y = (np.arange(shape[0]) + 0.5) * rows * step / shape[0]
    fall = surface(x[None, :], y[:, None]).astype(np.float32)
    light = cells.light / cv2.resize(fall, (columns, rows), interpolation=cv2.INTER_LINEAR)
    stray = _stray(light, solid, step)
    return light - stray, stray


def _blurred(light: np.ndarray, sigma: float) -> np.ndarray:
    """Deviation of the blurred light from its mean; so wide a blur is as good on a coarser grid."""
    coarse = max(1, int(sigma / 2))
    shape = (max(1, light.shape[1] // coarse), max(1, light.shape[0] // coarse))
    small = cv2.resize(light, shape, interpolation=cv2.INTER_AREA)
    small = cv2.GaussianBlur(small, (0, 0), sigma / coarse, borderType=cv2.BORDER_REPLICATE)
    return np.asarray(cv2.resize(small - small.mean(), light.shape[::-1], interpolation=cv2.INTER_LINEAR))


def _stray(light: np.ndarray, solid: np.ndarray, step_mm: float) -> np.ndarray:
    """Light thrown on the black by clear parts near it, fitted to the solids themselves; weak areas are left out."""
    nothing = np.zeros_like(light)
    if solid.sum() < 300:
        return nothing
    shares = [_blurred(light, reach / step_mm) for reach in _REACHES_MM]
    places = np.flatnonzero(solid)
    places = places[:: max(1, len(places) // 20000)]
    level, thrown = light.ravel()[places], [share.ravel()[places] for share in shares]
    terms = np.column_stack([np.ones_like(level), *(t - min(0.0, float(t.min())) for t in thrown)])
    use = level <= np.quantile(level, 0.9)
    for _ in range(4):
        # The triangle of a QR has the same least squares in five rows.
        triangle = np.asarray(np.linalg.qr(np.column_stack([terms[use], level[use]]), mode="r"))
        solved, _ = nnls(triangle[:, :-1], triangle[:, -1])
        miss = level - terms @ solved
        spread = 1.4826 * np.median(np.abs(miss[use])) + 1e-6
        use = np.abs(miss) < 3 * spread
        if use.sum() < 100:
            return nothing
    explained = 1 - np.var(level[use] - terms[use] @ solved) / max(np.var(level[use]), 1e-18)
    if explained < 0.3:
        return nothing
    return np.asarray(sum(c * s for c, s in zip(solved[1:], shares, strict=True)))
