"""Drawn lines, and gaps between blacks, that are too thin to hold."""

from dataclasses import dataclass

import cv2
import numpy as np

from frimble.core.film.detection.celltest import CellTest
from frimble.core.film.detection.components import Components, components_of
from frimble.core.film.detection.edges import edge_cells
from frimble.core.film.findings import NEAR_LIMIT, Finding, Limits
from frimble.core.film.scan.comparing import compare
from frimble.core.film.scan.grid import Cells, Coarser, Levels, Scan, grey_code

_LEAST_LINE_MM = 3.0
# Holes inside one thin shape beyond which it is a screen or a grain and not a drawing.
_MOST_MESHES = 6
_LONG_FOR_WIDTH = 8
# Lines and gaps differ from the ground by such a share of what lies between clear film and black.
_LINE_SHOWS, _GAP_SHOWS = 0.15, 0.3
_BAND_CELLS = 32


@dataclass(frozen=True)
class Strokes:
    """Long thin shapes as they were seen on a grid `shrink` times coarser: their numbers among all that are thin."""

    thin: Components
    long: np.ndarray
    shrink: int
    gaps: bool

    @property
    def centres(self) -> np.ndarray:
        """(n, 2) x, y in pixels."""
        return np.asarray(self.thin.centres[self.long] * self.shrink)


def strokes_of(coarser: Coarser, scan: Scan, cells: Cells, levels: Levels, limits: Limits, gaps: bool) -> Strokes:
    """Everything thin and long enough to be a line (or, with `gaps`, a clear gap between blacks)."""
    shrink = coarser.shrink
    pixel = scan.pixel_mm * shrink
    side = max(3, round(2.2 * limits.line_mm / pixel) | 1)
    found = components_of(_thin_by_bands(coarser, side, scan, cells, levels, gaps))
    long = np.flatnonzero(np.hypot(*found.boxes[:, 2:].T) * pixel >= _LEAST_LINE_MM)
    return Strokes(found, long, shrink, gaps)


def _thin_by_bands(coarser: Coarser, side: int, scan: Scan, cells: Cells, levels: Levels, gaps: bool) -> np.ndarray:
    """`_thin` of the whole picture. Bands of rows stay in the processor's own memory; of each the part with edges is looked
    at."""
    picture, shrink = coarser.grey, coarser.shrink
    wanted = edge_cells(scan, cells, _shows(levels, gaps), (side // 2 + 1) * shrink)
    mask = np.zeros_like(picture)
    for first in range(0, len(wanted), _BAND_CELLS):
        columns = np.flatnonzero(wanted[first : first + _BAND_CELLS].any(axis=0))
        if not len(columns):
            continue
        top, left = first * cells.side // shrink, columns[0] * cells.side // shrink
        low, right = (-(-n * cells.side // shrink) for n in (first + _BAND_CELLS, columns[-1] + 1))
        above, before = min(top, side), min(left, side)
        thin = _thin(picture[top - above : low + side, left - before : right + side], side, levels, gaps)
        part = mask[top:low, left:right]
        part[:] = thin[above:, before:][: part.shape[0], : part.shape[1]]
    return mask


def _shows(levels: Levels, gaps: bool) -> float:
    """Least difference of a line, or a gap, from its ground, codes of the grey picture."""
    return (_GAP_SHOWS if gaps else _LINE_SHOWS) * (grey_code(levels.clear) - grey_code(levels.black))


def _thin(small: np.ndarray, side: int, levels: Levels, gaps: bool) -> np.ndarray:
    """Mask of what a flat opening (for gaps) or closing (for lines) of that side takes away."""
    clear, black = grey_code(levels.clear), grey_code(levels.black)
    kernel = np.ones((side, side), np.uint8)
    if gaps:
        ground = cv2.morphologyEx(small, cv2.MORPH_OPEN, kernel)
        mask = compare(cv2.subtract(small, ground), _shows(levels, gaps), cv2.CMP_GT)
        mask &= compare(ground, round(black + 0.25 * (clear - black)), cv2.CMP_LT)
        return np.asarray(mask)
    ground = cv2.morphologyEx(small, cv2.MORPH_CLOSE, kernel)
    mask = compare(cv2.subtract(ground, small), _shows(levels, gaps), cv2.CMP_GT)
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
    judged = (_thin_line(scan, levels, limits, strokes, int(k)) for k in strokes.long[picked])
    return [finding for finding in judged if finding]


def _thin_line(scan: Scan, levels: Levels, limits: Limits, strokes: Strokes, k: int) -> Finding | None:
    """Shape k as a drawn line when long for its width; its width is the light it stops over its length."""
    shape, shrink = strokes.thin.drawn(k), strokes.shrink
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
    x, y = (int(v) * shrink for v in strokes.thin.boxes[k, :2])
    reach = max(4, round(0.15 / scan.pixel_mm))
    height, width = shape.shape[0] * shrink, shape.shape[1] * shrink
    window, left, top = scan.window(x - reach, y - reach, x + width + reach, y + height + reach)
    near = cv2.dilate(cv2.resize(shape, (width, height), interpolation=cv2.INTER_NEAREST), np.ones((3, 3), np.uint8))
    near = np.pad(
        near, ((y - top, window.shape[0] - height - (y - top)), (x - left, window.shape[1] - width - (x - left)))
    )
    near = cv2.dilate(near, np.ones((2 * reach - 1, 2 * reach - 1), np.uint8)).astype(bool)
    if strokes.gaps:
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
