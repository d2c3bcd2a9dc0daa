"""Light under a film's raster."""

import cv2
import numpy as np
import numpy.typing as npt

Light = npt.NDArray[np.float32]


def spread_under(light: Light, px_mm: float, spread_um: float) -> Light:
    """(h, w) light that passes the film, as it arrives in the coat: spread by gap, lamp and thread.

    Args:
        px_mm: pixels a mm. spread_um: standard deviation; 0 for none.
    """
    sigma = spread_um / 1000 * px_mm
    return np.asarray(cv2.GaussianBlur(light, (0, 0), sigma), np.float32) if sigma > 0 else light
