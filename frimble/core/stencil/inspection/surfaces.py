"""Smooth surfaces over a picture: polynomials of the second degree in its sides."""

import cv2
import numpy as np

# They are worked out at every so many pixels and drawn between.
_COARSE = 12


def second_degree(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """(…, 6) terms at x and y, each −0.5 to 0.5 over the picture."""
    return np.stack([np.ones_like(x), x, y, x * y, x * x, y * y], axis=-1)


def over(fit: np.ndarray, shape: tuple[int, ...]) -> np.ndarray:
    """(h, w) float32, the surface with these six coefficients at each pixel."""
    high, wide = shape[0], shape[1]
    rows, columns = max(2, high // _COARSE), max(2, wide // _COARSE)
    v, u = np.meshgrid((np.arange(rows) + 0.5) / rows - 0.5, (np.arange(columns) + 0.5) / columns - 0.5, indexing="ij")
    coarse = (second_degree(u, v) @ fit).astype(np.float32)
    return np.asarray(cv2.resize(coarse, (wide, high), interpolation=cv2.INTER_LINEAR))
