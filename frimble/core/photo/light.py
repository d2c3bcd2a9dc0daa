"""The light that a photo's codes stand for."""

import cv2
import numpy as np


def linear(codes: np.ndarray) -> np.ndarray:
    """float32 light, 0..1, of sRGB codes, uint8, of the same shape. Source: IEC 61966-2-1."""
    shares = np.arange(256) / 255.0
    light = np.where(shares <= 0.04045, shares / 12.92, ((shares + 0.055) / 1.055) ** 2.4).astype(np.float32)
    return np.asarray(cv2.LUT(codes, light))
