"""The time that keeps most of a film: too short washes it away, too long closes it; never under full cure."""

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from frimble.core.conclusions import RuleViolation
from frimble.core.simulation.screen.standing import stencil
from frimble.core.stencil.proof.constants import Cures, ProofConstants
from frimble.core.stencil.proof.findings import Cloth

# From somewhat under full cure to several times beyond it.
_TRIED = tuple(float(v) for v in np.geomspace(0.5, 4.0, 16))
_AT_FULL = 0.999
# So much is looked at: tiles with most edges, each so large, mm.
_TILES, _TILE_MM = 4, 12.0
# Within so much of the best a time is as good.
_AS_GOOD = 0.002


@dataclass(frozen=True)
class TimeTried:
    """One time: the share of the film's black that closes, of its clear parts near an edge that wash away."""

    time_s: float
    closed: float
    washed: float

    @property
    def lost(self) -> float:
        return self.closed + self.washed


@dataclass(frozen=True)
class BestTime:
    """The middle of the times that lose least of those that cure the coat through, and all that were tried."""

    time_s: float
    low_s: float
    high_s: float
    tried: tuple[TimeTried, ...]


def best_time(black: npt.NDArray[np.bool_], px_mm: float, known: ProofConstants, cloth: Cloth) -> BestTime:
    """The time for this film on this coat.

    Raises:
        RuleViolation: at no time does anything of the image stand.
    """
    tiles = busiest_tiles(black, px_mm)
    tried = tuple(_tried(tiles, px_mm, known, share * known.full_s.value, cloth) for share in _TRIED)
    cured = [t for t in tried if t.time_s >= known.full_s.value * _AT_FULL]
    least = min(t.lost for t in cured)
    if least >= 1:
        raise RuleViolation(
            "At no time does the image stand: the film's black leaks too much, or the coat is too thick."
        )
    good = [t.time_s for t in cured if t.lost <= least + _AS_GOOD]
    return BestTime(float(np.sqrt(good[0] * good[-1])), good[0], good[-1], tried)


def _tried(
    tiles: Sequence[npt.NDArray[np.bool_]], px_mm: float, known: ProofConstants, time_s: float, cloth: Cloth
) -> TimeTried:
    light = known.light(time_s, Cures.USUALLY)
    closed = openings = washed = edges = 0
    for black in tiles:
        open_ = stencil(black, px_mm, light, cloth.opening_um).open_
        near = _near_edges(black, px_mm)
        openings += int(black.sum())
        closed += int((black & (open_ == 0)).sum())
        edges += int(near.sum())
        washed += int((near & (open_ == 1)).sum())
    return TimeTried(time_s, closed / max(1, openings), washed / max(1, edges))


def _near_edges(black: npt.NDArray[np.bool_], px_mm: float) -> npt.NDArray[np.bool_]:
    """Clear film within half a mm of black: what lies farther off says nothing of the image."""
    size = 2 * max(1, round(px_mm / 2)) + 1
    grown = cv2.dilate(black.astype(np.uint8), np.ones((size, size), np.uint8))
    return np.asarray((grown > 0) & ~black)


def busiest_tiles(black: npt.NDArray[np.bool_], px_mm: float) -> list[npt.NDArray[np.bool_]]:
    """Parts of the film with most edges in them."""
    side = max(8, round(_TILE_MM * px_mm))
    return [black[top : top + side, left : left + side] for top, left in busiest(black, side)[:_TILES]]


def busiest(black: npt.NDArray[np.bool_], side: int) -> list[tuple[int, int]]:
    """Squares of the film, top and left, px, those with most edges in them first; squares without any are left out."""
    high, wide = black.shape
    found = []
    for top in range(0, high, side):
        for left in range(0, wide, side):
            tile = black[top : top + side, left : left + side]
            edges = int((tile[:, 1:] != tile[:, :-1]).sum()) + int((tile[1:] != tile[:-1]).sum())
            found.append((edges, top, left))
    found.sort(key=lambda f: (-f[0], f[1], f[2]))
    return [(top, left) for edges, top, left in found if edges]
