"""Places on a bare mesh that pass more or less light than clean mesh does: holes, emulsion left, ghosts."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import cv2
import numpy as np

from frimble.core.mesh.inspection.kinds import MeshFault

# Threads and the camera's grain are smoothed away over so many pixels of the upright picture; faint stains over more.
_SMOOTH, _FAINT_SMOOTH = 1.0, 3.0
# A hole passes so much more light than mesh; a stain so much less, or so many times the noise.
_HOLE, _STAIN, _FAINT, _NOISES = 1.18, 0.12, 0.045, 5.0
# Emulsion left passes less than this of the light its colour is seen in; a stain passes more.
_RESIDUE = 0.74
# Pieces so near, px, are one: drops of emulsion, and the parts of one old image.
_ONE_DROP, _ONE_IMAGE = 8, 70
_LEAST_HOLE, _LEAST_DROP, _LEAST_GHOST = 6, 12, 220
# Rough noise of the ratio, with the median for what is not noise.
_MAD = 1.4826


@dataclass(frozen=True)
class Stain:
    """A place: its box, left, top, width and height, in pixels until it is scaled; and its value.

    Attributes:
        value: light passed, 0..1, of emulsion left and ghosts; a hole's size across.
    """

    kind: MeshFault
    x: float
    y: float
    width: float
    height: float
    value: float

    def scaled(self, across: float, down: float) -> "Stain":
        """In lengths, of which a pixel is `across` wide and `down` high."""
        value = self.value * (across * down) ** 0.5 if self.kind is MeshFault.HOLE else self.value
        return replace(
            self, x=self.x * across, y=self.y * down, width=self.width * across, height=self.height * down, value=value
        )


def holes(passed: np.ndarray, inner: np.ndarray) -> Iterator[Stain]:
    """Places without threads: they pass more light than mesh in every colour.

    Args:
        passed: (h, w, 3) light as a share of clean mesh. inner: (h, w) bool, where the mesh is looked at.
    """
    least = cv2.GaussianBlur(passed.min(2), (0, 0), _SMOOTH)
    bar = max(_HOLE, 1 + _NOISES * _noise(least, inner))
    number, _, boxes, _ = cv2.connectedComponentsWithStats(((least > bar) & inner).astype(np.uint8), connectivity=8)
    for x, y, wide, high, area in boxes[1:number]:
        if area >= _LEAST_HOLE:
            yield Stain(MeshFault.HOLE, float(x), float(y), float(wide), float(high), 2 * float(area / np.pi) ** 0.5)


def stains(passed: np.ndarray, inner: np.ndarray) -> Iterator[Stain]:
    """Emulsion left, each drop by itself; ghosts, the parts of one image together."""
    dark = passed.min(2)
    near = cv2.GaussianBlur(dark, (0, 0), _SMOOTH)
    strong = (near < 1 - max(_STAIN, _NOISES * _noise(near, inner))) & inner
    drops = np.zeros(inner.shape, bool)
    for window, core in _groups(strong, _ONE_DROP):
        deep = float(np.percentile(near[window][core], 25))
        if deep < _RESIDUE and int(core.sum()) >= _LEAST_DROP:
            drops[window] |= core
            yield _stain(MeshFault.RESIDUE, window, core, near)
    yield from _ghosts(dark, inner, drops)


def _ghosts(dark: np.ndarray, inner: np.ndarray, drops: np.ndarray) -> Iterator[Stain]:
    """Faint stains, emulsion left apart."""
    around = cv2.dilate(drops.astype(np.uint8), np.ones((15, 15), np.uint8)) > 0
    faint = cv2.GaussianBlur(dark, (0, 0), _FAINT_SMOOTH)
    place = (faint < 1 - max(_FAINT, _NOISES * _noise(faint, inner))) & inner & ~around
    place = cv2.morphologyEx(place.astype(np.uint8), cv2.MORPH_OPEN, np.ones((3, 3), np.uint8)) > 0
    for window, core in _groups(place, _ONE_IMAGE):
        if int(core.sum()) >= _LEAST_GHOST:
            yield _stain(MeshFault.GHOST, window, core, faint)


def _noise(values: np.ndarray, inner: np.ndarray) -> float:
    """Spread of clean mesh: by its bright half, which stains do not reach."""
    seen = values[inner]
    middle = float(np.median(seen))
    above = seen[seen >= middle] - middle
    return _MAD * float(np.median(above)) if above.size else 0.0


def _groups(places: np.ndarray, apart: int) -> Iterator[tuple[tuple[slice, slice], np.ndarray]]:
    """(window, what is set in it) of each place; pieces nearer than `apart` pixels are one."""
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (apart + 1, apart + 1))
    wide = cv2.dilate(places.astype(np.uint8), disc)
    number, labels, boxes, _ = cv2.connectedComponentsWithStats(wide, connectivity=8)
    for k in range(1, number):
        x, y, w, h, _ = boxes[k]
        window = slice(y, y + h), slice(x, x + w)
        core = (labels[window] == k) & places[window]
        if core.any():
            yield window, core


def _stain(kind: MeshFault, window: tuple[slice, slice], core: np.ndarray, light: np.ndarray) -> Stain:
    rows, columns = np.nonzero(core)
    left, top = window[1].start + int(columns.min()), window[0].start + int(rows.min())
    wide, high = int(np.ptp(columns)) + 1, int(np.ptp(rows)) + 1
    passes = min(1.0, float(np.median(light[window][core])))
    return Stain(kind, float(left), float(top), float(wide), float(high), passes)
