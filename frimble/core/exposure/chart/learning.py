"""Exposure of combinations nobody has tested, from physics and the shop's own step tests.

ln of full cure is linear in the stencil's thickness (mesh and coat) over the depth light reaches, in the film's clear
density, in the logarithm of the lamp's distance, in its hours and the emulsion's age; yellow mesh, each lamp and each
emulsion have a part of their own. How much longer the finest detail lasts is learned beside it. The prior is common
practice; a prediction is never a calibrated time.

Source: Jacobs, Rapid Prototyping & Manufacturing (1992), working curve, for the thickness; inverse-square law for distance.
"""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from frimble.core.conclusions import Conclusion, Settings
from frimble.core.statistics import learning
from frimble.core.statistics.interval import Interval, around
from frimble.core.statistics.learning import Belief
from frimble.core.statistics.normal import Z_90
from frimble.core.units import show_seconds
from frimble.core.verdicts import TimeRests

# An ordinary stencil, lamp and window, about which the prior is written down.
_STENCIL_UM, _DISTANCE_MM, _TIME_S, _HEADROOM = 147.0, 500.0, 40.0, 1.9
# A lamp has faded most by then; what burns on for years does not lose as much again each time.
_FADES_FOR_H = 3000.0
# How tests of one combination differ is known better than from four of them.
_NOISE_RECORDS = 12


@dataclass(frozen=True)
class CellFacts:
    """What an exposure rests on.

    Attributes:
        stencil_um: mesh and coat together. yellow: dyed mesh. dmin: clear film to the lamp's light.
        emulsion, lamp: which. age: share of the batch's life that was used. distance_mm: of a lamp that is small against
            it, which alone falls off with its square; None for tubes, panels and the sun.
        hours: the lamp had burned. usual_s: what such lamps usually take. fades: how fast such lamps do, of the usual.
    """

    stencil_um: float
    yellow: bool
    dmin: float
    emulsion: str
    lamp: str
    distance_mm: float | None
    hours: float = 0.0
    age: float = 0.0
    usual_s: float = _TIME_S
    fades: float = 1.0


@dataclass(frozen=True)
class CalibratedTest:
    """A tested combination: between which times, s, it was cured through and its detail began to close."""

    facts: CellFacts
    cured_s: tuple[float, float]
    closes_s: tuple[float, float] | None = None


@dataclass(frozen=True)
class ExposureModel:
    """What the shop's step tests taught, and the lamps and emulsions they were of."""

    cure: learning.Belief
    headroom: learning.Belief
    lamps: tuple[str, ...]
    emulsions: tuple[str, ...]
    tests: int

    def prediction(self, facts: CellFacts) -> "WindowPrediction":
        at = _columns(facts, self.lamps, self.emulsions)
        room = _room_columns(facts, self.lamps)
        return WindowPrediction(learning.predict(self.cure, at), learning.predict(self.headroom, room))


@dataclass(frozen=True)
class WindowPrediction:
    """ln s of full cure, and ln of how many times longer the finest detail lasts."""

    cure: learning.Prediction
    headroom: learning.Prediction

    @property
    def cured_s(self) -> Interval:
        """Best estimate of full cure with its 90 % interval, s."""
        return self.cure.exp()

    @property
    def closes_s(self) -> Interval:
        """Best estimate of when the finest detail closes, with its 90 % interval, s."""
        middle = self.cure.value + self.headroom.value
        reach = Z_90 * math.hypot(self.cure.sd, self.headroom.sd)
        return around(middle, reach).exp()

    @property
    def middle_s(self) -> Interval:
        """The geometric middle of the window, with its 90 % interval, s."""
        middle = self.cure.value + self.headroom.value / 2
        # The cure's own interval has the longer tails of few tests.
        widened = (self.cure.high - self.cure.low) / 2 / (Z_90 * self.cure.sd)
        reach = widened * Z_90 * math.hypot(self.cure.sd, self.headroom.sd / 2)
        return around(middle, reach).exp()


def learn(tests: Iterable[CalibratedTest], settings: Settings) -> ExposureModel:
    """What the shop's tests teach; with none, common practice alone."""
    tests = list(tests)
    lamps = tuple(sorted({t.facts.lamp for t in tests}))
    emulsions = tuple(sorted({t.facts.emulsion for t in tests}))
    cure, headroom = _prior(lamps, emulsions, settings)
    known = [t for t in tests if _bracketed(t.cured_s)]
    if known:
        x = np.array([_columns(t.facts, lamps, emulsions) for t in known])
        cure = _learn_bracketed(cure, x, [t.cured_s for t in known])
    both = [(t, t.closes_s) for t in known if t.closes_s and _bracketed(t.closes_s)]
    if both:
        x = np.array([_room_columns(t.facts, lamps) for t, _ in both])
        ends = [(closes[0] / t.cured_s[1], closes[1] / t.cured_s[0]) for t, closes in both]
        headroom = _learn_bracketed(headroom, x, ends)
    return ExposureModel(cure, headroom, lamps, emulsions, len(tests))


def _bracketed(ends: tuple[float, float]) -> bool:
    return ends[0] > 0 and math.isfinite(ends[1])


def _learn_bracketed(belief: learning.Belief, x: np.ndarray, ends: Sequence[tuple[float, float]]) -> learning.Belief:
    """What values known to lie between two ends teach: their middles, each for as much as its bracket is narrow.

    Within its bracket a value is as likely here as there; that adds a twelfth of the bracket's square to the variance.
    """
    low, high = np.log(np.array(ends)).T
    root = np.sqrt(belief.noise_sd**2 / (belief.noise_sd**2 + (high - low) ** 2 / 12))
    return learning.learn(belief, x * root[:, None], (low + high) / 2 * root)


def _prior(lamps: Sequence[str], emulsions: Sequence[str], settings: Settings) -> tuple[Belief, Belief]:
    """Beliefs from common practice; one column more for a lamp and an emulsion not yet met."""
    yellow = math.log(settings["exposure.yellow_factor"])
    cure_terms = [
        (math.log(_TIME_S), 1.0),
        (1.0, 0.3),
        (yellow, 0.2),
        (1.0, 0.2),
        (1.0, 0.25),
        (settings["lamp.fading"], 0.15),
        (0.1, 0.15),
        (1.0, 0.15),
        *[(0.0, 0.8)] * (len(lamps) + 1),
        *[(0.0, 0.5)] * (len(emulsions) + 1),
    ]
    room = [(math.log(_HEADROOM), 0.35), (-0.2, 0.3), (0.1, 0.15), *[(0.0, 0.25)] * (len(lamps) + 1)]
    means, sds = zip(*cure_terms, strict=True)
    room_means, room_sds = zip(*room, strict=True)
    return (
        learning.prior(means, sds, settings["exposure.scatter"], _NOISE_RECORDS),
        learning.prior(room_means, room_sds, settings["exposure.headroom_scatter"], _NOISE_RECORDS),
    )


def _columns(facts: CellFacts, lamps: Sequence[str], emulsions: Sequence[str]) -> list[float]:
    away = 2 * math.log(facts.distance_mm / _DISTANCE_MM) if facts.distance_mm else 0.0
    return [
        1.0,
        (facts.stencil_um - _STENCIL_UM) / 90.0,
        float(facts.yellow),
        math.log(10) * facts.dmin,
        away,
        min(facts.hours * facts.fades, _FADES_FOR_H) / 1000,
        facts.age,
        math.log(facts.usual_s / _TIME_S),
        *_one_of(facts.lamp, lamps),
        *_one_of(facts.emulsion, emulsions),
    ]


def _room_columns(facts: CellFacts, lamps: Sequence[str]) -> list[float]:
    return [1.0, (facts.stencil_um - _STENCIL_UM) / 90.0, float(facts.yellow), *_one_of(facts.lamp, lamps)]


def _one_of(name: str, known: Sequence[str]) -> list[float]:
    return [float(name == k) for k in known] + [float(name not in known)]


def predict(facts: CellFacts, learned: ExposureModel) -> Conclusion:
    """The time of an untested combination: an estimate with its interval and what it rests on, never a calibrated time."""
    window = learned.prediction(facts)
    value, low, high = window.middle_s
    share = window.cure.prior_share
    tests = f"{learned.tests} step test{'s' if learned.tests != 1 else ''} here"
    rests = f"predicted from {tests} and common practice" if learned.tests else "predicted from common practice alone"
    known = [w for w, k in ((facts.lamp, learned.lamps), (facts.emulsion, learned.emulsions)) if w not in k]
    unknown = f" Nothing was ever tested with {' or '.join(known)}." if known else ""
    reason = (
        f"Full cure near {show_seconds(window.cured_s.value)}; nine times in ten the right time lies between "
        f"{show_seconds(low)} and {show_seconds(high)}. {share * 100:.0f} % of this rests on common practice, the rest on "
        f"{tests}.{unknown}"
    )
    return Conclusion(value, "s", TimeRests.ESTIMATE, reason, rests, low, high, "a step test of this combination")


def told(facts: CellFacts, learned: ExposureModel, settings: Settings) -> Conclusion:
    """The estimate as a page may show it. Under a lamp that was never tested, and where it is too wide to expose by, it is
    not known: the reason says where to begin a test."""
    estimate = predict(facts, learned)
    _, low, high = estimate.interval
    if facts.lamp not in learned.lamps:
        why = f"Nothing was ever tested under {facts.lamp}."
    elif high > settings["exposure.widest_told"] * low:
        why = f"As far as is known it may be anything from {show_seconds(low)} to {show_seconds(high)}."
    else:
        return estimate
    begin = f"Test, beginning around {show_seconds(estimate.known)}."
    return Conclusion(
        None,
        "s",
        TimeRests.NOT_KNOWN,
        f"Not known. {begin} {why}",
        estimate.rests_on,
        next_best_measurement="a step test of this combination",
    )


def far_off(time_s: float, facts: CellFacts, learned: ExposureModel, settings: Settings) -> str:
    """Why a tested time should be looked at once more before it is accepted; empty while it lies where it may."""
    value, low, high = predict(facts, learned).interval
    far = settings["exposure.far_off"]
    if low / far <= time_s <= high * far:
        return ""
    return (
        f"{show_seconds(time_s)} lies far from what the shop's other tests lead to expect: {show_seconds(value)}, "
        f"{show_seconds(low)} to {show_seconds(high)} nine times in ten. A slip in the reading, the lamp or the film would "
        "teach the whole chart."
    )


def teaches_most(cells: Sequence[CellFacts], learned: ExposureModel) -> int | None:
    """Which of these untested cells, if tested, would narrow all their predictions most; None without any."""
    if not cells:
        return None
    x = np.array([_columns(c, learned.lamps, learned.emulsions) for c in cells])
    spread = x @ np.linalg.solve(learned.cure.precision, x.T)
    narrowed = (spread**2).sum(0) / (1 + np.diag(spread))
    return int(np.argmax(narrowed))


def parts(facts: CellFacts, reference: CellFacts, learned: ExposureModel) -> list[tuple[str, Interval]]:
    """(what differs, its factor) of each thing in which `facts` differs from a tested `reference`."""
    a, b = (np.array(_columns(f, learned.lamps, learned.emulsions)) for f in (facts, reference))
    names = [
        "",
        "thickness of mesh and coat",
        "colour of the thread",
        "clear film",
        "distance of the lamp",
        "hours of the lamp",
        "age of the emulsion",
    ]
    groups = [(name, [k]) for k, name in enumerate(names) if name]
    lamps_end = 7 + len(learned.lamps) + 1
    groups += [("lamp", list(range(7, lamps_end))), ("emulsion", list(range(lamps_end, len(a))))]
    covariance = learned.cure.covariance
    factors: list[tuple[str, Interval]] = []
    for name, columns in groups:
        change = np.zeros(len(a))
        change[columns] = (a - b)[columns]
        if np.any(change):
            mean = float(change @ learned.cure.mean)
            reach = Z_90 * math.sqrt(float(change @ covariance @ change))
            factors.append((name, around(mean, reach).exp()))
    return factors
