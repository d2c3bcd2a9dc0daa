"""Where a film's image lies in a photo of its stencil: by its own shapes, from either side, in any turn."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Any

import cv2
import numpy as np

from frimble.core.photo.lens import Camera, Lens, fitted_camera
from frimble.core.photo.light import linear
from frimble.core.photo.surfaces import coarse_places, drawn

# Long side, px, of the pictures that shapes are looked for in.
_SMALL = 1100
_SHAPES, _ALIKE = 6000, 0.82
# Within so many px of the small picture two shapes are one place; so many must agree.
_NEAR, _LEAST = 3.0, 14
# Shapes up to so many px of the small picture off a flat sheet may be ones that the lens bends; then only those so near.
_BENT, _SHARP = 30.0, 2.0
# Tiles along each side in which the image is put right after it was laid straight, and how far one may lie off, mm.
_TILES = ((6, 8.0), (12, 2.5), *((12, 1.2),) * 3)
# One that agrees so well may lie off so far in any round: a mark far from all other shapes.
_SURE, _SURE_MM = 0.5, 10.0
# A tile is put right to so many pixels; with fewer tiles than that the camera stands as its shapes say.
_TILE_OFF_PX, _LEAST_TILES = 1.5, 6
# Nine tiles in ten lie no further off than this: it is right.
_RIGHT_PX = 0.8
# A lone register mark in a tile is shape enough, as a standard deviation of open and closed.
_LEAST_SHAPE = 0.04


@dataclass(frozen=True)
class Found:
    """Where the film lies.

    Attributes:
        camera: where places of the film are seen. mirrored: the photo shows the print side. agreeing: shapes that say so.
    """

    camera: Camera
    mirrored: bool
    agreeing: int


def light_of(photo: np.ndarray, *, most: bool = False) -> np.ndarray:
    """(h, w) float32, light of the channel that the stencil takes most of, 0..1.

    Args:
        photo: (h, w, 3) uint8, sRGB. most: the channel that it takes least of instead.
    """
    red, green, blue = cv2.split(photo)
    of = cv2.max if most else cv2.min
    return linear(of(of(red, green), blue))


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
        homography, agreeing, pairs = laid
        to_mm = np.diag([px_mm * film_scale, px_mm * film_scale, 1.0])
        turned = np.array([[-1.0, 0, film.shape[1]], [0, 1, 0], [0, 0, 1]]) if mirrored else np.eye(3)
        whole = np.diag([1 / seen_scale, 1 / seen_scale, 1.0]) @ homography @ turned @ to_mm
        if best is None or agreeing > best.agreeing:
            there = cv2.perspectiveTransform(pairs[0][None].astype(np.float64), np.linalg.inv(turned @ to_mm))[0]
            best = Found(Camera(whole / whole[2, 2], Lens.straight(light.shape)), mirrored, agreeing)
            matched = there, pairs[1].astype(np.float64) / seen_scale
    return None if best is None else replace(best, camera=_through_lens(best.camera, *matched, 1 / seen_scale))


def _through_lens(camera: Camera, there_mm: np.ndarray, here_px: np.ndarray, px: float) -> Camera:
    """The camera with a lens that lets the shapes lie on one flat sheet."""
    for near in (_BENT * px, _SHARP * px):
        close = np.linalg.norm(camera.seen(there_mm) - here_px, axis=1) < near
        if int(close.sum()) < _LEAST:
            return camera
        camera = fitted_camera(there_mm[close], here_px[close], camera, _SHARP * px / 2)
    return camera


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


def _matched(film: _Shapes, photo: _Shapes) -> tuple[np.ndarray, int, tuple[np.ndarray, np.ndarray]] | None:
    """(homography from film to photo, shapes that agree, (places in the film, places in the photo)), in small pixels."""
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
    return (homography, len(places), (there, here)) if len(places) >= _LEAST else None


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


def laid_straight(light: np.ndarray, found: Found, shape: tuple[int, int], px_mm: float) -> np.ndarray:
    """(h, w) the photo's light over the film's area, `px_mm` pixels a mm; NaN where the photo does not reach."""
    x, y = coarse_places(shape)
    places_mm = np.stack([(x + 0.5) * shape[1] / px_mm, (y + 0.5) * shape[0] / px_mm], -1)
    at = found.camera.seen(places_mm) - 0.5
    places = drawn(at[..., 0], shape), drawn(at[..., 1], shape)
    return np.asarray(
        cv2.remap(light, *places, cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT, borderValue=float("nan"))
    )


def refined(
    light: np.ndarray, found: Found, film_open: np.ndarray, film_px_mm: float, px_mm: float
) -> tuple[np.ndarray, Found]:
    """(the light over the film laid straight, where the film lies for that), put right tile by tile."""
    high, wide = (round(n * px_mm / film_px_mm) for n in film_open.shape)
    expected = cv2.resize(film_open.astype(np.float32), (wide, high), interpolation=cv2.INTER_AREA)
    for tiles, far_mm in _TILES:
        straight = laid_straight(light, found, (high, wide), px_mm)
        places, shifts = _tile_shifts(straight, expected, px_mm, tiles, far_mm)
        if len(places) < _LEAST_TILES or _lie_right(shifts):
            return straight, found
        seen = found.camera.seen((places + shifts) / px_mm)
        found = replace(found, camera=fitted_camera(places / px_mm, seen, found.camera, _TILE_OFF_PX))
    return laid_straight(light, found, (high, wide), px_mm), found


def _lie_right(shifts: np.ndarray) -> bool:
    """Whether tiles lie so well that another round would move nothing that is judged.

    Args:
        shifts: (n, 2) px of each tile.
    """
    return float(np.percentile(np.linalg.norm(shifts, axis=1), 90)) < _RIGHT_PX


def _tile_shifts(
    straight: np.ndarray, expected: np.ndarray, px_mm: float, tiles: int, far_mm: float
) -> tuple[np.ndarray, np.ndarray]:
    """Middles of tiles, px, and how far the photo lies off in each, px."""
    filled = np.nan_to_num(straight, nan=0.0)
    near = cv2.GaussianBlur(filled, (0, 0), 0.15 * px_mm)
    wanted = cv2.GaussianBlur(expected, (0, 0), 0.15 * px_mm)
    places, shifts = [], []
    for top, bottom in _spans(expected.shape[0], tiles):
        for left, right in _spans(expected.shape[1], tiles):
            part = wanted[top:bottom, left:right]
            if part.std() < _LEAST_SHAPE or np.isnan(straight[top:bottom, left:right]).any():
                continue
            seen = near[top:bottom, left:right]
            window = cv2.createHanningWindow((right - left, bottom - top), cv2.CV_32F)
            (dx, dy), answer = cv2.phaseCorrelate(_edges(part), _edges(seen), window)
            within_mm = _SURE_MM if answer > _SURE else far_mm
            if answer > 0.08 and np.hypot(dx, dy) < within_mm * px_mm:
                places.append(((left + right) / 2, (top + bottom) / 2))
                shifts.append((dx, dy))
    return np.array(places, float).reshape(-1, 2), np.array(shifts, float).reshape(-1, 2)


def _spans(length: int, tiles: int) -> Sequence[tuple[int, int]]:
    edges = np.linspace(0, length, tiles + 1).round().astype(int)
    return [(int(a), int(b)) for a, b in pairwise(edges)]


def _edges(part: np.ndarray) -> np.ndarray:
    across, down = cv2.Sobel(part, cv2.CV_32F, 1, 0), cv2.Sobel(part, cv2.CV_32F, 0, 1)
    strength = np.sqrt(across**2 + down**2)
    return np.asarray(strength / max(float(strength.max()), 1e-6), np.float32)
