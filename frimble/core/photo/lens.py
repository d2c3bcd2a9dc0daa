"""A flat sheet as a camera sees it: laid down by a homography, then bent by the lens round the photo's middle."""

from dataclasses import dataclass, replace

import numpy as np
from scipy.optimize import least_squares

# How strongly phones' lenses bend what lies at a photo's corner, as a share of its distance from the middle, one standard
# deviation of each term. From memory: wide angles bend by some percent before the phone puts them right.
_BENDS = (0.04, 0.02)


@dataclass(frozen=True)
class Lens:
    """What a lens does to a photo: a place r from the middle, in half diagonals, is seen r (1 + a r² + b r⁴) from it.

    Source: OpenCV, camera calibration: the radial terms k1 and k2 of the pinhole model.
    """

    middle: tuple[float, float]
    reach: float
    a: float = 0.0
    b: float = 0.0

    @classmethod
    def straight(cls, shape: tuple[int, ...]) -> "Lens":
        """A lens that bends nothing.

        Args:
            shape: (h, w, …) of the photo.
        """
        high, wide = shape[0], shape[1]
        return cls(((wide - 1) / 2, (high - 1) / 2), float(np.hypot(wide, high)) / 2)

    def bent(self, points: np.ndarray) -> np.ndarray:
        """(…, 2) px where places are seen that a straight lens would show at `points`."""
        off = (points - np.array(self.middle)) / self.reach
        square = (off**2).sum(-1, keepdims=True)
        return np.asarray(self.middle + self.reach * off * (1 + square * (self.a + self.b * square)))


@dataclass(frozen=True)
class Camera:
    """Where places of a flat sheet, mm, are seen in a photo, px."""

    homography: np.ndarray
    lens: Lens

    def seen(self, places_mm: np.ndarray) -> np.ndarray:
        """(…, 2) px of (…, 2) mm."""
        return self.lens.bent(_projected(self.homography, places_mm))


def _projected(homography: np.ndarray, places: np.ndarray) -> np.ndarray:
    flat = places @ homography[:, :2].T + homography[:, 2]
    return np.asarray(flat[..., :2] / flat[..., 2:])


def fitted_camera(places_mm: np.ndarray, seen_px: np.ndarray, start: Camera, usual_off_px: float) -> Camera:
    """The camera that sees places where they were seen; those far off count less.

    Args:
        places_mm, seen_px: (n, 2). start: a camera to begin with. usual_off_px: how far a place may well be off.
    """
    span = float(np.ptp(places_mm, axis=0).max())
    shift = np.array([[span, 0, places_mm[:, 0].mean()], [0, span, places_mm[:, 1].mean()], [0, 0, 1]])
    near = (places_mm - shift[:2, 2]) / span
    begun = start.homography @ shift
    begun = begun / begun[2, 2]
    # Each number that is looked for moves what is seen by some pixels.
    scale = np.array([*[start.lens.reach] * 6, 1.0, 1.0, 1.0, 1.0])

    def camera_of(numbers: np.ndarray) -> Camera:
        *upper, a, b = numbers * scale
        return Camera(np.array([*upper, 1.0]).reshape(3, 3), replace(start.lens, a=a, b=b))

    def off(numbers: np.ndarray) -> np.ndarray:
        apart = (camera_of(numbers).seen(near) - seen_px) / usual_off_px
        return np.concatenate([apart.ravel(), numbers[8:] / np.array(_BENDS)])

    at = np.array([*begun.ravel()[:8], start.lens.a, start.lens.b]) / scale
    best = camera_of(least_squares(off, at, loss="soft_l1", max_nfev=40).x)
    whole = best.homography @ np.linalg.inv(shift)
    return Camera(whole / whole[2, 2], best.lens)
