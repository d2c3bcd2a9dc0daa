"""Where a film's image lies in a photo of its stencil: by its own shapes, from either side, in any turn."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Any

import cv2
import numpy as np

from frimble.core.photo.light import linear
from frimble.core.photo.surfaces import coarse_places, drawn, fitted, terms

# Long side, px, of the pictures that shapes are looked for in.
_SMALL = 1100
_SHAPES, _ALIKE = 6000, 0.82
# Within so many px of the small picture two shapes are one place; so many must agree.
_NEAR, _LEAST = 3.0, 14
# Shapes up to so many px off tell how a lens bends the rest.
_BENT = 30.0
# Tiles along each side in which the image is put right after it was laid straight, and how far one may lie off, mm.
_FLAT_TILES, _BENT_TILES = ((9, 1.2), (9, 1.2)), ((6, 4.0), (9, 2.0), (12, 0.9))
# Blocks with shapes in them that may lie wrong on a flat sheet, as a share: faults spoil some. mm.
_FEW_WRONG, _BLOCK_MM = 0.045, 6.0
# Terms of a lens's bend: the third degree; with fewer tiles than that the homography stands alone.
_DEGREE, _LEAST_TILES = 3, 6
# How far lenses bend an image, mm at its rim, one standard deviation.
_BENDS_MM = 3.0


@dataclass(frozen=True)
class Found:
    """Where the film lies.

    Attributes:
        homography: (3, 3) from mm of the film to pixels of the photo. mirrored: the photo shows the print side.
        agreeing: shapes that say so.
        bend: (10, 2) coefficients of how far, mm, a place lies off for what the lens bends; None for not at all.
    """

    homography: np.ndarray
    mirrored: bool
    agreeing: int
    bend: np.ndarray | None = None

    def off_mm(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """(…, 2) mm that places lie off, each −0.5 to 0.5 over the film."""
        if self.bend is None:
            return np.zeros((*x.shape, 2))
        return np.asarray(terms(x, y, _DEGREE) @ self.bend)


def light_of(photo: np.ndarray) -> np.ndarray:
    """(h, w) float32, light of the channel that the stencil takes most of, 0..1.

    Args:
        photo: (h, w, 3) uint8, sRGB.
    """
    red, green, blue = cv2.split(photo)
    return linear(cv2.min(cv2.min(red, green), blue))


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
            size = film_open.shape[1] / px_mm, film_open.shape[0] / px_mm
            there = cv2.perspectiveTransform(pairs[0][None].astype(np.float64), np.linalg.inv(turned @ to_mm))[0]
            bend = _bend_of(whole, there, pairs[1] / seen_scale, size, seen_scale)
            best = Found(whole / whole[2, 2], mirrored, agreeing, bend)
    return best


def _bend_of(
    homography: np.ndarray, there_mm: np.ndarray, here_px: np.ndarray, size_mm: tuple[float, float], scale: float
) -> np.ndarray | None:
    """How a lens bends the image, from shapes that lie a little off where the homography puts them."""
    laid = cv2.perspectiveTransform(there_mm[None], homography)[0]
    near = np.linalg.norm(laid - here_px, axis=1) * scale < _BENT
    if int(near.sum()) < 4 * _LEAST_TILES:
        return None
    back = cv2.perspectiveTransform(here_px[None].astype(np.float64), np.linalg.inv(homography))[0]
    at = terms(there_mm[near, 0] / size_mm[0] - 0.5, there_mm[near, 1] / size_mm[1] - 0.5, _DEGREE)
    return fitted(at, (back - there_mm)[near], 0.3, _BENDS_MM)


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
    off = found.off_mm(x, y)
    across = (x + 0.5) * shape[1] / px_mm + off[..., 0]
    down = (y + 0.5) * shape[0] / px_mm + off[..., 1]
    h = found.homography
    depth = h[2, 0] * across + h[2, 1] * down + h[2, 2]
    at_x = (h[0, 0] * across + h[0, 1] * down + h[0, 2]) / depth - 0.5
    at_y = (h[1, 0] * across + h[1, 1] * down + h[1, 2]) / depth - 0.5
    places = drawn(at_x, shape), drawn(at_y, shape)
    return np.asarray(
        cv2.remap(light, *places, cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT, borderValue=float("nan"))
    )


def refined(light: np.ndarray, found: Found, film_open: np.ndarray, film_px_mm: float, px_mm: float) -> np.ndarray:
    """The light over the film laid straight, and put right tile by tile: as a flat sheet, or as a lens bends it.

    A bend is tried only where shapes do not lie right on a flat sheet: it wants many of them, all over the film.
    """
    high, wide = (round(n * px_mm / film_px_mm) for n in film_open.shape)
    expected = cv2.resize(film_open.astype(np.float32), (wide, high), interpolation=cv2.INTER_AREA)
    flat = _settled(light, replace(found, bend=None), expected, px_mm, _FLAT_TILES, _flattened)
    wrong = _wrong_blocks(flat, expected, px_mm)
    if wrong <= _FEW_WRONG:
        return flat
    bent = _settled(light, found, expected, px_mm, _BENT_TILES, _bent)
    return bent if _wrong_blocks(bent, expected, px_mm) < wrong else flat


def _settled(
    light: np.ndarray,
    found: Found,
    expected: np.ndarray,
    px_mm: float,
    rounds: Sequence[tuple[int, float]],
    put_right: Callable[[Found, np.ndarray, np.ndarray, tuple[float, float]], Found],
) -> np.ndarray:
    """The light laid straight after some rounds of putting it right.

    Args:
        rounds: (tiles a side, how far, mm, one may lie off) of each. put_right: what the tiles change.
    """
    shape = expected.shape[0], expected.shape[1]
    size_mm = shape[1] / px_mm, shape[0] / px_mm
    for tiles, far_mm in rounds:
        straight = laid_straight(light, found, shape, px_mm)
        places, shifts = _tile_shifts(straight, expected, px_mm, tiles, far_mm)
        if len(places) < _LEAST_TILES:
            return straight
        found = put_right(found, places / px_mm, shifts / px_mm, size_mm)
    return laid_straight(light, found, shape, px_mm)


def _flattened(found: Found, places_mm: np.ndarray, shifts_mm: np.ndarray, size_mm: tuple[float, float]) -> Found:
    """The homography after most tiles say where they lie."""
    x, y = places_mm[:, 0] / size_mm[0] - 0.5, places_mm[:, 1] / size_mm[1] - 0.5
    lies = places_mm + shifts_mm + found.off_mm(x, y)
    here = cv2.perspectiveTransform(lies[None].astype(np.float64), found.homography)[0]
    better, _ = cv2.findHomography(places_mm.astype(np.float64), here, cv2.RANSAC, 3.0)
    return found if better is None else replace(found, homography=better)


def _bent(found: Found, places_mm: np.ndarray, shifts_mm: np.ndarray, size_mm: tuple[float, float]) -> Found:
    x, y = places_mm[:, 0] / size_mm[0] - 0.5, places_mm[:, 1] / size_mm[1] - 0.5
    return replace(found, bend=fitted(terms(x, y, _DEGREE), found.off_mm(x, y) + shifts_mm, 0.1, _BENDS_MM))


def _wrong_blocks(straight: np.ndarray, expected: np.ndarray, px_mm: float) -> float:
    """Share of blocks with shapes in them, in which light and film do not go together."""
    side = round(_BLOCK_MM * px_mm)
    rows, columns = expected.shape[0] // side, expected.shape[1] // side

    def blocks(picture: np.ndarray) -> np.ndarray:
        cut = picture[: rows * side, : columns * side].reshape(rows, side, columns, side)
        return cut.transpose(0, 2, 1, 3).reshape(rows * columns, side * side)

    film, light = blocks(expected), blocks(cv2.GaussianBlur(np.nan_to_num(straight), (0, 0), 0.1 * px_mm))
    film, light = (a - a.mean(1, keepdims=True) for a in (film, light))
    spread = np.sqrt((film**2).sum(1) * (light**2).sum(1))
    shaped = film.std(1) > 0.08
    if not shaped.any():
        return 0.0
    together = (film * light).sum(1)[shaped] / np.maximum(spread[shaped], 1e-6)
    return float((together < 0.7).mean())


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
            if part.std() < 0.12 or np.isnan(straight[top:bottom, left:right]).any():
                continue
            seen = near[top:bottom, left:right]
            window = cv2.createHanningWindow((right - left, bottom - top), cv2.CV_32F)
            (dx, dy), answer = cv2.phaseCorrelate(_edges(part), _edges(seen), window)
            if answer > 0.08 and np.hypot(dx, dy) < far_mm * px_mm:
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
