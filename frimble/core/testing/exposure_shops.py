"""Simulated shops with hidden constants: twelve step tests each, then the untested predicted; for tests and benches."""

import math
import random
from dataclasses import dataclass

from frimble.core.conclusions import Settings
from frimble.core.exposure.chart import learning as exposure_learning
from frimble.core.exposure.chart.learning import CalibratedTest, CellFacts
from frimble.core.exposure.steptest.reading import StepTestResult, read_grades
from frimble.core.simulation import exposure
from frimble.core.simulation.exposure import HiddenShop
from frimble.core.verdicts import TestOutcome

TESTS, FORETOLD = 12, 20
_FABRICS = ((128, False), (92, True), (63, True), (128, True), (290, False), (78, False))


@dataclass(frozen=True)
class Predictions:
    """One shop: errors of what was predicted, shares of the truth; whether intervals held, and tests' times were right."""

    off: list[float]
    held: list[bool]
    right: list[bool]


def cells(rng: random.Random) -> list[CellFacts]:
    """Every combination of a made-up shop, shuffled."""
    combinations = [
        CellFacts(fabric * (1 + share), yellow, dmin, emulsion, lamp, distance, hours, rng.choice([0, 0.3, 0.7]))
        for fabric, yellow in _FABRICS
        for share in (0.1, 0.18, 0.35)
        for lamp, distance, hours in (("Lantern A", 400, 0), ("Old Harbour", 1000, 600))
        for emulsion in ("Saltern Dual", "Saltern Diazo 10", "Plover Quick")
        for dmin in (0.05, 0.12)
    ]
    rng.shuffle(combinations)
    return combinations


def a_test(shop: HiddenShop, facts: CellFacts, rng: random.Random, settings: Settings) -> StepTestResult | None:
    """A step test, repeated around its own advice until its window is bracketed; None when it never is."""
    guess = shop.cured_s(facts) * math.exp(rng.gauss(0.3, 0.35))
    for _ in range(5):
        times = [guess * 2 ** ((3.5 - k) / 2) for k in range(8)]
        result = read_grades(exposure.step_test(shop, facts, times, rng), "middle", 150, settings)
        if result.outcome == TestOutcome.WINDOW:
            return result
        guess = result.next_guess_s or guess * 1.1
    return None


def predicted(seed: int, settings: Settings, tests: int = TESTS) -> Predictions:
    """So many tests of a hidden shop, then twenty combinations it never tested."""
    shop, rng = exposure.hidden_shop(seed), random.Random(seed + 1000)
    waiting, predictions = cells(rng), Predictions([], [], [])
    taken: list[CalibratedTest] = []
    while len(taken) < tests:
        facts = waiting.pop()
        result = a_test(shop, facts, rng, settings)
        if result and result.window.cured and result.window.closes:
            cured, closes = result.window.cured, result.window.closes
            taken.append(CalibratedTest(facts, (cured.low, cured.high), (closes.low, closes.high)))
            predictions.right.append(shop.cured_s(facts) <= result.recommended.known <= shop.closes_s(facts))
    known = exposure_learning.learn(taken, settings)
    for facts in waiting[:FORETOLD]:
        time = exposure_learning.predict(facts, known)
        middle = math.sqrt(shop.cured_s(facts) * shop.closes_s(facts)) * math.exp(rng.gauss(0, shop.scatter))
        predictions.off.append(abs(time.known / middle - 1))
        predictions.held.append(time.interval.low <= middle <= time.interval.high)
    return predictions
