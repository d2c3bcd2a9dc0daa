"""Comparing an image with a number, which OpenCV does and its type stubs leave out."""

import cv2
import numpy as np


def compare(image: np.ndarray, bar: float, operator: int) -> np.ndarray:
    """255 where the comparison holds, else 0, of the image's shape."""
    return np.asarray(cv2.compare(image, bar, operator))  # type: ignore[call-overload]  # the stubs know arrays only
