"""Which small marks stand in a pattern: the dots of a halftone, on their own or grown together in chains."""

from dataclasses import dataclass
from functools import cached_property
from typing import Generic, TypeVar

import cv2
import numpy as np
from scipy.spatial import cKDTree

from frimble.core.film.detection.components import Components, components_of
from frimble.core.film.detection.halftones.lattice import Lattice, find_lattice
from frimble.core.film.detection.marks import NO_MARKS, DarkMarks, SmallMarks
from frimble.core.film.scan.comparing import compare
from frimble.core.film.scan.grid import MARK_MM, Scan

_CROWD_MM = 1.4
# Fewer shapes than this are no tint.
_FEWEST = 6
# A dot's middle lies this deep in its chain, pixels of the coarser grid.
_DEPTH = 1.4
# How far about a pixel a dot's middle is the deepest, and its depths tell where it lies.
_ABOUT = 2
# No dot is as deep, and so many rows about a band tell the depths in it.
_DEEPEST = 24
_BAND = 256

Marks = TypeVar("Marks", SmallMarks, DarkMarks)


@dataclass(frozen=True)
class Patterned(Generic[Marks]):
    """Marks with the pattern of the small ones.

    Attributes:
        small: numbers of the marks that may be dots. dots: those marks, and after them the dots of chains.
        lattice: of the dots.
    """

    marks: Marks
    small: np.ndarray
    dots: SmallMarks
    lattice: Lattice

    @cached_property
    def meant(self) -> np.ndarray:
        """(n,) True for marks that belong to a pattern."""
        flags = np.zeros(len(self.marks.areas), bool)
        flags[self.small[self.lattice.meant[: len(self.small)]]] = True
        return flags


def patterned(marks: Marks, scan: Scan) -> Patterned[Marks]:
    """The marks with their pattern."""
    small = np.flatnonzero(marks.longest * scan.pixel_mm <= MARK_MM)
    dots = marks.of(small)
    if isinstance(marks, DarkMarks):
        dots = dots.and_also(_apart(_chained(marks, scan), dots))
    return Patterned(marks, small, dots, find_lattice(dots.centres, dots.areas, _CROWD_MM / scan.pixel_mm))


def _apart(chained: SmallMarks, dots: SmallMarks) -> SmallMarks:
    """Those of the chained that were not met as dots of their own: the coarser grid joins what just fails to touch."""
    if not len(chained.areas) or not len(dots.areas):
        return chained
    far, _ = cKDTree(dots.centres).query(chained.centres, workers=2)
    return chained.of(np.flatnonzero(far > np.sqrt(chained.areas / np.pi)))


def _chained(dark: DarkMarks, scan: Scan) -> SmallMarks:
    """The dots of larger shapes that are pinched between one and the next, as a chain screen's are."""
    thin = dark.areas * scan.pixel_mm**2 < MARK_MM * dark.longest * scan.pixel_mm
    picked = np.flatnonzero(dark.larger & thin)
    if len(picked) < _FEWEST:
        return NO_MARKS
    thin_shapes = thin[np.maximum(dark.number, 0)] & (dark.number >= 0)
    rows = dark.boxes[picked, 1] // dark.shrink
    top, low = int(rows.min()), int((rows + dark.boxes[picked, 3] // dark.shrink).max())
    bands = [_bulges(dark.shapes, thin_shapes, first, min(first + _BAND, low)) for first in range(top, low, _BAND)]
    middles, radius, shape = (np.concatenate(parts) for parts in zip(*bands, strict=True))
    several = np.bincount(shape, minlength=1)[shape] > 1
    x, y = ((middles[several] + 0.5) * dark.shrink).T
    radius = radius[several] * dark.shrink
    boxes = np.column_stack([x - radius, y - radius, 2 * radius + 1, 2 * radius + 1]).astype(np.int32)
    return SmallMarks(boxes, np.rint(np.pi * radius**2).astype(np.int32), np.column_stack([x, y]))


def _bulges(shapes: Components, wanted: np.ndarray, top: int, low: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Middles (n, 2) x and y of what bulges in the wanted shapes between two rows, radii (n,) and shapes (n,).

    A band of rows at a time stays in the processor's own memory.
    """
    above = top - 1 - _DEEPEST
    left, mask = shapes.drawn_in(above, low + 1 + _DEEPEST, wanted)
    inner = cv2.distanceTransform(mask, cv2.DIST_L2, 5)
    middle = compare(inner, _DEPTH, cv2.CMP_GT)
    middle &= cv2.compare(inner, cv2.dilate(inner, np.ones((2 * _ABOUT + 1, 2 * _ABOUT + 1), np.uint8)), cv2.CMP_GE)
    # A dot's top is a pixel or two: its middle's pixel tells its depth and its shape. A ring's middle lies in its hole.
    at = np.rint(components_of(middle).centres).astype(int)
    depth = inner[at[:, 1], at[:, 0]]
    corner = np.array([left, above])
    column, row = (at + corner).T
    within = (depth > 0) & (depth < _DEEPEST) & (row >= top) & (row < low)
    return _settled(inner, at[within]) + corner, depth[within], shapes.at(column[within], row[within])


def _settled(inner: np.ndarray, at: np.ndarray) -> np.ndarray:
    """Places (n, 2) moved to the weight of the depths about them: a dot is a few pixels of the coarser grid wide."""
    steps = np.arange(-_ABOUT, _ABOUT + 1)
    padded = np.pad(inner, _ABOUT) ** 2
    rows, columns = (at[:, k, None, None] + _ABOUT + offset for k, offset in ((1, steps[:, None]), (0, steps[None, :])))
    weight = padded[rows, columns]
    total = weight.sum(axis=(1, 2))
    moved = np.column_stack([(weight * steps[None, :]).sum(axis=(1, 2)), (weight * steps[:, None]).sum(axis=(1, 2))])
    return np.asarray(at + moved / total[:, None])
