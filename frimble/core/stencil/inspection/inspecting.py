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
from frimble.core.stencil.inspection.reflections import reflected

# Pixels a mm that the stencil is judged with.
_PX_MM = 10.0
_LEAST_SEEN, _MOST_BLUR_MM = 0.5, 0.3
# Film and stencil agree at fewer places than this: it is another film.
_LEAST_ALIKE = 0.8


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
    straight, found = finding.refined(light, found, film_open, film_px_mm, _PX_MM)
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
    faults = tuple(differences(level, open_share, _PX_MM, spread, limits))
    if reflected(level, film, faults, _PX_MM, lambda: _passed(photo, found, film)):
        return _refusal("Light is reflected over the image: move the lamp or the phone so that it goes.", side, seen)
    drawn = (np.clip(np.nan_to_num(level.share), 0, 1.2) / 1.2 * 255).astype(np.uint8)
    return Inspection("", side, seen, faults, straight=drawn)


def _passed(photo: np.ndarray, found: finding.Found, film: np.ndarray) -> Levelled | None:
    """The stencil over the film in the channel that it holds back least."""
    light = finding.light_of(photo, most=True)
    return levelled(finding.laid_straight(light, found, film.shape, _PX_MM), film, _PX_MM)


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
