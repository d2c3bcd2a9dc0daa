"""The scale strip: markers of known size, printed and laid on a mesh, that tell a photo's scale and tilt."""

from collections.abc import Iterator
from dataclasses import dataclass

import cv2
import numpy as np

# Sixteen markers in a row, each 5 mm with 2 mm between: a close photo holds some of them whole.
NUMBER, MARKER_MM, PITCH_MM, RIM_MM = 16, 5.0, 7.0, 2.0
LENGTH_MM = NUMBER * PITCH_MM + 2 * RIM_MM - (PITCH_MM - MARKER_MM)
HEIGHT_MM = MARKER_MM + 2 * RIM_MM
_DICTIONARY = cv2.aruco.DICT_4X4_50
_CELLS = 6
# Sides of a photo that markers are looked for in, px: a large one makes a coarse weave look like cells.
_SIDES = (1200, 2200, 4000)
# Corners of markers may lie off a flat strip by this share of a marker.
_MOST_OFF = 0.05


@dataclass(frozen=True)
class Scale:
    """Where the strip lies: (3, 3) from mm of the strip to pixels of the photo, and its middle in both."""

    homography: np.ndarray
    middle_mm: tuple[float, float]

    @property
    def middle_px(self) -> tuple[float, float]:
        x, y = cv2.perspectiveTransform(np.array([[self.middle_mm]], np.float64), self.homography)[0, 0]
        return float(x), float(y)

    def px_per_mm(self) -> np.ndarray:
        """(2, 2) pixels that a mm along and across the strip is, at its middle."""
        h, (x, y) = self.homography, self.middle_mm
        depth = h[2, 0] * x + h[2, 1] * y + h[2, 2]
        px = (h[:2, 0] * x + h[:2, 1] * y + h[:2, 2]) / depth
        return np.asarray((h[:2, :2] - np.outer(px, h[2, :2])) / depth)


def black_cells() -> Iterator[tuple[float, float, float]]:
    """Left, top and side, mm, of every black square of the strip."""
    dictionary = cv2.aruco.getPredefinedDictionary(_DICTIONARY)
    side = MARKER_MM / _CELLS
    for number in range(NUMBER):
        cells = cv2.aruco.generateImageMarker(dictionary, number, _CELLS) == 0
        for row, column in zip(*np.nonzero(cells), strict=True):
            yield RIM_MM + number * PITCH_MM + int(column) * side, RIM_MM + int(row) * side, side


def find_strip(picture: np.ndarray) -> Scale | None:
    """The strip in a photo; None where none of its markers is read.

    Args:
        picture: (h, w) uint8, grey.
    """
    for side in _SIDES:
        factor = min(1.0, side / max(picture.shape))
        size = round(picture.shape[1] * factor), round(picture.shape[0] * factor)
        scale = _found(cv2.resize(picture, size, interpolation=cv2.INTER_AREA), factor)
        if scale is not None:
            return scale
    return None


def _found(picture: np.ndarray, factor: float) -> Scale | None:
    settings = cv2.aruco.DetectorParameters()
    settings.cornerRefinementMethod = cv2.aruco.CORNER_REFINE_SUBPIX
    dictionary = cv2.aruco.getPredefinedDictionary(_DICTIONARY)
    corners, numbers, _ = cv2.aruco.ArucoDetector(dictionary, settings).detectMarkers(picture)
    ours = [] if numbers is None else [(int(n), c[0]) for n, c in zip(numbers.ravel(), corners, strict=True)]
    ours = [(n, c) for n, c in ours if n < NUMBER]
    if not ours:
        return None
    there = np.concatenate([_corners_mm(n) for n, _ in ours])
    # A pixel's middle lies half a pixel from its edge, in the small picture as in the large.
    here = (np.concatenate([c for _, c in ours]).astype(np.float64) + 0.5) / factor - 0.5
    here = _true_size([n for n, _ in ours], here)
    homography = _laid(there, here)
    if homography is None:
        return None
    off = cv2.perspectiveTransform(there[None], homography)[0] - here
    marker_px = float(np.linalg.norm(here[1] - here[0]))
    if float(np.median(np.linalg.norm(off, axis=1))) > _MOST_OFF * marker_px:
        return None
    x, y = there.mean(0)
    return Scale(homography, (float(x), float(y)))


def _corners_mm(number: int) -> np.ndarray:
    left, top = RIM_MM + number * PITCH_MM, RIM_MM
    right, bottom = left + MARKER_MM, top + MARKER_MM
    return np.array([[left, top], [right, top], [right, bottom], [left, bottom]], np.float64)


def _true_size(numbers: list[int], here: np.ndarray) -> np.ndarray:
    """Corners moved out or in from their markers' middles, so that they are as large beside their pitch as they should be.

    Ink that spreads and corners that are found a little inside change a marker's size; from marker to marker it stays true.
    """
    if len(numbers) < 2:
        return here
    markers = here.reshape(-1, 4, 2)
    middles = markers.mean(1)
    fit = np.polyfit(numbers, middles, 1)
    sides = np.linalg.norm(np.roll(markers, -1, 1) - markers, axis=2)[:, ::2]
    grows = float(np.linalg.norm(fit[0])) * MARKER_MM / PITCH_MM / float(sides.mean())
    return np.asarray((middles[:, None] + (markers - middles[:, None]) * grows).reshape(-1, 2))


def _laid(there: np.ndarray, here: np.ndarray) -> np.ndarray | None:
    """From mm to pixels; a single marker is too small to tell perspective, so that it is laid flat."""
    if len(there) > 4:
        homography, _ = cv2.findHomography(there, here)
        return None if homography is None else np.asarray(homography, np.float64)
    affine, _ = cv2.estimateAffine2D(there, here)
    return None if affine is None else np.vstack([affine, [0, 0, 1]])
