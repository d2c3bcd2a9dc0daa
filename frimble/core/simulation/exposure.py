"""A simulated shop's hidden laws of exposure: what every combination's true window is, and what a step test of it shows.

It only makes up results; nothing is judged. Source: Jacobs, Rapid Prototyping & Manufacturing (1992), working curve.
"""

import math
import random
from collections.abc import Sequence
from dataclasses import dataclass

from frimble.core.exposure.chart.learning import CellFacts
from frimble.core.exposure.steptest.reading import Grade, StepGrade

_OVER = 1.7
_HELD = 0.8


@dataclass(frozen=True)
class HiddenShop:
    """True constants of one shop.

    Attributes:
        base_s: full cure of an ordinary stencil under the first lamp. reach_um: depth light falls to 1/e in.
        yellow, fading, ageing: factors as logarithms. distance_power: of the distance. lamps, emulsions: their logarithms.
        room: ln of closing over cure; room_thick: its change for `reach_um` more; scatter: ln from test to test.
    """

    base_s: float
    reach_um: float
    yellow: float
    distance_power: float
    fading: float
    ageing: float
    lamps: dict[str, float]
    emulsions: dict[str, float]
    room: float
    room_thick: float
    scatter: float

    def cured_s(self, facts: CellFacts) -> float:
        """True full cure, s."""
        ln = (facts.stencil_um - 147) / self.reach_um + self.yellow * facts.yellow + math.log(10) * facts.dmin
        ln += self.distance_power * math.log((facts.distance_mm or 500) / 500) + self.fading * facts.hours / 1000
        return self.base_s * math.exp(
            ln + self.lamps[facts.lamp] + self.emulsions[facts.emulsion] + self.ageing * facts.age
        )

    def closes_s(self, facts: CellFacts) -> float:
        """True time at which the finest wanted detail closes, s."""
        return self.cured_s(facts) * math.exp(self.room + self.room_thick * (facts.stencil_um - 147) / self.reach_um)


def hidden_shop(seed: int) -> HiddenShop:
    """A shop from a fixed seed, within what is usual."""
    rng = random.Random(seed)
    return HiddenShop(
        math.exp(rng.gauss(math.log(40), 0.8)),
        rng.uniform(65, 125),
        math.log(rng.uniform(1.3, 2.0)),
        rng.uniform(1.6, 2.1),
        rng.uniform(0, 0.3),
        rng.uniform(0, 0.25),
        {"Lantern A": 0.0, "Old Harbour": rng.gauss(0.3, 0.6)},
        {"Saltern Dual": 0.0, "Saltern Diazo 10": rng.gauss(0.4, 0.3), "Plover Quick": rng.gauss(-0.7, 0.3)},
        rng.uniform(math.log(1.5), math.log(2.6)),
        -rng.uniform(0.1, 0.3),
        rng.uniform(0.03, 0.08),
    )


def grade(time_s: float, cured_s: float, closes_s: float) -> str:
    """What a step of so many seconds is, its window being known."""
    if time_s < cured_s:
        return Grade.SHORT if time_s > _HELD * cured_s else Grade.UNDER
    if time_s < closes_s:
        return Grade.GOOD
    return Grade.CLOSING if time_s < _OVER * closes_s else Grade.OVER


def step_test(shop: HiddenShop, facts: CellFacts, times_s: Sequence[float], rng: random.Random) -> list[StepGrade]:
    """A step test's steps as a careful reader grades them, off by the shop's scatter from test to test."""
    off = math.exp(rng.gauss(0, shop.scatter))
    cured, closes = shop.cured_s(facts) * off, shop.closes_s(facts) * off
    return [StepGrade(n, t, grade(t, cured, closes)) for n, t in enumerate(times_s, start=1)]
