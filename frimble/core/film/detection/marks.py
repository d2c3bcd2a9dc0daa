"""Small marks on a scan: bright ones in the black (holes, scratches) and dark ones on clear film (specks, dots, type).

Marks are found as what a flat opening takes away, so that weak areas and uneven light do not hide or make them, and
measured by the light they pass, which the scanner's blur spreads but does not change.
"""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np

from frimble.core.film.detection.components import Components, components_of
from frimble.core.film.detection.edges import most_about, with_the_rim
from frimble.core.film.detection.halftones.nets import joined_holes, nets_of
from frimble.core.film.scan.comparing import compare
from frimble.core.film.scan.grid import DARK_SHARE, MARK_MM, Cells, Coarser, Levels, Scan, grey_code, odd_pixels

# A hole shows when it lets through this share of the clear film's light more than the black about it.
_SHOWS = 0.06
_SHAPE_SHARE = 0.6
_TILE = 1024


@dataclass(frozen=True)
class SmallMarks:
    """Connected marks of one polarity: boxes (n, 4) x, y, width, height and areas (n,) in pixels, centres (n, 2)."""

    boxes: np.ndarray
    areas: np.ndarray
    centres: np.ndarray

    def of(self, picked: np.ndarray) -> "SmallMarks":
        return SmallMarks(self.boxes[picked], self.areas[picked], self.centres[picked])

    def and_also(self, others: "SmallMarks") -> "SmallMarks":
        """These marks and the others after them."""
        parts = ("boxes", "areas", "centres")
        return SmallMarks(*(np.concatenate([getattr(self, part), getattr(others, part)]) for part in parts))

    def moved(self, x: int, y: int) -> "SmallMarks":
        """The marks as many pixels to the right and down."""
        return SmallMarks(self.boxes + np.array([x, y, 0, 0]), self.areas, self.centres + np.array([x, y]))

    @property
    def longest(self) -> np.ndarray:
        return np.asarray(self.boxes[:, 2:].max(axis=1))


NO_MARKS = SmallMarks(np.zeros((0, 4), np.int32), np.zeros(0, np.int32), np.zeros((0, 2)))


@dataclass(frozen=True)
class DarkMarks(SmallMarks):
    """Dark marks: first the small ones, then every larger shape.

    Attributes:
        shapes: the shapes of every size on a grid `shrink` coarser, (columns, rows) = `size` of it.
        number: (shapes,) number among the marks of each shape, −1 for the small ones.
    """

    shapes: Components
    number: np.ndarray
    shrink: int
    size: tuple[int, int]

    def shape_at(self, columns: np.ndarray, rows: np.ndarray) -> np.ndarray:
        """(n,) number of the larger shape at each pixel, −1 where there is none."""
        wide, high = self.size
        shape = self.shapes.at(np.clip(columns // self.shrink, 0, wide - 1), np.clip(rows // self.shrink, 0, high - 1))
        return np.asarray(np.where(shape < 0, -1, self.number[shape]) if len(self.number) else shape)

    @property
    def larger(self) -> np.ndarray:
        """(n,) True for the larger shapes."""
        return np.asarray(np.arange(len(self.areas)) >= len(self.areas) - (self.number >= 0).sum())

    def outline(self, k: int, rim: int = 0) -> np.ndarray:
        """The larger shape k as 0 and 1 in its box on the coarser grid, with a rim of so many pixels about it."""
        return self.shapes.drawn(int(np.flatnonzero(self.number == k)[0]), rim)


def bright_marks(grey: np.ndarray, scan: Scan, cells: Cells, levels: Levels) -> SmallMarks:
    """Everything bright, and narrower than a mark, that lies in black. `grey` is the scan's grey picture."""
    side = odd_pixels(MARK_MM, scan)
    rise = grey_code(levels.black + _SHOWS * levels.clear) - grey_code(levels.black)
    rise = max(rise, 7 * levels.grey_noise, 3)
    dark = round(grey_code(DARK_SHARE * levels.clear))

    def mask_of(part: np.ndarray) -> np.ndarray:
        opened = cv2.morphologyEx(part, cv2.MORPH_OPEN, np.ones((side, side), np.uint8))
        mask = compare(cv2.subtract(part, opened), rise, cv2.CMP_GT)
        mask &= compare(opened, dark, cv2.CMP_LT)
        return np.asarray(mask)

    low, high = scan.in_grey(cells.low), scan.in_grey(cells.high)
    wanted = (low < dark) & (cv2.subtract(most_about(high), low) > rise)
    return _in_tiles(
        grey, mask_of, side, wanted, cells.side, lambda part, found: _with_holes(part, found, scan, levels)
    )


def _with_holes(part: np.ndarray, found: Components, scan: Scan, levels: Levels) -> SmallMarks:
    """The shapes found in a piece of the grey picture, and in the place of those that join holes the holes."""
    nets = nets_of(part, found, scan, levels)
    joins, bright, picked = joined_holes(part, found, scan, levels)
    marks = _plain(found).of(~joins & ~np.isin(np.arange(len(found.areas)), list(nets)))
    if joins.any():
        marks = marks.and_also(_plain(bright).of(picked))
    for k, holes in nets.items():
        if joins[k]:
            continue  # its holes came apart already
        marks = marks.and_also(_plain(holes).moved(*(int(v) for v in found.boxes[k, :2])))
    return marks


def dark_marks(grey: np.ndarray, coarser: Coarser, scan: Scan, cells: Cells, levels: Levels) -> DarkMarks:
    """Everything that is not clear film: shapes, letters, dots and dust."""
    side = odd_pixels(MARK_MM, scan)
    bar = round(grey_code(_SHAPE_SHARE * levels.clear))
    low, high = scan.in_grey(cells.low), scan.in_grey(cells.high)
    edges = (low < bar) & (most_about(high) >= bar)
    with ThreadPoolExecutor(1) as pool:
        shapes = pool.submit(components_of, compare(coarser.grey, bar, cv2.CMP_LT))
        small = _in_tiles(grey, lambda part: compare(part, bar, cv2.CMP_LT), side, edges, cells.side)
    return _with_shapes(small.of(small.longest <= side), shapes.result(), coarser, side)


def _with_shapes(small: SmallMarks, shapes: Components, coarser: Coarser, side: int) -> DarkMarks:
    """The small marks and, of the shapes on the coarser grid, those longer than `side` pixels."""
    shrink = coarser.shrink
    large = np.flatnonzero(shapes.boxes[:, 2:].max(axis=1, initial=0) * shrink > side)
    number = np.full(len(shapes.areas), -1)
    number[large] = len(small.areas) + np.arange(len(large))
    return DarkMarks(
        np.concatenate([small.boxes, shapes.boxes[large] * shrink]),
        np.concatenate([small.areas, shapes.areas[large] * shrink**2]),
        np.concatenate([small.centres, shapes.centres[large] * shrink]),
        shapes,
        number,
        shrink,
        (coarser.grey.shape[1], coarser.grey.shape[0]),
    )


def _in_tiles(
    grey: np.ndarray,
    mask_of: Callable[..., Any],
    side: int,
    wanted: np.ndarray,
    cell: int,
    marks_of: Callable[[np.ndarray, Components], SmallMarks] = lambda part, found: _plain(found),
) -> SmallMarks:
    """Marks of a mask worked in tiles, which keeps memory small; one longer than the overlap comes as pieces. Of each tile
    the part that holds wanted cells is looked at.

    Args:
        mask_of: mask of a piece of the picture, right from `side` pixels off its rim.
        wanted: cells that can hold a mark's edge.
        cell: side of a cell, pixels.
        marks_of: the marks of a piece of the picture in which shapes were found.
    """
    wanted = with_the_rim(wanted, grey.shape, cell)

    def tile(corner: tuple[int, int]) -> SmallMarks:
        # From a pixel before it on, where it shows that a mark began in the tile before.
        rows, columns = (
            slice(max(at - 1, 0), min(at + _TILE + 2 * side, n)) for at, n in zip(corner, grey.shape, strict=True)
        )
        wanted_rows, wanted_columns = _holding(wanted, rows, columns, cell)
        if not len(wanted_rows):
            return NO_MARKS
        # With as much of a shape that goes on as makes it no mark.
        top, low = max(rows.start, wanted_rows[0] - side), min(rows.stop, wanted_rows[-1] + side)
        left, right = max(columns.start, wanted_columns[0] - side), min(columns.stop, wanted_columns[-1] + side)
        above, before = max(0, top - side), max(0, left - side)
        mask = mask_of(grey[above : low + side, before : right + side])
        found = components_of(mask[top - above : low - above, left - before : right - before])
        marks = marks_of(grey[top:low, left:right], found).moved(left, top)
        return _own(marks, np.array(corner[::-1]), side)

    corners = [(r, c) for r in range(0, len(grey), _TILE) for c in range(0, grey.shape[1], _TILE)]
    with ThreadPoolExecutor(2) as pool:  # image passes let go of the interpreter
        tiles = list(pool.map(tile, corners))
    return SmallMarks(*(np.concatenate([getattr(t, n) for t in tiles]) for n in ("boxes", "areas", "centres")))


def _plain(found: Components) -> SmallMarks:
    return SmallMarks(found.boxes, found.areas, found.centres)


def _holding(wanted: np.ndarray, rows: slice, columns: slice, cell: int) -> tuple[np.ndarray, np.ndarray]:
    """Rows and columns, pixels, of the cells of a tile that are wanted, the last past the last of them; empty for none."""
    part = wanted[rows.start // cell : -(-rows.stop // cell), columns.start // cell : -(-columns.stop // cell)]
    held = np.flatnonzero(part.any(axis=1)), np.flatnonzero(part.any(axis=0))
    starts = rows.start // cell, columns.start // cell
    down, across = ((np.append(n, n[-1:] + 1) + start) * cell for n, start in zip(held, starts, strict=True))
    return down, across


def _own(marks: SmallMarks, corner: np.ndarray, side: int) -> SmallMarks:
    """Those that no tile before met whole; one too long to be a mark comes as pieces."""
    begins = marks.boxes[:, :2] - corner
    ends = begins + marks.boxes[:, 2:]
    before = (begins < 0) & (ends < 2 * side)
    return marks.of((begins < _TILE).all(axis=1) & ~before.any(axis=1))


def passed_light(scan: Scan, levels: Levels, box: np.ndarray, black_is_ground: bool) -> float:
    """Area, mm², of a fully clear hole (or fully black spot) that passes (stops) as much light as the mark in `box`.

    The ground is the median of a rim about the box, so a hole in a weak area is measured against that.
    """
    x, y, width, height = (int(v) for v in box)
    reach = max(3, round(0.13 / scan.pixel_mm))
    window, _, _ = scan.window(x - reach, y - reach, x + width + reach, y + height + reach)
    ground = float(np.median(np.concatenate([window[0], window[-1], window[:, 0], window[:, -1]])))
    if black_is_ground:
        share = (window - ground) / max(levels.clear - ground, 1e-3)
    else:
        share = (ground - window) / max(ground - levels.black, 1e-3)
    return float(share.sum()) * scan.pixel_mm**2


def diameter_mm(area_mm2: float) -> float:
    """Diameter of a disc of that area."""
    return float(np.sqrt(4 * max(area_mm2, 0) / np.pi))


def dark_about(scan: Scan, levels: Levels, box: np.ndarray, near_mm: float, far_mm: float) -> float:
    """Share of a frame about the box, from `near_mm` to `far_mm` off it, that is black; 1 off the sheet."""
    x, y, width, height = (int(v) for v in box)
    near, far = max(2, round(near_mm / scan.pixel_mm)), max(3, round(far_mm / scan.pixel_mm))
    top, left = max(0, y - far), max(0, x - far)
    codes = scan.codes[top : y + height + far, left : x + width + far]
    dark = codes < scan.code(DARK_SHARE * levels.clear)
    inner = dark[max(0, y - near - top) : y + height + near - top, max(0, x - near - left) : x + width + near - left]
    return float((dark.sum() - inner.sum()) / max(1, dark.size - inner.size))
