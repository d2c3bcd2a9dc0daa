"""Where the stencil will not be what the film asks: closed openings, stencil that washes away, lost dots, rough edges."""

from collections.abc import Iterator
from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from frimble.core.simulation.screen.light import Exposure
from frimble.core.simulation.screen.standing import Mask, Standing
from frimble.core.stencil.proof.kinds import ProofFinding, ProofKind

# A dot is about as wide as high, and fills its box like a disc or a square.
_ROUNDISH, _FILLS = 1.6, 0.55
# Dots nearer than this to one another are one finding, mm.
_TOGETHER_MM = 2.0
# Fewer than this many small openings are no halftone.
_FEWEST_DOTS = 6
_MOST_FINDINGS = 400
# Edges within so many pixels of where they belong are no finding; corners are rounded by more than edges move.
_EDGE_PX, _CORNER = 2, 2**0.5


@dataclass(frozen=True)
class Cloth:
    """What of a mesh decides: opening and thread, µm, and over how much emulsion edges run straight."""

    opening_um: float
    thread_um: float
    straight_from_um: float

    @property
    def dot_floor_um(self) -> float:
        """A dot holds that spans one opening and its two threads. Common practice."""
        return self.opening_um + 2 * self.thread_um


def findings(
    black: npt.NDArray[np.bool_], stands: Standing, px_mm: float, light: Exposure, cloth: Cloth
) -> list[ProofFinding]:
    """Everything that will not be as the film asks, the largest first of each kind."""
    found = [
        *_closed(black, stands, px_mm, light),
        *_washed_away(black, stands, px_mm, light, cloth),
        *_dots(black, px_mm, cloth),
        *_saw_tooth(black, px_mm, light, cloth),
    ]
    return found[:_MOST_FINDINGS]


def _closed(black: npt.NDArray[np.bool_], stands: Standing, px_mm: float, light: Exposure) -> list[ProofFinding]:
    """Black that no opening comes near: further in than a straight edge's creeping light reaches."""
    creeps = light.edge_um(light.gel_share)
    reach = _EDGE_PX if creeps is None else _EDGE_PX + max(0.0, creeps) / 1000 * px_mm * _CORNER
    closed = (black & (_grown(stands.open_ & black.astype(np.uint8), reach) == 0)).astype(np.uint8)
    if not closed.any():
        return []
    _, openings, boxes, _ = cv2.connectedComponentsWithStats(black.astype(np.uint8), connectivity=8)
    found = []
    for box, area, first in _boxes(closed):
        share = area / int(boxes[openings[first], cv2.CC_STAT_AREA])
        found.append(_finding(ProofKind.CLOSES, box, px_mm, share, _closed_words(light)))
    return found


def _closed_words(light: Exposure) -> str:
    finest = light.finest_open_um()
    if finest is None:
        return "The film's black lets enough light through at this time to gel the coat: it leaks."
    return f"Light creeps under the edges and meets in the middle: at this time openings under {finest:.0f} µm close."


def _washed_away(
    black: npt.NDArray[np.bool_], stands: Standing, px_mm: float, light: Exposure, cloth: Cloth
) -> list[ProofFinding]:
    """Clear film with no stencil near: too little light reached the threads, or it is too narrow to lie on any."""
    edge = light.edge_um(light.hold_share)
    retreat = max(0.0, -edge) / 1000 * px_mm * _CORNER if edge is not None else 0.0
    stencil = 1 - stands.open_
    gone = (~black & (_grown(stencil, _EDGE_PX + retreat) == 0)).astype(np.uint8)
    found = []
    for box, area, _ in _boxes(gone):
        width = area / max(box[2], box[3]) / px_mm * 1000
        found.append(_finding(ProofKind.WASHES_AWAY, box, px_mm, width, _away_words(light, cloth)))
    return found


def _away_words(light: Exposure, cloth: Cloth) -> str:
    held = light.finest_held_um()
    if held is None:
        return "At this time nothing hardens down to the threads: the whole stencil washes away."
    if held > cloth.opening_um:
        return f"Too little light reaches the threads here: at this time stencil under {held:.0f} µm washes away."
    return f"Narrower than an opening of {cloth.opening_um:.0f} µm it finds no thread to lie on, and breaks away."


def _dots(black: npt.NDArray[np.bool_], px_mm: float, cloth: Cloth) -> list[ProofFinding]:
    """Halftone dots, black or clear, smaller than what holds on the mesh; those near together as one."""
    found = []
    for mask, words in ((black, "dots of the highlights"), (~black, "holes of the shadows")):
        small, widths = _small_dots(mask.astype(np.uint8), px_mm, cloth.dot_floor_um)
        if len(widths) < _FEWEST_DOTS:
            continue
        middle = float(np.median(widths))
        why = (
            f"{words.capitalize()} of {middle:.0f} µm: a dot holds from {cloth.dot_floor_um:.0f} µm on, one opening and its "
            "two threads."
        )
        found += [_finding(ProofKind.DOT_LOST, box, px_mm, middle, why) for box in _together(small, px_mm)]
    return found


def _together(small: Mask, px_mm: float) -> list[tuple[int, int, int, int]]:
    """Boxes around dots that lie near each other, px; on cells so coarse that near ones touch."""
    cell = max(1, round(_TOGETHER_MM * px_mm))
    high, wide = (-(-n // cell) for n in small.shape)
    whole = np.pad(small, ((0, high * cell - small.shape[0]), (0, wide * cell - small.shape[1])))
    cells = whole.reshape(high, cell, wide, cell).max(axis=(1, 3))
    number, _, boxes, _ = cv2.connectedComponentsWithStats(np.ascontiguousarray(cells), connectivity=8)
    return [_tight(small, *(int(v) * cell for v in box[:4])) for box in boxes[1:number]]


def _tight(mask: Mask, x: int, y: int, wide: int, high: int) -> tuple[int, int, int, int]:
    """The box of what is set in a box."""
    part = mask[y : y + high, x : x + wide]
    rows, columns = np.flatnonzero(part.any(axis=1)), np.flatnonzero(part.any(axis=0))
    return x + int(columns[0]), y + int(rows[0]), int(np.ptp(columns)) + 1, int(np.ptp(rows)) + 1


def _small_dots(mask: Mask, px_mm: float, floor_um: float) -> tuple[Mask, npt.NDArray[np.float64]]:
    _, pieces, boxes, _ = cv2.connectedComponentsWithStats(mask, connectivity=4)
    wide, high, area = (boxes[:, k].astype(float) for k in (cv2.CC_STAT_WIDTH, cv2.CC_STAT_HEIGHT, cv2.CC_STAT_AREA))
    widths = np.sqrt(4 * area / np.pi) / px_mm * 1000
    roundish = (np.maximum(wide, high) <= _ROUNDISH * np.minimum(wide, high)) & (area >= _FILLS * wide * high)
    small = roundish & (widths < floor_um)
    small[0] = False
    return small[pieces].astype(np.uint8), widths[small]


def _saw_tooth(black: npt.NDArray[np.bool_], px_mm: float, light: Exposure, cloth: Cloth) -> list[ProofFinding]:
    """Edges follow the threads where the emulsion over them is too thin to bridge the openings."""
    if light.over_mesh_um >= cloth.straight_from_um or not black.any():
        return []
    teeth = cloth.opening_um / 2 * (1 - light.over_mesh_um / cloth.straight_from_um)
    rows, columns = np.flatnonzero(black.any(axis=1)), np.flatnonzero(black.any(axis=0))
    box = (columns[0], rows[0], columns[-1] - columns[0] + 1, rows[-1] - rows[0] + 1)
    why = (
        f"{light.over_mesh_um:.0f} µm over this mesh bridge its openings of {cloth.opening_um:.0f} µm badly; from "
        f"{cloth.straight_from_um:.0f} µm on edges run straight."
    )
    return [_finding(ProofKind.SAW_TOOTH, box, px_mm, teeth, why)]


def _grown(mask: Mask, radius_px: float) -> Mask:
    size = 2 * int(np.ceil(radius_px)) + 1
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    return np.asarray(cv2.dilate(np.ascontiguousarray(mask), disc))


def _boxes(mask: Mask) -> Iterator[tuple[tuple[int, int, int, int], int, tuple[int, int]]]:
    """Each piece's box, area and one of its pixels, the largest first."""
    _, pieces, boxes, _ = cv2.connectedComponentsWithStats(mask, connectivity=8)
    order = 1 + np.argsort(-boxes[1:, cv2.CC_STAT_AREA])[:_MOST_FINDINGS]
    for k in order:
        x, y, wide, high, area = (int(v) for v in boxes[k])
        rows, columns = np.nonzero(pieces[y : y + high, x : x + wide] == k)
        yield (x, y, wide, high), area, (y + int(rows[0]), x + int(columns[0]))


def _finding(kind: ProofKind, box: tuple[int, ...], px_mm: float, value: float, why: str) -> ProofFinding:
    x, y, wide, high = (float(v) / px_mm for v in box)
    return ProofFinding(kind, x, y, wide, high, value, why)
