"""The light through a stencil as a share of open mesh: what lies under an uneven table and a coloured coat taken out."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from frimble.core.photo.surfaces import over, terms

# Nothing nearer to an edge of the film than this tells what open mesh or full stencil looks like, mm.
_CLEAR_OF_EDGES_MM = 0.5
# The threads are smoothed away over this, mm.
_THREADS_MM = 0.09
_ROUNDS = 8
# The surface is fitted to cells so large, mm; one counts in full from this share of it on, and not at all under the other.
_CELL_MM, _WHOLE_CELL, _LEAST_OF_CELL, _LEAST_CELLS = 4.0, 0.05, 0.002, 6
# Fine openings, so far inside, tell so much of open mesh, beside broad ones; edges run so far, sigma.
_FINE_MM, _FINE_TELLS, _EDGES_RUN_MM = 0.25, 0.2, 0.15
# How far light waves round a surface of the second degree and how much that slopes and bends over the film, ln, one
# standard deviation each; and how many places of a film are unlike each other: what lies side by side tells the same.
_WAVES, _BENDS, _ALIKE = 0.08, 0.5, 20
# Round each place the surface follows open mesh over so many mm, the widest first, in steps of so many; ratios that
# lie further off than this count little, and so does open mesh that covers less than this share of what is near.
_OPEN_MM, _OPEN_FAR, _STEP_MM, _LITTLE = (45.0, 14.0), 0.25, 1.0, 0.02
# A coat is thick here and thin there: where it passes less than this of open mesh it makes its own level.
_CLOSED_MM, _CLOSED_FAR, _THIN = (45.0, 12.0), 20.0, 0.36


@dataclass(frozen=True)
class Levelled:
    """Light through the stencil.

    Attributes:
        share: (h, w), 0 full stencil to 1 open mesh; NaN where the photo does not reach.
        contrast: light of full stencil ÷ that of open mesh.
        open_noise, closed_noise: spread of the share in open mesh and in full stencil.
    """

    share: np.ndarray
    contrast: float
    open_noise: float
    closed_noise: float


def levelled(straight: np.ndarray, film_open: np.ndarray, px_mm: float) -> Levelled | None:
    """The share of open mesh at each place; None where open mesh and stencil look alike.

    Args:
        straight: (h, w) light over the film. film_open: (h, w) bool.
    """
    smooth = smoothed(straight, px_mm)
    # Of open mesh and of stencil, how far each place lies inside, mm.
    depths = _depth_mm(film_open, px_mm), _depth_mm(~film_open, px_mm)
    inner = depths[0] > _CLEAR_OF_EDGES_MM, depths[1] > _CLEAR_OF_EDGES_MM
    seen = np.isfinite(smooth)
    through, tells = _through_open(smooth, film_open, depths[0], px_mm)
    opened = _surface(through, tells * seen, px_mm, True)
    closed = _surface(smooth, (inner[1] & seen).astype(np.float32), px_mm, False)
    if opened is None or closed is None:
        return None
    opened = _followed(opened, through, tells * seen, px_mm, _OPEN_MM, _OPEN_FAR)
    thin = (inner[1] & seen & (smooth < _THIN * opened)).astype(np.float32)
    closed = _followed(closed, smooth, thin, px_mm, _CLOSED_MM, _CLOSED_FAR)
    contrast = float(np.median(closed / opened))
    if contrast > 0.85:
        return None
    share = (smooth - closed) / (opened - closed)
    spreads = [_spread(share[area & seen], middle) for area, middle in zip(inner, (1.0, 0.0), strict=True)]
    return Levelled(share.astype(np.float32), contrast, *spreads)


def smoothed(straight: np.ndarray, px_mm: float) -> np.ndarray:
    """Without the threads."""
    known = np.isfinite(straight)
    filled = np.where(known, straight, 0).astype(np.float32)
    light, weight = (cv2.GaussianBlur(a, (0, 0), _THREADS_MM * px_mm) for a in (filled, known.astype(np.float32)))
    return np.where(weight > 0.99, light / np.maximum(weight, 1e-6), np.nan)


def _through_open(
    smooth: np.ndarray, film_open: np.ndarray, depth_mm: np.ndarray, px_mm: float
) -> tuple[np.ndarray, np.ndarray]:
    """(light of open mesh, how much each place tells of it): fine openings by what their edges leave, and little."""
    broad = depth_mm > _CLEAR_OF_EDGES_MM
    left = cv2.GaussianBlur(film_open.astype(np.float32), (0, 0), _EDGES_RUN_MM * px_mm)
    through = np.where(broad, smooth, smooth / np.maximum(left, 0.5))
    tells = np.where(broad, 1, np.where(depth_mm > _FINE_MM, _FINE_TELLS, 0))
    return through, tells.astype(np.float32)


def _depth_mm(area: np.ndarray, px_mm: float) -> np.ndarray:
    return np.asarray(cv2.distanceTransform(area.astype(np.uint8), cv2.DIST_L2, 3)) / px_mm


def _surface(smooth: np.ndarray, tells: np.ndarray, px_mm: float, brightest: bool) -> np.ndarray | None:
    """Light as a smooth surface: ln of the second degree, fitted so that faults do not count.

    Args:
        tells: (h, w) how much each pixel says of it.
    """
    light, there = _in_cells(np.where(tells > 0, np.log(np.maximum(smooth, 1e-4)), 0) * tells, tells, px_mm)
    rows, columns = np.nonzero(there > _LEAST_OF_CELL)
    if len(rows) < _LEAST_CELLS:
        return None
    wanted = light[rows, columns] / there[rows, columns]
    trusted = np.minimum(1.0, there[rows, columns] / _WHOLE_CELL)
    at = terms((columns + 0.5) / light.shape[1] - 0.5, (rows + 0.5) / light.shape[0] - 0.5)
    weight = trusted
    fit = np.zeros(at.shape[1])
    # Where no place tells, the surface stays even: how it bends elsewhere says little of there.
    even = np.diag([0.0, *[_WAVES / _BENDS * math.sqrt(len(rows) / _ALIKE)] * (at.shape[1] - 1)])
    for _ in range(_ROUNDS):
        rows_at = np.vstack([at * weight[:, None], even])
        fit = np.linalg.lstsq(rows_at, np.append(wanted * weight, np.zeros(len(even))), rcond=None)[0]
        off = wanted - at @ fit
        scale = max(1.5 * float(np.median(np.abs(off))), 0.02)
        # What is darker than open mesh is blocked, what is brighter than stencil is a hole: both count less.
        faulty = off < 0 if brightest else off > 0
        weight = trusted / (1 + (off / (scale * np.where(faulty, 1.5, 3.0))) ** 2)
    return np.asarray(np.exp(over(fit, smooth.shape)))


def _in_cells(values: np.ndarray, tells: np.ndarray, px_mm: float) -> tuple[np.ndarray, np.ndarray]:
    """Means over cells of `_CELL_MM`: one broad shape shall not outvote all that lies elsewhere."""
    size = tuple(max(1, round(n / (_CELL_MM * px_mm))) for n in values.shape[::-1])
    light, there = (cv2.resize(v.astype(np.float32), size, interpolation=cv2.INTER_AREA) for v in (values, tells))
    return np.asarray(light), np.asarray(there)


def _followed(
    surface: np.ndarray,
    smooth: np.ndarray,
    tells: np.ndarray,
    px_mm: float,
    reaches_mm: Sequence[float],
    far: float,
) -> np.ndarray:
    """The surface bent to what is seen all round a place: lamps of a panel fall off as no polynomial does.

    What lies far off counts little, so that a patch of scum does not make its own level.
    """
    coarse = 1 / (_STEP_MM * px_mm)
    light, level, share = (
        cv2.resize(v.astype(np.float32), None, fx=coarse, fy=coarse, interpolation=cv2.INTER_AREA)
        for v in (np.where(tells > 0, smooth, 0) * tells, surface, tells)
    )
    ratio = light / np.maximum(share * level, 1e-6)
    weight = share / (1 + ((ratio - 1) / far) ** 2)
    follows = np.ones_like(ratio)
    # Where little open mesh is near, what lies further round tells, and where there is none the surface stands.
    for reach_mm in reaches_mm:
        light, known = (cv2.GaussianBlur(v, (0, 0), reach_mm / _STEP_MM) for v in (weight * ratio, weight))
        follows = (light + _LITTLE * follows) / (known + _LITTLE)
    fine = cv2.resize(follows, (surface.shape[1], surface.shape[0]), interpolation=cv2.INTER_LINEAR)
    return np.asarray(surface * fine)


def _spread(share: np.ndarray, middle: float) -> float:
    """Standard deviation of all but the faults; a pattern of the threads in one place counts as well."""
    if not share.size:
        return 0.0
    off = np.abs(share - middle)
    return max(1.4826 * float(np.median(off)), float(np.percentile(off, 95)) / 2)
