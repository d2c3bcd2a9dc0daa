"""Where the frame's inside lies in a photo of a bare mesh, and the mesh laid upright."""

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

# The mesh passes at least so much of the light of the photo's middle; the frame hardly any. Smaller specks are stains.
_PASSES, _SPECK = 0.25, 5
# Mesh against light is brighter than this.
_DARK = 0.03
_LONG_SIDE, _LEAST_SHARE = 1000, 0.12
# Lines are laid through the middle parts of the sides: corners are rounded by glue and tape.
_CORNER, _STEPS = 0.12, 40


@dataclass(frozen=True)
class Inside:
    """(4, 2) photo pixels of the inside's top left, top right, bottom right and bottom left corner."""

    corners: np.ndarray


def find_inside(light: np.ndarray) -> Inside | None:
    """The bright field in the photo's middle; None where there is none.

    Args:
        light: (h, w) linear light, 0..1.
    """
    factor = _LONG_SIDE / max(light.shape)
    small = cv2.resize(light, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA)
    high, wide = small.shape
    middle = small[high // 4 : 3 * high // 4, wide // 4 : 3 * wide // 4]
    usual = float(np.percentile(middle, 75))
    if usual < _DARK:
        return None
    bright = (small > _PASSES * usual).astype(np.uint8)
    closed = cv2.morphologyEx(bright, cv2.MORPH_CLOSE, np.ones((_SPECK, _SPECK), np.uint8))
    _, labels, boxes, _ = cv2.connectedComponentsWithStats(closed, connectivity=4)
    here = np.bincount(labels[high // 4 : 3 * high // 4, wide // 4 : 3 * wide // 4].ravel(), minlength=len(boxes))
    here[0] = 0
    number = int(here.argmax())
    if not here.any() or boxes[number][4] < _LEAST_SHARE * high * wide:
        return None
    corners = _corners((labels == number).astype(np.uint8))
    return None if corners is None else Inside((corners + 0.5) / factor - 0.5)


def _corners(field: np.ndarray) -> np.ndarray | None:
    """Where the lines along the four sides of a field cross."""
    ways = (field, field[:, ::-1], field.T, field.T[:, ::-1])
    left, right, top, bottom = (_edge_line(w) for w in ways)
    if left is None or right is None or top is None or bottom is None:
        return None
    high, wide = field.shape
    # x = slope y + start on the sides, y = slope x + start above and below.
    right = (-right[0], wide - 1 - right[1])
    bottom = (-bottom[0], high - 1 - bottom[1])
    return np.array([_cross(left, top), _cross(right, top), _cross(right, bottom), _cross(left, bottom)])


def _edge_line(field: np.ndarray) -> tuple[float, float] | None:
    """Slope and start of the line along a field's left side: the median of where rows begin, and how it moves."""
    rows = np.nonzero(field.any(1))[0]
    if len(rows) < _STEPS:
        return None
    reach = rows[-1] - rows[0]
    kept = rows[(rows > rows[0] + _CORNER * reach) & (rows < rows[-1] - _CORNER * reach)]
    begins = field[kept].argmax(1).astype(float)
    slope, start = np.polyfit(kept, begins, 1)
    for _ in range(5):
        off = np.abs(begins - slope * kept - start)
        weight = 1 / (1 + (off / max(2 * float(np.median(off)), 0.7)) ** 2)
        slope, start = np.polyfit(kept, begins, 1, w=weight)
    return float(slope), float(start)


def _cross(side: tuple[float, float], level: tuple[float, float]) -> tuple[float, float]:
    """x, y where x = a y + b meets y = c x + d."""
    (a, b), (c, d) = side, level
    x = (a * d + b) / (1 - a * c)
    return x, c * x + d


def laid_upright(
    picture: np.ndarray, corners: np.ndarray | Sequence[Sequence[float]], size: tuple[int, int]
) -> np.ndarray:
    """The inside as a picture of `size` (width, height) px, area for area."""
    wide, high = size
    here = np.asarray(corners, np.float32)
    there = np.array([[0, 0], [wide, 0], [wide, high], [0, high]], np.float32) - 0.5
    homography = cv2.getPerspectiveTransform(here, there)
    shrinks = max(1.0, float(np.linalg.norm(here[1] - here[0])) / wide)
    smooth = cv2.GaussianBlur(picture, (0, 0), 0.4 * shrinks)
    return np.asarray(
        cv2.warpPerspective(smooth, homography, size, flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    )
