"""Halftone patches on a film: ruling, angle, coverage and the smallest dot or hole, held against what the mesh holds."""

from dataclasses import dataclass

import cv2
import numpy as np

from frimble.core.film.detection.celltest import CellTest
from frimble.core.film.detection.halftones.lattice import Lattice
from frimble.core.film.detection.marks import SmallMarks, diameter_mm
from frimble.core.film.findings import NEAR_LIMIT, Finding, Limits, Tint, pixel_box
from frimble.core.film.scan.grid import Levels, Scan
from frimble.core.units import MM_PER_INCH

_FEWEST_DOTS = 12
_SAMPLED = 80


@dataclass(frozen=True)
class HalftonePatch:
    """A patch of dots (or holes): the tint, its members' centres (n, 2), their pitch and the gaps between its pieces, in
    pixels; no gaps where it is whole."""

    tint: Tint
    members: np.ndarray
    pitch_px: float
    gap_px: float = 0.0


def tints_of(
    scan: Scan, levels: Levels, dots: SmallMarks, lattice: Lattice, holes: bool, left_out: CellTest
) -> list[HalftonePatch]:
    """Every lattice patch of a dozen dots or more."""
    if not len(dots.areas):
        return []
    patches = []
    order = np.argsort(lattice.patch, kind="stable")
    numbers, starts = np.unique(lattice.patch[order], return_index=True)
    for number, members in zip(numbers, np.split(order, starts[1:]), strict=True):
        if number < 0 or len(members) < _FEWEST_DOTS or left_out(dots.centres[members[:1]])[0]:
            continue
        patches.append(_patch(scan, levels, dots.of(members), lattice, members, holes))
    return patches


def _patch(
    scan: Scan, levels: Levels, dots: SmallMarks, lattice: Lattice, members: np.ndarray, holes: bool
) -> HalftonePatch:
    pitch = float(np.median(lattice.pitch[members]))
    # Angles are of a square lattice: modulo 90°, averaged around the circle.
    around = np.exp(4j * np.radians(lattice.angle[members]))
    angle = float(np.degrees(np.angle(around.mean())) / 4) % 90
    x0, y0 = dots.boxes[:, :2].min(axis=0)
    x1, y1 = (dots.boxes[:, :2] + dots.boxes[:, 2:]).max(axis=0)
    areas = _dot_areas(scan, levels, dots, pitch, angle, holes)
    mean = float(np.median(areas)) / (pitch * scan.pixel_mm) ** 2
    tint = Tint(
        *pixel_box(x0, y0, x1, y1, scan.pixel_mm),
        ruling_lpi=MM_PER_INCH / (pitch * scan.pixel_mm),
        angle_deg=(-angle) % 90,
        coverage=float(np.clip(1 - mean if holes else mean, 0, 1)),
        smallest_mm=diameter_mm(float(np.quantile(areas, 0.1))),
        holes=holes,
    )
    return HalftonePatch(tint, dots.centres, pitch)


def _dot_areas(scan: Scan, levels: Levels, dots: SmallMarks, pitch: float, angle: float, holes: bool) -> np.ndarray:
    """Area of a sample of dots, mm²: the light that one lattice cell about each stops (or passes)."""
    picked = dots.centres[:: max(1, len(dots.areas) // _SAMPLED)]
    reach = int(np.ceil(pitch * 0.75)) + 1
    steps = np.arange(-reach, reach + 1)
    middles = np.rint(picked).astype(int)
    (high, wide), (columns, rows) = scan.codes.shape, ((m[:, None] + steps) for m in middles.T)
    codes = scan.codes[np.clip(rows, 0, high - 1)[:, :, None], np.clip(columns, 0, wide - 1)[:, None, :]]
    share = np.clip((scan.light(codes) - levels.black) / (levels.clear - levels.black), 0, 1)
    on_sheet = ((rows >= 0) & (rows < high))[:, :, None] & ((columns >= 0) & (columns < wide))[:, None, :]
    within = np.stack([_cell_share(place + reach, pitch, angle, len(steps)) for place in picked - middles])
    return np.asarray((within * on_sheet * (share if holes else 1 - share)).sum(axis=(1, 2)) * scan.pixel_mm**2)


def _cell_share(middle: np.ndarray, pitch: float, angle: float, side: int) -> np.ndarray:
    """Share of each pixel of a square window that lies in the lattice cell about a place, x and y, in it."""
    half, turn = pitch / 2, np.radians(angle)
    corners = np.array([[-half, -half], [half, -half], [half, half], [-half, half]])
    turned = corners @ np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]]) + middle
    mask = np.zeros((side * 4, side * 4), np.uint8)
    cv2.fillConvexPoly(mask, np.round((turned + 0.5) * 4 * 16 - 8).astype(np.int32), 255, shift=4)
    return cv2.resize(mask, (side, side), interpolation=cv2.INTER_AREA) / np.float64(255)


def too_small(patches: list[HalftonePatch], limits: Limits) -> list[Finding]:
    """A finding for each patch whose smallest dot or hole is under what holds."""
    return [
        Finding("small_dot", p.tint.x_mm, p.tint.y_mm, p.tint.width_mm, p.tint.height_mm, p.tint.smallest_mm)
        for p in patches
        if p.tint.smallest_mm < NEAR_LIMIT * limits.dot_mm
    ]
