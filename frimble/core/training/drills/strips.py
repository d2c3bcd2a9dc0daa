"""The strips of a step test as the simulated screen gives them, against the light."""

import math
import random
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import erfinv

from frimble.core.simulation.screen.light import Exposure, exposure
from frimble.core.training.drills.against_light import OPENING_UM, Grey, Mask, against_light

WIDTHS_UM = (300, 200, 150, 100, 75)
# Each width is a whole number of pixels: a line drawn broader than it is would stay open longer.
PX_MM, STRIP_MM, ROW_MM, HEAD_MM = 40.0, 6.4, 3.4, 1.0
_LINE_MM, _APART_MM, _SIDE_MM, _LINES = 2.6, 1.3, 1.0, 4
_MOSTLY = 0.8
_THICKNESS_UM, _OVER_UM, _CURE_RATIO, _DMAX, _DMIN = 75.0, 12.0, 5.0, 3.3, 0.05
# Under the rows there is room for a word.
HIGH_MM = HEAD_MM + ROW_MM * len(WIDTHS_UM) + 1.2


@dataclass(frozen=True)
class TestedCoat:
    """A coat whose full cure and latitude are known.

    Attributes:
        full_s: cures it through. latitude: so many times that long, a line of `wanted_um` closes.
    """

    full_s: float
    latitude: float
    wanted_um: float

    def light(self, time_s: float) -> Exposure:
        """It under so many seconds; light spreads so far that the wanted line closes when it is to."""
        share = 1 / (_CURE_RATIO * self.latitude)
        leak = 10 ** -(_DMAX - _DMIN)
        spread = self.wanted_um / (2 * math.sqrt(2) * float(erfinv((1 - share) / (1 - leak))))
        return exposure(
            thickness_um=_THICKNESS_UM, over_mesh_um=_OVER_UM, time_s=time_s, full_s=self.full_s,
            gel_s=self.full_s / _CURE_RATIO, dmax=_DMAX, dmin=_DMIN, spread_um=spread,
        )  # fmt: skip


@dataclass(frozen=True)
class Strips:
    """A washed step test.

    Attributes:
        photo: (h, w) grey of the strips side by side, each with rows of lines, the widest at the top.
        wanted_open: of each strip, whether all lines of the wanted width let light through over their length.
    """

    photo: Grey
    wanted_open: tuple[bool, ...]


def washed_strips(times: Sequence[float], coat: TestedCoat, rng: random.Random) -> Strips:
    """The strips that a coat gives at these times."""
    # The image library loads with the first test, not with the first page.
    from frimble.core.simulation.screen.standing import stencil

    film = _film()
    opened = [stencil(film, PX_MM, coat.light(time), OPENING_UM).open_.astype(bool) for time in times]
    row = _row_of(round(coat.wanted_um))
    lines = np.asarray(film[row].any(axis=0))
    through = tuple(_pass_light(one[row], lines) for one in opened)
    return Strips(against_light(np.hstack(opened), PX_MM, rng), through)


def _row_of(width_um: int) -> slice:
    top = HEAD_MM + ROW_MM * WIDTHS_UM.index(width_um)
    return slice(round(top * PX_MM), round((top + _LINE_MM) * PX_MM))


def _pass_light(open_: Mask, lines: Mask) -> bool:
    """Whether each line is open over most of its length, however narrow.

    Args:
        open_: (h, w) of the row. lines: (w,) True where the film has a line.
    """
    starts = np.flatnonzero(np.diff(lines.astype(int), prepend=0) == 1)
    ends = np.flatnonzero(np.diff(lines.astype(int), append=0) == -1) + 1
    return all(open_[:, a:b].any(axis=1).mean() > _MOSTLY for a, b in zip(starts, ends, strict=True))


def _film() -> Mask:
    """One strip of the film: black lines of each width."""
    black = np.zeros((round(HIGH_MM * PX_MM), round(STRIP_MM * PX_MM)), bool)
    for row, width_um in enumerate(WIDTHS_UM):
        top = HEAD_MM + ROW_MM * row
        for line in range(_LINES):
            begin, across = round((_SIDE_MM + _APART_MM * line) * PX_MM), round(width_um / 1000 * PX_MM)
            black[round(top * PX_MM) : round((top + _LINE_MM) * PX_MM), begin : begin + across] = True
    return black
