"""Light on a stencil that comes through no hole: a lamp or a window mirrored in it, which hides what is under it."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass

import cv2
import numpy as np

from frimble.core.stencil.inspection.comparing import Difference, disc
from frimble.core.stencil.inspection.kinds import FindingKind
from frimble.core.stencil.inspection.levelling import Levelled

# Stencil so far from an edge is looked at: places that pass some of the light, but not all of it as a hole does, this wide
# or more. A thin coat passes less.
_CLEAR_MM, _VEIL, _VEIL_MM = 0.5, (0.36, 0.8), 2.0
_LEAST_MM2, _STEP_MM = 12.0, 0.5
# No hole is so large, mm², that it is dim all over.
_LARGEST_HOLE_MM2 = 80.0
# A reflection fades: so far beyond its rim, mm, there is still more light than this.
_RIM_MM, _DARK_RIM = (1.0, 2.0), 0.12
# Round a hole the stencil is dark: this much light there, and this share of the hole's own, comes from elsewhere.
_AROUND_MM, _LEAST_AROUND, _AROUND_SHARE = (0.6, 1.5), 0.12, 0.4
# Cameras blur colour more than light: that of a place tells from this size on, mm², and when white light would stand out by
# this ratio between channels.
_TELLS_MM2, _STANDS_OUT = 1.0, 1.25
# Light nearer to an opening than this may be its own edge's, mm.
_EDGE_MM = 0.3

_LIGHT = FindingKind.PINHOLE, FindingKind.BREAKDOWN


def reflected(
    level: Levelled,
    film: np.ndarray,
    faults: Iterable[Difference],
    px_mm: float,
    passed: Callable[[], Levelled | None],
) -> bool:
    """Whether something is mirrored in the stencil.

    Args:
        film: (h, w) bool, open on the film. faults: what differs from it.
        passed: the same stencil in the channel that it holds back least, worked out when a fault wants it.
    """
    away = np.asarray(cv2.distanceTransform((~film).astype(np.uint8), cv2.DIST_L2, 3)) / px_mm
    if veiled(level, away, px_mm):
        return True
    places = [place for fault in faults if fault.kind in _LIGHT and (place := _place(fault, level, away, px_mm))]
    if any(place.around > max(_LEAST_AROUND, _AROUND_SHARE * place.peak) for place in places):
        return True
    large = [place for place in places if place.core.sum() / px_mm**2 >= _TELLS_MM2]
    return bool(large) and _white(large, level, passed())


@dataclass(frozen=True)
class _Place:
    """Light on the stencil: its window, its pixels in it, the most of it, and what there is all round it."""

    window: tuple[slice, slice]
    core: np.ndarray
    peak: float
    around: float


def _place(fault: Difference, level: Levelled, away_mm: np.ndarray, px_mm: float) -> _Place | None:
    """A fault's light, away from openings; None where it all lies at an edge."""
    margin = _AROUND_MM[1] + 1
    window = _span(fault.y_mm, fault.height_mm, margin, px_mm), _span(fault.x_mm, fault.width_mm, margin, px_mm)
    share, away = np.nan_to_num(level.share[window]), away_mm[window]
    own = _span(fault.y_mm, fault.height_mm, 0, px_mm), _span(fault.x_mm, fault.width_mm, 0, px_mm)
    inside = np.zeros(share.shape, bool)
    inside[tuple(slice(s.start - w.start, s.stop - w.start) for s, w in zip(own, window, strict=True))] = True
    inside &= away > _EDGE_MM
    if not inside.any():
        return None
    peak = float(np.quantile(share[inside], 0.9))
    core = inside & (share > peak / 2)
    near, far = (cv2.dilate(core.astype(np.uint8), disc(mm * px_mm)) > 0 for mm in _AROUND_MM)
    ring = far & ~near & (away > _CLEAR_MM)
    return _Place(window, core, peak, float(np.median(share[ring])) if ring.any() else 0.0)


def _span(at_mm: float, size_mm: float, margin_mm: float, px_mm: float) -> slice:
    return slice(max(0, round((at_mm - margin_mm) * px_mm)), round((at_mm + size_mm + margin_mm) * px_mm))


def _white(places: Iterable[_Place], level: Levelled, passed: Levelled | None) -> bool:
    """Whether light on a place is white: through a hole comes as much more as the stencil holds back, in each channel."""
    if passed is None:
        return False
    stands_out = (1 - level.contrast) / (1 - passed.contrast)
    if stands_out < _STANDS_OUT:
        return False
    for place in places:
        inner = cv2.erode(place.core.astype(np.uint8), disc(2)) > 0
        at = inner if inner.any() else place.core
        here, there = (float(np.nanmedian(of.share[place.window][at])) for of in (level, passed))
        if there > here * stands_out**0.5:
            return True
    return False


def veiled(level: Levelled, away_mm: np.ndarray, px_mm: float) -> bool:
    """Whether light lies over the stencil that neither goes through it nor ends at an edge, as a hole's does.

    Args:
        away_mm: (h, w) from openings.
    """
    closed = (away_mm > _CLEAR_MM) & np.isfinite(level.share)
    dim = closed & (level.share > _VEIL[0]) & (level.share < _VEIL[1])
    coarse = 1 / (_STEP_MM * px_mm)
    share = cv2.resize(dim.astype(np.float32), None, fx=coarse, fy=coarse, interpolation=cv2.INTER_AREA)
    size = 2 * round(_VEIL_MM / _STEP_MM / 2) + 1
    wide = cv2.morphologyEx((share > 0.5).astype(np.uint8), cv2.MORPH_OPEN, np.ones((size, size), np.uint8))
    number, veils, boxes, _ = cv2.connectedComponentsWithStats(wide, connectivity=8)
    size_px = share.shape[1], share.shape[0]
    light = cv2.resize(np.nan_to_num(level.share), size_px, interpolation=cv2.INTER_AREA)
    around = cv2.resize(closed.astype(np.float32), size_px, interpolation=cv2.INTER_AREA) > 0.9
    areas = boxes[:, cv2.CC_STAT_AREA] * _STEP_MM**2
    large = (k for k in range(1, number) if areas[k] > _LEAST_MM2)
    return any(areas[k] > _LARGEST_HOLE_MM2 or _fades(veils == k, light, around) for k in large)


def _fades(veil: np.ndarray, light: np.ndarray, around: np.ndarray) -> bool:
    """Whether light goes on beyond a veil's rim: a hole that the level makes dim ends at once."""
    near, far = (
        cv2.dilate(veil.astype(np.uint8), np.ones((n, n), np.uint8)) > 0
        for n in (2 * round(mm / _STEP_MM) + 1 for mm in _RIM_MM)
    )
    rim = far & ~near & around
    return not rim.any() or float(np.median(light[rim])) > _DARK_RIM
