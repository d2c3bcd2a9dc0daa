"""A photo of a bare mesh after its reclaim: what is left on it and where, or a refusal with its reason."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from time import perf_counter

import cv2
import numpy as np

from frimble.core.mesh.inspection.inside import find_inside, laid_upright
from frimble.core.mesh.inspection.kinds import MeshFault
from frimble.core.mesh.inspection.places import Stain, holes, stains
from frimble.core.photo.light import linear
from frimble.core.photo.surfaces import over, terms

# Long side of the upright picture, px; the light's surface is fitted to so many of its places.
_LONG, _SAMPLE, _ROUNDS = 1600, 12_000, 7
_DEGREE = 3
# Where light falls below this share of the brightest nothing is told; so much may be burnt out.
_DARKEST, _BURNT, _MOST_BURNT = 0.12, 0.985, 0.25
# What lies so near the frame is its shadow, share of the inside.
_RIM = 0.012
# The inside's sides may be so many times off in their ratio: bars are often typed by the house's usual ones.
_UNLIKE = 1.18


@dataclass(frozen=True)
class MeshInspection:
    """What a photo says of a bare mesh.

    Attributes:
        refused: the reason where nothing can be said; "" else.
        findings: boxes in mm of the frame's inside where its size is known, else in shares of its sides.
        in_mm: which of the two. seconds: that the work took.
        upright: (h, w, 3) uint8, the inside as it was looked at; None where it was refused.
    """

    refused: str
    findings: tuple[Stain, ...] = ()
    in_mm: bool = False
    seconds: float = 0.0
    upright: np.ndarray | None = None

    @property
    def passed(self) -> bool:
        """Whether it may be coated: a ghost alone does not fail it."""
        return not self.refused and all(f.kind is MeshFault.GHOST for f in self.findings)


def inspect_mesh(
    photo: np.ndarray,
    size_mm: tuple[float, float] | None = None,
    corners: Sequence[tuple[float, float]] = (),
) -> MeshInspection:
    """Look at a bare mesh.

    Args:
        photo: (h, w, 3) uint8 sRGB against an even light, upright.
        size_mm: width and height of the frame's inside. corners: photo pixels of its top left, top right, bottom right,
            bottom left; found by its edges without them.
    """
    began = perf_counter()
    return replace(_inspected(photo, size_mm, corners), seconds=perf_counter() - began)


def _inspected(
    photo: np.ndarray, size_mm: tuple[float, float] | None, corners: Sequence[tuple[float, float]]
) -> MeshInspection:
    found = np.array(corners, float) if corners else None
    if found is None:
        inside = find_inside(linear(photo[:, :, 1]))
        if inside is None:
            return MeshInspection(
                "No mesh is seen against light: hold it before an even light, the frame upright in view."
            )
        found = inside.corners
        if size_mm and not _shaped_alike(found, size_mm):
            return MeshInspection(
                "The frame's inside is not seen whole: hold it upright, evenly lit, all of it in view."
            )
    upright = laid_upright(photo, found, _size(found, size_mm))
    light = np.dstack([linear(np.ascontiguousarray(upright[:, :, c])) for c in range(3)])
    if float((light > _BURNT).all(2).mean()) > _MOST_BURNT:
        return MeshInspection("The light is burnt out: faint stains cannot be seen. Take it with less exposure.")
    passed = np.dstack([light[:, :, c] / _open_light(light[:, :, c]) for c in range(3)])
    level = cv2.GaussianBlur(light.mean(2), (0, 0), 8)
    if float(np.percentile(level, 2)) < _DARKEST * float(np.percentile(level, 98)):
        return MeshInspection("The light is too uneven: part of the mesh is dark. Hold it before an even light.")
    to_size = (size_mm or (1.0, 1.0))[0] / upright.shape[1], (size_mm or (1.0, 1.0))[1] / upright.shape[0]
    rim = round(_RIM * max(upright.shape[:2]))
    inner = np.zeros(upright.shape[:2], bool)
    inner[rim:-rim, rim:-rim] = True
    faults = [*holes(passed, inner), *stains(passed, inner)]
    placed = sorted((f.scaled(*to_size) for f in faults), key=lambda f: (f.kind, f.y, f.x))
    return MeshInspection("", tuple(placed), size_mm is not None, upright=upright)


def _shaped_alike(corners: np.ndarray, size_mm: tuple[float, float]) -> bool:
    """Whether what was found is as wide to its height as the frame's inside."""
    sides = np.linalg.norm(np.roll(corners, -1, 0) - corners, axis=1)
    seen = float((sides[0] + sides[2]) / (sides[1] + sides[3]))
    return 1 / _UNLIKE < seen / (size_mm[0] / size_mm[1]) < _UNLIKE


def _size(corners: np.ndarray, size_mm: tuple[float, float] | None) -> tuple[int, int]:
    """Width and height, px, of the upright picture."""
    sides = np.linalg.norm(np.roll(corners, -1, 0) - corners, axis=1)
    wide, high = size_mm or (float(sides[0] + sides[2]), float(sides[1] + sides[3]))
    factor = min(_LONG, float(sides.max())) / max(wide, high)
    return max(32, round(wide * factor)), max(32, round(high * factor))


def _open_light(light: np.ndarray) -> np.ndarray:
    """(h, w) light of clean mesh: a smooth surface that what is darker or brighter does not move."""
    high, wide = light.shape
    step = max(1, round(math.sqrt(high * wide / _SAMPLE)))
    rows, columns = (v.ravel() for v in np.mgrid[0:high:step, 0:wide:step])
    values = np.log(np.maximum(cv2.blur(light, (5, 5))[rows, columns], 1e-3))
    at = terms(columns / wide - 0.5, rows / high - 0.5, _DEGREE)
    # Clean mesh is the brightest there is much of: stains pull a fit down, so that places below it count less and less.
    start = values > np.percentile(values, 40)
    fit = np.linalg.lstsq(at[start], values[start], rcond=None)[0]
    for _ in range(_ROUNDS):
        off = values - at @ fit
        scale = max(1.4826 * float(np.median(np.abs(off[off > -0.1]))) if (off > -0.1).any() else 0.05, 0.01)
        weight = 1 / (1 + (off / (scale * np.where(off < 0, 1.5, 2.5))) ** 2)
        fit = np.linalg.lstsq(at * weight[:, None], values * weight, rcond=None)[0]
    return np.asarray(np.exp(over(fit, light.shape)))
