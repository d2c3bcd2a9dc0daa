"""The light that a photo's codes stand for."""

import cv2
import numpy as np

from frimble.core.film.scan.coding import light_of

_LIGHT = light_of(np.arange(256), "srgb", 8).astype(np.float32)


def linear(codes: np.ndarray) -> np.ndarray:
    """float32 light, 0..1, of sRGB codes, uint8, of the same shape. Source: IEC 61966-2-1."""
    return np.asarray(cv2.LUT(codes, _LIGHT))
