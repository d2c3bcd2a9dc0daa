"""Times of untested combinations where lamps have spectra, screens differ in coat and damp, and readers err.

Cure is by what reaches the back of the emulsion in each band, so that lamp and emulsion act together and no one depth
holds; the light passes the emulsion between the threads, not the fabric's whole thickness.
"""

import math
from dataclasses import dataclass

import numpy as np

from frimble.core.exposure.chart import learning
from frimble.core.exposure.chart.learning import CalibratedTest, CellFacts
from frimble.core.exposure.light.kinds import KINDS
from frimble.core.exposure.steptest.reading import StepGrade, read_grades
from frimble.core.simulation.exposure import grade
from frimble.core.verdicts import TestOutcome

_SHOPS, _SEED, _AFTER, _UNTESTED = 40, 91_000, (4, 12, 24), 20
# nm, and what each kind of lamp gives in each band, of its whole.
_BANDS = np.array([365.0, 385.0, 405.0, 425.0])
_SPECTRA = {
    "led": (0.02, 0.18, 0.7, 0.1),
    "metal_halide": (0.3, 0.2, 0.3, 0.2),
    "tubes": (0.35, 0.3, 0.2, 0.15),
    "halogen": (0.03, 0.12, 0.3, 0.55),
}
# What white and yellow thread let through around it, by band.
_THREAD = {False: np.ones(4), True: np.array([0.35, 0.4, 0.5, 0.6])}
# Fabric in µm, dyed or not.
_FABRICS = ((60, False), (75, True), (90, False), (95, True), (128, False), (130, True), (200, False), (270, False))


@dataclass(frozen=True)
class SpectralShop:
    """Lamps by name with light by band; emulsions with sensitivity and absorption (1/µm) by band; ln room; scatter."""

    lamps: dict
    emulsions: dict
    kinds: dict
    distances: dict
    fades: dict
    filled: float
    room: float
    room_falls: float
    lean: float
    scatter: float

    def cured_s(self, facts: CellFacts, fabric_um: float, luck: float) -> float:
        sensitive, absorbs = self.emulsions[facts.emulsion]
        depth = (self.filled * fabric_um + facts.stencil_um - fabric_um) * luck
        clear = 10 ** (-facts.dmin * np.array([1.4, 1.15, 1.0, 0.9]))
        light = self.lamps[facts.lamp] * _THREAD[facts.yellow] * clear * sensitive * np.exp(-absorbs * depth)
        away = (self.distances[facts.lamp] / 500) ** 2 if facts.distance_mm else 1.0
        aged = math.exp(self.fades[facts.lamp] * min(facts.hours, 4000) / 1000 + 0.2 * facts.age)
        return away * aged / float(light.sum())

    def closes_s(self, cured: float, facts: CellFacts) -> float:
        return cured * math.exp(self.room - self.room_falls * math.log(facts.stencil_um / 147))


def spectral_shop(rng) -> SpectralShop:
    names = list(rng.permutation(list(_SPECTRA)))[:3]
    lamps = {f"{k}": np.array(_SPECTRA[k]) * math.exp(rng.normal(0, 0.5)) / KINDS[k].usual_s for k in names}
    emulsions = {}
    for name in ("one", "two", "three"):
        at, width = rng.uniform(370, 400), rng.uniform(18, 40)
        sensitive = np.exp(-(((_BANDS - at) / width) ** 2)) * math.exp(rng.normal(0, 0.4))
        emulsions[name] = sensitive, sensitive / sensitive.max() / rng.uniform(60, 180) + 1 / rng.uniform(250, 600)
    return SpectralShop(
        lamps,
        emulsions,
        {k: k for k in names},
        {k: float(rng.choice([400, 700, 1000])) for k in names},
        {k: float(rng.uniform(0, 0.25)) * KINDS[k].fades for k in names},
        float(rng.uniform(0.55, 0.95)),
        float(rng.uniform(math.log(1.5), math.log(2.6))),
        float(rng.uniform(0.1, 0.5)),
        float(rng.normal(0, 0.05)),
        float(rng.uniform(0.04, 0.09)),
    )


def _cells(shop, rng) -> list[tuple[CellFacts, float]]:
    """Every combination with its fabric, shuffled; no light but a halide's or a halogen's falls off with distance."""
    cells = []
    for fabric, yellow in _FABRICS:
        for share in (0.1, 0.18, 0.3):
            for lamp, kind in shop.kinds.items():
                for emulsion in shop.emulsions:
                    for dmin in (0.05, 0.12):
                        point = kind in ("metal_halide", "halogen")
                        facts = CellFacts(
                            fabric * (1 + share),
                            yellow,
                            dmin,
                            emulsion,
                            lamp,
                            shop.distances[lamp] if point else None,
                            float(rng.integers(0, 3000)),
                            float(rng.uniform(0, 0.9)),
                            KINDS[kind].usual_s,
                            KINDS[kind].fades,
                            fabric,
                        )
                        cells.append((facts, fabric))
    return [cells[k] for k in rng.permutation(len(cells))]


def _tested(shop, facts, fabric, rng, settings):
    """A test's ends as the reader's grades tell them, repeated around its advice; None when it never brackets."""
    luck, off = math.exp(rng.normal(0, 0.06)), math.exp(rng.normal(0, shop.scatter))
    cured = shop.cured_s(facts, fabric, luck) * off
    closes = shop.closes_s(cured, facts)
    guess = cured * math.exp(rng.normal(0.3, 0.5))
    for _ in range(5):
        times = [guess * 2 ** ((3.5 - k) / 2) for k in range(8)]
        seen = [(cured, closes)[k] * math.exp(shop.lean + rng.normal(0, 0.05)) for k in (0, 1)]
        steps = [StepGrade(n, t, grade(t, *seen)) for n, t in enumerate(times, start=1)]
        result = read_grades(steps, "middle", 150, settings)
        if result.outcome == TestOutcome.WINDOW:
            window = result.window
            return CalibratedTest(facts, (window.cured.low, window.cured.high), (window.closes.low, window.closes.high))
        guess = result.next_guess_s or guess * 1.1
    return None


def shop_figures(seed: int, settings) -> dict[int, tuple[list[float], list[bool], list[bool]]]:
    """By number of tests: errors of the middle, whether the interval held it, whether a time told lay in the window."""
    rng = np.random.default_rng(seed)
    shop = spectral_shop(rng)
    waiting, taken, figures = _cells(shop, rng), [], {}
    for after in _AFTER:
        while len(taken) < after:
            facts, fabric = waiting.pop()
            if test := _tested(shop, facts, fabric, rng, settings):
                taken.append(test)
        figures[after] = _predicted(shop, waiting[:_UNTESTED], learning.learn(taken, settings), rng, settings)
    return figures


def _predicted(shop, cells, known, rng, settings):
    off, held, right = [], [], []
    for facts, fabric in cells:
        if facts.lamp not in known.lamps:
            continue
        cured = shop.cured_s(facts, fabric, math.exp(rng.normal(0, 0.06)))
        closes = shop.closes_s(cured, facts)
        middle, estimate = math.sqrt(cured * closes), learning.predict(facts, known)
        off.append(abs(estimate.known / middle - 1))
        held.append(estimate.interval.low <= middle <= estimate.interval.high)
        told = learning.told(facts, known, settings)
        if not told.refused:
            right.append(cured <= told.known <= closes)
    return off, held, right


def figures(settings) -> str:
    shops = [shop_figures(_SEED + k, settings) for k in range(_SHOPS)]
    lines = [
        f"untested exposures, spectra and scatter, {_SHOPS} shops (wanted: 17 % after 12, 15 % after 24; 85–97 %; 85 %)"
    ]
    for after in _AFTER:
        off, held, right = (np.concatenate([s[after][k] for s in shops]) for k in range(3))
        lines.append(
            f"  after {after}: median error {np.median(off):.1%}, interval holds {held.mean():.1%}, a time is told for "
            f"{len(right) / len(off):.0%} and lies in the true window in {right.mean():.1%}"
        )
    return "\n".join(lines)
