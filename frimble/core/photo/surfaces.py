"""Smooth surfaces over a picture: polynomials of the second or third degree in its sides."""

import cv2
import numpy as np

# They are worked out at every so many pixels and drawn between.
COARSE = 12


def terms(x: np.ndarray, y: np.ndarray, degree: int = 2) -> np.ndarray:
    """(…, 6 or 10) terms at x and y, each −0.5 to 0.5 over the picture."""
    return np.stack([x**i * y**j for i, j in _powers(degree)], axis=-1)


def _powers(degree: int) -> list[tuple[int, int]]:
    return [(i, j) for i in range(degree + 1) for j in range(degree + 1 - i)]


def _degree_of(number: int) -> int:
    """The degree that has so many terms."""
    return next(d for d in range(1, 6) if (d + 1) * (d + 2) // 2 == number)


def coarse_places(shape: tuple[int, ...]) -> tuple[np.ndarray, np.ndarray]:
    """(x, y), each −0.5 to 0.5, of the middles of a coarse grid over a picture."""
    rows, columns = max(2, shape[0] // COARSE), max(2, shape[1] // COARSE)
    y, x = np.meshgrid((np.arange(rows) + 0.5) / rows - 0.5, (np.arange(columns) + 0.5) / columns - 0.5, indexing="ij")
    return x, y


def drawn(coarse: np.ndarray, shape: tuple[int, ...]) -> np.ndarray:
    """(h, w) float32 of values on the coarse grid, straight between its middles and beyond the outer ones."""
    rows, columns = coarse.shape
    at_y = ((np.arange(shape[0]) + 0.5) * rows / shape[0] - 0.5).astype(np.float32)
    at_x = ((np.arange(shape[1]) + 0.5) * columns / shape[1] - 0.5).astype(np.float32)
    padded = np.pad(coarse.astype(np.float32), 1, mode="reflect", reflect_type="odd")
    grid_x, grid_y = np.broadcast_to(at_x + 1, shape), np.broadcast_to((at_y + 1)[:, None], shape)
    return np.asarray(cv2.remap(padded, np.ascontiguousarray(grid_x), np.ascontiguousarray(grid_y), cv2.INTER_LINEAR))


def over(fit: np.ndarray, shape: tuple[int, ...]) -> np.ndarray:
    """(h, w) float32, the surface with these coefficients, six or ten, at each pixel."""
    return drawn(terms(*coarse_places(shape), _degree_of(len(fit))) @ fit, shape)
