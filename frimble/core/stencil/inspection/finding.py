"""Where a film's image lies in a photo of its stencil: by its own shapes, from either side, in any turn."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import cv2
import numpy as np

from frimble.core.stencil.inspection.surfaces import over, second_degree

# Long side, px, of the pictures that shapes are looked for in.
_SMALL = 1100
_SHAPES, _ALIKE = 6000, 0.82
# Within so many px of the small picture two shapes are one place; so many must agree.
_NEAR, _LEAST = 3.0, 14
# Tiles along each side in which the image is put right after it was laid straight, and how far one may lie off, mm.
_TILES, _FAR_MM = 9, 1.2


@dataclass(frozen=True)
class Found:
    """Where the film lies.

    Attributes:
        homography: (3, 3) from mm of the film to pixels of the photo. mirrored: the photo shows the print side.
        agreeing: shapes that say so.
    """

    homography: np.ndarray
    mirrored: bool
    agreeing: int


def light_of(photo: np.ndarray) -> np.ndarray:
    """(h, w) float32, light of the channel that the stencil takes most of, 0..1.

    Args:
        photo: (h, w, 3) uint8, sRGB.
    """
    red, green, blue = cv2.split(photo)
    darkest = cv2.min(cv2.min(red, green), blue)
    codes = np.arange(256) / 255.0
    linear = np.where(codes <= 0.04045, codes / 12.92, ((codes + 0.055) / 1.055) ** 2.4).astype(np.float32)
    return np.asarray(cv2.LUT(darkest, linear))


def find_film(light: np.ndarray, film_open: np.ndarray, px_mm: float) -> Found | None:
    """Where the film lies in the light; None where its shapes are not found.

    Args:
        light: (h, w) of the photo. film_open: (h, w) bool, black of the film. px_mm: its pixels a mm.
    """
    seen, seen_scale = _small(np.sqrt(np.clip(light, 0, 1)))
    film, film_scale = _small(film_open.astype(np.float32))
    shapes = cv2.SIFT.create(nfeatures=_SHAPES, contrastThreshold=0.02)
    in_photo = shapes.detectAndCompute(seen, None)
    best: Found | None = None
    for mirrored in (False, True):
        drawn = np.ascontiguousarray(film[:, ::-1]) if mirrored else film
        laid = _matched(shapes.detectAndCompute(drawn, None), in_photo)
        if laid is None:
            continue
        homography, agreeing = laid
        to_mm = np.diag([px_mm * film_scale, px_mm * film_scale, 1.0])
        turned = np.array([[-1.0, 0, film.shape[1]], [0, 1, 0], [0, 0, 1]]) if mirrored else np.eye(3)
        whole = np.diag([1 / seen_scale, 1 / seen_scale, 1.0]) @ homography @ turned @ to_mm
        if best is None or agreeing > best.agreeing:
            best = Found(whole / whole[2, 2], mirrored, agreeing)
    return best


# Key points and what each looks like.
_Shapes = tuple[Any, Any]


def _small(picture: np.ndarray) -> tuple[np.ndarray, float]:
    """An 8-bit copy with a long side of `_SMALL` px, and its scale."""
    scale = min(1.0, _SMALL / max(picture.shape))
    size = round(picture.shape[1] * scale), round(picture.shape[0] * scale)
    reduced = cv2.resize(np.asarray(picture, np.float32), size, interpolation=cv2.INTER_AREA)
    smooth = cv2.GaussianBlur(reduced, (0, 0), 1.2)
    low, high = np.percentile(smooth, (1, 99))
    stretched = np.clip((smooth - low) / max(high - low, 1e-6), 0, 1)
    return (stretched * 255).astype(np.uint8), scale


def _matched(film: _Shapes, photo: _Shapes) -> tuple[np.ndarray, int] | None:
    """(homography from film to photo, shapes that agree), both in small pixels."""
    (film_points, film_looks), (photo_points, photo_looks) = film, photo
    if film_looks is None or photo_looks is None or len(film_points) < 8 or len(photo_points) < 8:
        return None
    pairs = cv2.FlannBasedMatcher({"algorithm": 1, "trees": 4}, {"checks": 48}).knnMatch(film_looks, photo_looks, k=2)
    good = [p[0] for p in pairs if len(p) == 2 and p[0].distance < _ALIKE * p[1].distance]
    if len(good) < _LEAST:
        return None
    there = np.array([film_points[m.queryIdx].pt for m in good], np.float32)
    here = np.array([photo_points[m.trainIdx].pt for m in good], np.float32)
    homography, agree = cv2.findHomography(there, here, cv2.USAC_MAGSAC, _NEAR, maxIters=8000, confidence=0.999)
    if homography is None or int(agree.sum()) < _LEAST or not _sound(homography, there):
        return None
    # Shapes of one place count once: a halftone repeats itself.
    places = {(round(x / 12), round(y / 12)) for (x, y), a in zip(there, agree.ravel(), strict=True) if a}
    return (homography, len(places)) if len(places) >= _LEAST else None


def _sound(homography: np.ndarray, points: np.ndarray) -> bool:
    """Whether a camera could see it so: not turned over, not squeezed flat, not far nearer at one end."""
    box = np.array(
        [
            points.min(0),
            [points[:, 0].max(), points[:, 1].min()],
            points.max(0),
            [points[:, 0].min(), points[:, 1].max()],
        ]
    )
    seen = cv2.perspectiveTransform(box[None].astype(np.float64), homography)[0]
    sides = np.linalg.norm(np.roll(seen, -1, 0) - seen, axis=1)
    area, was = _area(seen), _area(box)
    even = sides.min() > 0.02 * sides.max() and min(sides[0], sides[2]) > 0.6 * max(sides[0], sides[2])
    return bool(area * was > 0 and even and min(sides[1], sides[3]) > 0.6 * max(sides[1], sides[3]))


def _area(corners: np.ndarray) -> float:
    x, y = corners[:, 0], corners[:, 1]
    return float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2


def laid_straight(light: np.ndarray, homography: np.ndarray, shape: tuple[int, int], px_mm: float) -> np.ndarray:
    """(h, w) the photo's light over the film's area, `px_mm` pixels a mm; NaN where the photo does not reach."""
    to_photo = homography @ np.diag([1 / px_mm, 1 / px_mm, 1.0]) @ np.array([[1, 0, 0.5], [0, 1, 0.5], [0, 0, 1.0]])
    to_photo = np.array([[1, 0, -0.5], [0, 1, -0.5], [0, 0, 1.0]]) @ to_photo
    size = (shape[1], shape[0])
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return np.asarray(
        cv2.warpPerspective(
            light, to_photo, size, flags=flags, borderMode=cv2.BORDER_CONSTANT, borderValue=float("nan")
        )
    )


def refined(light: np.ndarray, found: Found, film_open: np.ndarray, film_px_mm: float, px_mm: float) -> np.ndarray:
    """The light over the film laid straight, and put right tile by tile for what a lens bends."""
    shape = tuple(round(n * px_mm / film_px_mm) for n in film_open.shape)
    expected = cv2.resize(film_open.astype(np.float32), (shape[1], shape[0]), interpolation=cv2.INTER_AREA)
    homography = found.homography
    for _ in range(2):
        straight = laid_straight(light, homography, (shape[0], shape[1]), px_mm)
        places, shifts = _tile_shifts(straight, expected, px_mm)
        if len(places) < 6:
            return straight
        homography = _moved(homography, places / px_mm, shifts / px_mm)
    straight = laid_straight(light, homography, (shape[0], shape[1]), px_mm)
    return _unbent(straight, *_tile_shifts(straight, expected, px_mm))


def _tile_shifts(straight: np.ndarray, expected: np.ndarray, px_mm: float) -> tuple[np.ndarray, np.ndarray]:
    """Middles of tiles, px, and how far the photo lies off in each, px."""
    filled = np.nan_to_num(straight, nan=0.0)
    near = cv2.GaussianBlur(filled, (0, 0), 0.15 * px_mm)
    wanted = cv2.GaussianBlur(expected, (0, 0), 0.15 * px_mm)
    high, wide = expected.shape
    places, shifts = [], []
    for top, bottom in _spans(high):
        for left, right in _spans(wide):
            part = wanted[top:bottom, left:right]
            if part.std() < 0.12 or np.isnan(straight[top:bottom, left:right]).any():
                continue
            seen = near[top:bottom, left:right]
            window = cv2.createHanningWindow((right - left, bottom - top), cv2.CV_32F)
            (dx, dy), answer = cv2.phaseCorrelate(_edges(part), _edges(seen), window)
            if answer > 0.08 and np.hypot(dx, dy) < _FAR_MM * px_mm:
                places.append(((left + right) / 2, (top + bottom) / 2))
                shifts.append((dx, dy))
    return np.array(places, float).reshape(-1, 2), np.array(shifts, float).reshape(-1, 2)


def _spans(length: int) -> Sequence[tuple[int, int]]:
    edges = np.linspace(0, length, _TILES + 1).round().astype(int)
    return [(int(a), int(b)) for a, b in pairwise(edges)]


def _edges(part: np.ndarray) -> np.ndarray:
    across, down = cv2.Sobel(part, cv2.CV_32F, 1, 0), cv2.Sobel(part, cv2.CV_32F, 0, 1)
    strength = np.sqrt(across**2 + down**2)
    return np.asarray(strength / max(float(strength.max()), 1e-6), np.float32)


def _moved(homography: np.ndarray, places_mm: np.ndarray, shifts_mm: np.ndarray) -> np.ndarray:
    """The homography after most tiles say where they lie."""
    there = places_mm.astype(np.float64)
    here = cv2.perspectiveTransform((places_mm + shifts_mm)[None].astype(np.float64), homography)[0]
    better, _ = cv2.findHomography(there, here, cv2.RANSAC, 3.0)
    return homography if better is None else better


def _unbent(straight: np.ndarray, places: np.ndarray, shifts: np.ndarray) -> np.ndarray:
    """What is left is a smooth bend: a surface of the second degree through the tiles."""
    if len(places) < 12:
        return straight
    high, wide = straight.shape
    terms = second_degree(places[:, 0] / wide - 0.5, places[:, 1] / high - 0.5)
    weight: np.ndarray = np.ones(len(places))
    fit: np.ndarray = np.zeros((terms.shape[1], 2))
    for _ in range(5):
        fit = np.asarray(np.linalg.lstsq(terms * weight[:, None], shifts * weight[:, None], rcond=None)[0])
        off = np.linalg.norm(shifts - terms @ fit, axis=1)
        weight = np.asarray(1 / (1 + (off / max(1.5 * float(np.median(off)), 0.15)) ** 2))
    dx, dy = (over(fit[:, k], straight.shape) for k in (0, 1))
    v, u = np.arange(high, dtype=np.float32)[:, None], np.arange(wide, dtype=np.float32)[None, :]
    return np.asarray(
        cv2.remap(straight, u + dx, v + dy, cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT, borderValue=float("nan"))
    )
