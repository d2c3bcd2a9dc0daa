"""A photo of a finished stencil against its film: faults with their places, or a refusal with its reason."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from time import perf_counter

import cv2
import numpy as np

from frimble.core.photo.lens import Camera, Lens
from frimble.core.stencil.inspection import finding
from frimble.core.stencil.inspection.comparing import OPEN, Difference, Limits, differences, sharpness_mm
from frimble.core.stencil.inspection.levelling import Levelled, levelled

# Pixels a mm that the stencil is judged with.
_PX_MM = 10.0
_LEAST_SEEN, _MOST_BLUR_MM = 0.5, 0.3
# Film and stencil agree at fewer places than this: it is another film.
_LEAST_ALIKE = 0.8
# Stencil so far from an edge is looked at for reflections: places that pass some of the light, but not all of it as a hole
# does, this wide or more. A thin coat passes less.
_CLEAR_MM, _VEIL, _VEIL_MM = 0.5, (0.36, 0.8), 2.0
_LEAST_GLARE_MM2, _GLARE_STEP_MM = 12.0, 0.5
# No hole is so large, mm², that it is dim all over.
_LARGEST_HOLE_MM2 = 80.0
# A reflection fades: so far beyond its rim, mm, there is still more light than this.
_RIM_MM, _DARK_RIM = (1.0, 2.0), 0.12


@dataclass(frozen=True)
class Inspection:
    """What a photo says of a stencil.

    Attributes:
        refused: the reason where nothing can be said; "" else. side: that the photo shows, "print" or "squeegee".
        seen_share: of the film's area, 0..1. seconds: that the work took.
        straight: (h, w) uint8, the stencil laid over the film, open mesh bright; None where it was refused. px_mm: of it.
    """

    refused: str
    side: str
    seen_share: float
    findings: tuple[Difference, ...] = ()
    seconds: float = 0.0
    straight: np.ndarray | None = None
    px_mm: float = _PX_MM

    @property
    def passed(self) -> bool:
        return not self.refused and not self.findings


def inspect(
    photo: np.ndarray, film_open: np.ndarray, dpi: float, limits: Limits, corners: Sequence[tuple[float, float]] = ()
) -> Inspection:
    """Compare a stencil with its film.

    Args:
        photo: (h, w, 3) uint8 sRGB, of the dry screen against an even light, from either side.
        film_open: (h, w) bool, black of the film. dpi: of the film.
        corners: photo pixels of the film's top left, top right, bottom right, bottom left; found by its shapes without them.
    """
    began = perf_counter()
    result = _inspected(photo, film_open, dpi / 25.4, limits, corners)
    return replace(result, seconds=perf_counter() - began)


def _inspected(
    photo: np.ndarray, film_open: np.ndarray, film_px_mm: float, limits: Limits, corners: Sequence[tuple[float, float]]
) -> Inspection:
    light = finding.light_of(photo)
    found = (
        _by_corners(corners, photo, film_open, film_px_mm)
        if corners
        else finding.find_film(light, film_open, film_px_mm)
    )
    if found is None:
        return _refusal(
            "The film's image is not found in the photo: another film, too blurred, or too little of it in view."
        )
    side = "print" if found.mirrored else "squeegee"
    straight = finding.refined(light, found, film_open, film_px_mm, _PX_MM)
    shape = straight.shape
    open_share = cv2.resize(film_open.astype(np.float32), (shape[1], shape[0]), interpolation=cv2.INTER_AREA)
    film = open_share > OPEN
    seen = float(np.isfinite(straight).mean())
    if seen < _LEAST_SEEN:
        return _refusal(f"Only {seen:.0%} of the film's image is in the photo: take it whole.", side, seen)
    level = levelled(straight, film, _PX_MM)
    if level is None or _alike(level, film) < _LEAST_ALIKE:
        return _refusal("What the photo shows is not this film's stencil.", side, seen)
    spread = sharpness_mm(level.share, film, _PX_MM)
    if not spread <= _MOST_BLUR_MM:
        return _refusal(
            "The photo is blurred: hold the phone still, nearer, and tap on the stencil to focus.", side, seen
        )
    if _glares(level, film):
        return _refusal("Light is reflected over the image: move the lamp or the phone so that it goes.", side, seen)
    faults = tuple(differences(level, open_share, _PX_MM, spread, limits))
    drawn = (np.clip(np.nan_to_num(level.share), 0, 1.2) / 1.2 * 255).astype(np.uint8)
    return Inspection("", side, seen, faults, straight=drawn)


def _refusal(reason: str, side: str = "", seen: float = 0.0) -> Inspection:
    return Inspection(reason, side, seen)


def _by_corners(
    corners: Sequence[tuple[float, float]], photo: np.ndarray, film_open: np.ndarray, film_px_mm: float
) -> finding.Found:
    high, wide = (n / film_px_mm for n in film_open.shape)
    there = np.array([[0, 0], [wide, 0], [wide, high], [0, high]], np.float32)
    here = np.array(corners, np.float32)
    homography = cv2.getPerspectiveTransform(there, here).astype(np.float64)
    x, y = here[:, 0], here[:, 1]
    turned_over = float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) < 0
    return finding.Found(Camera(homography, Lens.straight(photo.shape)), turned_over, len(corners))


def _alike(level: Levelled, film: np.ndarray) -> float:
    """Share of places, open and closed weighed alike, that are as the film says."""
    known = np.isfinite(level.share)
    open_right = float((level.share[known & film] > 0.5).mean()) if (known & film).any() else 0.0
    closed_right = float((level.share[known & ~film] < 0.5).mean()) if (known & ~film).any() else 0.0
    return (open_right + closed_right) / 2


def _glares(level: Levelled, film: np.ndarray) -> bool:
    """Whether light lies over the stencil that neither goes through it nor ends at an edge, as a hole's does."""
    closed = (cv2.distanceTransform((~film).astype(np.uint8), cv2.DIST_L2, 3) > _CLEAR_MM * _PX_MM) & np.isfinite(
        level.share
    )
    veiled = closed & (level.share > _VEIL[0]) & (level.share < _VEIL[1])
    coarse = 1 / (_GLARE_STEP_MM * _PX_MM)
    share = cv2.resize(veiled.astype(np.float32), None, fx=coarse, fy=coarse, interpolation=cv2.INTER_AREA)
    size = 2 * round(_VEIL_MM / _GLARE_STEP_MM / 2) + 1
    wide = cv2.morphologyEx((share > 0.5).astype(np.uint8), cv2.MORPH_OPEN, np.ones((size, size), np.uint8))
    number, veils, boxes, _ = cv2.connectedComponentsWithStats(wide, connectivity=8)
    size_px = share.shape[1], share.shape[0]
    light = cv2.resize(np.nan_to_num(level.share), size_px, interpolation=cv2.INTER_AREA)
    around = cv2.resize(closed.astype(np.float32), size_px, interpolation=cv2.INTER_AREA) > 0.9
    areas = boxes[:, cv2.CC_STAT_AREA] * _GLARE_STEP_MM**2
    large = (k for k in range(1, number) if areas[k] > _LEAST_GLARE_MM2)
    return any(areas[k] > _LARGEST_HOLE_MM2 or _fades(veils == k, light, around) for k in large)


def _fades(veil: np.ndarray, light: np.ndarray, around: np.ndarray) -> bool:
    """Whether light goes on beyond a veil's rim: a hole that the level makes dim ends at once."""
    near, far = (
        cv2.dilate(veil.astype(np.uint8), np.ones((n, n), np.uint8)) > 0
        for n in (2 * round(mm / _GLARE_STEP_MM) + 1 for mm in _RIM_MM)
    )
    rim = far & ~near & around
    return not rim.any() or float(np.median(light[rim])) > _DARK_RIM
