"""A simulated stencil under light: what a technician would grade on each step.

Cure by Beer–Lambert; detail closes as scattered light reaches the gel dose under the film's edge.
Source: Jacobs, Rapid Prototyping & Manufacturing (1992), working curve.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from frimble.core.exposure.steptest.reading import Grade, StepGrade
from frimble.core.simulation.screen.light import slit_with, spread_that_closes


@dataclass(frozen=True)
class SimulatedCoat:
    """True constants of a coat under a lamp, hidden from the rules that judge the test.

    Attributes:
        gel_s: time to the gel dose at the lamp side, s.
        cure_ratio: full cure over gel, exp(H / Dp).
        latitude: the finest detail starts to close at this multiple of full cure.
        detail_um: opening that closes there, µm.
    """

    gel_s: float
    cure_ratio: float = 5.0
    latitude: float = 1.6
    detail_um: float = 150.0

    @property
    def full_cure_s(self) -> float:
        return self.gel_s * self.cure_ratio

    def grade(self, time_s: float) -> str:
        cured = math.log(max(time_s / self.gel_s, 1e-9)) / math.log(self.cure_ratio)
        if cured < 0.8:
            return Grade.UNDER
        if cured < 1:
            return Grade.SHORT
        excess = time_s / self.full_cure_s
        if excess < self.latitude:
            return Grade.GOOD
        return Grade.CLOSING if excess < self.latitude * 1.7 else Grade.OVER

    def finest_opening_um(self, time_s: float) -> float:
        """Finest opening still clear, µm, to the steps of a target: light spreads so far that `detail_um` closes in time."""
        spread = spread_that_closes(self.detail_um, self.latitude * self.cure_ratio)
        true = slit_with(self.gel_s / max(time_s, self.gel_s), spread)
        return min((w for w in (50, 75, 100, 125, 150, 200, 250, 300, 400) if w >= true), default=500)


def read_test(coat: SimulatedCoat, times_s: Sequence[float]) -> list[StepGrade]:
    """What is seen on each strip of a test that gave `times_s` (strip 1 first)."""
    seen = []
    for strip, time in enumerate(times_s, start=1):
        grade = coat.grade(time)
        opening = coat.finest_opening_um(time) if grade != Grade.UNDER else None
        seen.append(StepGrade(strip, time, grade, opening))
    return seen
