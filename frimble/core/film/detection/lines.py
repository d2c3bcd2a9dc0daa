"""Drawn lines, and gaps between blacks, that are too thin to hold."""

from dataclasses import dataclass

import cv2
import numpy as np

from frimble.core.film.detection.celltest import CellTest
from frimble.core.film.detection.components import components_of
from frimble.core.film.detection.holes import NEAR_LIMIT
from frimble.core.film.findings import Finding, Limits
from frimble.core.film.scan.comparing import compare
from frimble.core.film.scan.grid import Coarser, Levels, Scan, grey_code

_LEAST_LINE_MM = 3.0
# Holes inside one thin shape beyond which it is a screen or a grain and not a drawing.
_MOST_MESHES = 6
_LONG_FOR_WIDTH = 8


@dataclass(frozen=True)
class Strokes:
    """Long thin shapes as they were seen on a coarser grid: 0 and 1 in their boxes, corners and centres in pixels."""

    shapes: list[np.ndarray]
    corners: list[tuple[int, int]]
    centres: np.ndarray
    shrink: int
    gaps: bool


def strokes_of(coarser: Coarser, scan: Scan, levels: Levels, limits: Limits, gaps: bool) -> Strokes:
    """Everything thin and long enough to be a line (or, with `gaps`, a clear gap between blacks)."""
    shrink = coarser.shrink
    pixel = scan.pixel_mm * shrink
    found = components_of(_thin(coarser.grey, max(3, round(2.2 * limits.line_mm / pixel) | 1), levels, gaps))
    long = np.flatnonzero(np.hypot(*found.boxes[:, 2:].T) * pixel >= _LEAST_LINE_MM)
    corners = [(int(x) * shrink, int(y) * shrink) for x, y in found.boxes[long, :2]]
    return Strokes([found.drawn(int(k)) for k in long], corners, found.centres[long] * shrink, shrink, gaps)


def _thin(small: np.ndarray, side: int, levels: Levels, gaps: bool) -> np.ndarray:
    """Mask of what a flat opening (for gaps) or closing (for lines) of that side takes away."""
    clear, black = grey_code(levels.clear), grey_code(levels.black)
    kernel = np.ones((side, side), np.uint8)
    if gaps:
        ground = cv2.morphologyEx(small, cv2.MORPH_OPEN, kernel)
        mask = compare(cv2.subtract(small, ground), 0.3 * (clear - black), cv2.CMP_GT)
        mask &= compare(ground, round(black + 0.25 * (clear - black)), cv2.CMP_LT)
        return np.asarray(mask)
    ground = cv2.morphologyEx(small, cv2.MORPH_CLOSE, kernel)
    mask = compare(cv2.subtract(ground, small), 0.15 * (clear - black), cv2.CMP_GT)
    mask &= compare(ground, round(0.85 * clear), cv2.CMP_GT)
    return np.asarray(mask)


def thin_lines(
    strokes: Strokes, scan: Scan, levels: Levels, limits: Limits, left_out: CellTest, texture: CellTest
) -> list[Finding]:
    """Those of the strokes that are thinner than the limit and drawn.

    Args:
        left_out, texture: tests of centres (n, 2) in pixels.
    """
    picked = np.flatnonzero(~left_out(strokes.centres) & ~texture(strokes.centres))
    judged = (
        _thin_line(scan, levels, limits, strokes.shapes[k], strokes.corners[k], strokes.shrink, strokes.gaps)
        for k in picked
    )
    return [finding for finding in judged if finding]


def _thin_line(
    scan: Scan, levels: Levels, limits: Limits, shape: np.ndarray, corner: tuple[int, int], shrink: int, gaps: bool
) -> Finding | None:
    """A drawn line when long for its width; its width is the light it stops over its length."""
    shape_in_rim = np.pad(shape, 1)
    # Counted before they are traced: a halftone has thousands.
    if cv2.connectedComponents(1 - shape_in_rim, connectivity=4)[0] - 1 > _MOST_MESHES:
        return None
    outlines, _ = cv2.findContours(shape_in_rim, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    length = sum(cv2.arcLength(o, True) for o in outlines) / 2 * scan.pixel_mm * shrink
    straight = cv2.minAreaRect(outlines[0])[1]
    longest = max(straight) * scan.pixel_mm * shrink
    if longest < _LEAST_LINE_MM:
        return None
    x, y = corner
    reach = max(4, round(0.15 / scan.pixel_mm))
    height, width = shape.shape[0] * shrink, shape.shape[1] * shrink
    window, left, top = scan.window(x - reach, y - reach, x + width + reach, y + height + reach)
    near = cv2.dilate(cv2.resize(shape, (width, height), interpolation=cv2.INTER_NEAREST), np.ones((3, 3), np.uint8))
    near = np.pad(
        near, ((y - top, window.shape[0] - height - (y - top)), (x - left, window.shape[1] - width - (x - left)))
    )
    near = cv2.dilate(near, np.ones((2 * reach - 1, 2 * reach - 1), np.uint8)).astype(bool)
    if gaps:
        share = (window - levels.black) / (levels.clear - levels.black)
    else:
        share = (levels.clear - window) / (levels.clear - levels.black)
    share = np.where(near, share, 0)
    thickness = float(share.sum()) * scan.pixel_mm**2 / length
    if thickness >= NEAR_LIMIT * limits.line_mm * 1.03 or length < _LONG_FOR_WIDTH * thickness:
        return None
    # Where a line ends at a shape the shape's own edge is in the window: a line is thin all along.
    depth = cv2.distanceTransform((share > 0.5).astype(np.uint8), cv2.DIST_L2, 3).max() * scan.pixel_mm
    if depth > limits.line_mm:
        return None
    return Finding(
        "thin_line", x * scan.pixel_mm, y * scan.pixel_mm, width * scan.pixel_mm, height * scan.pixel_mm, thickness
    )
