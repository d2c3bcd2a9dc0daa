"""Exposure of combinations nobody has tested, from physics and the shop's own step tests.

ln of full cure is linear in the terms of `chart.terms`; how much longer the finest detail lasts is learned beside it. The
prior is common practice; a prediction is never a calibrated time.

Source: Jacobs, Rapid Prototyping & Manufacturing (1992), working curve, for the thickness; inverse-square law for distance.
"""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from scipy import special

from frimble.core.conclusions import Conclusion, Settings
from frimble.core.exposure.chart.terms import CellFacts, Term, cure_terms, measures, room_terms
from frimble.core.statistics import learning
from frimble.core.statistics.interval import Interval, around
from frimble.core.statistics.normal import Z_90
from frimble.core.units import show_seconds
from frimble.core.verdicts import TimeRests

__all__ = ["CalibratedTest", "CellFacts", "ExposureModel", "WindowPrediction", "learn", "predict", "told"]

# How tests of one combination differ is known better than from four of them.
_NOISE_RECORDS = 12
# Degrees of freedom of a test's error, how often their weights are worked out, and what an outlier's leverage leaves.
_TAILS, _ROUNDS, _LEAST_LEFT = 4.0, 8, 0.02


@dataclass(frozen=True)
class CalibratedTest:
    """A tested combination: between which times, s, it was cured through and its detail began to close."""

    facts: CellFacts
    cured_s: tuple[float, float]
    closes_s: tuple[float, float] | None = None


@dataclass(frozen=True)
class ExposureModel:
    """What the shop's step tests taught of each term, and the lamps and emulsions they were of."""

    cure: learning.Belief
    headroom: learning.Belief
    cure_terms: tuple[Term, ...]
    room_terms: tuple[Term, ...]
    lamps: tuple[str, ...]
    emulsions: tuple[str, ...]
    tests: int

    def prediction(self, facts: CellFacts) -> "WindowPrediction":
        at, room = measures(self.cure_terms, facts), measures(self.room_terms, facts)
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

    @property
    def middle_inside(self) -> float:
        """Chance that the middle lies in the true window: after its full cure and before its closing."""
        half = self.headroom.value / 2
        cure_sd = (self.cure.high - self.cure.low) / 2 / Z_90
        before, after = half / cure_sd, half / math.hypot(cure_sd, self.headroom.sd)
        return float(max(0.0, special.ndtr(before) + special.ndtr(after) - 1))


def learn(tests: Iterable[CalibratedTest], settings: Settings) -> ExposureModel:
    """What the shop's tests teach; with none, common practice alone."""
    tests = list(tests)
    lamps = tuple(sorted({t.facts.lamp for t in tests}))
    emulsions = tuple(sorted({t.facts.emulsion for t in tests}))
    terms, rooms = cure_terms(lamps, emulsions, settings), room_terms(lamps, settings)
    cure = _prior(terms, settings["exposure.scatter"])
    headroom = _prior(rooms, settings["exposure.headroom_scatter"])
    known = [t for t in tests if _bracketed(t.cured_s)]
    if known:
        x = np.array([measures(terms, t.facts) for t in known])
        cure = _learn_bracketed(cure, x, [t.cured_s for t in known])
    both = [(t, t.closes_s) for t in known if t.closes_s and _bracketed(t.closes_s)]
    if both:
        x = np.array([measures(rooms, t.facts) for t, _ in both])
        ends = [(closes[0] / t.cured_s[1], closes[1] / t.cured_s[0]) for t, closes in both]
        headroom = _learn_bracketed(headroom, x, ends)
    return ExposureModel(cure, headroom, terms, rooms, lamps, emulsions, len(tests))


def _bracketed(ends: tuple[float, float]) -> bool:
    return ends[0] > 0 and math.isfinite(ends[1])


def _learn_bracketed(belief: learning.Belief, x: np.ndarray, ends: Sequence[tuple[float, float]]) -> learning.Belief:
    """What values known to lie between two ends teach: their middles, each for as much as its bracket is narrow.

    Within its bracket a value is as likely here as there; that adds a twelfth of the bracket's square to the variance.
    Errors have heavy tails: a value far from what all the others lead to expect counts for little.

    Source: Lange, Little and Taylor, J. Am. Stat. Assoc. 84 (1989), weights of the t distribution by iteration.
    """
    low, high = np.log(np.array(ends)).T
    y, variance = (low + high) / 2, belief.noise_sd**2 + (high - low) ** 2 / 12
    believed = np.ones(len(y))
    for _ in range(_ROUNDS):
        root = np.sqrt(believed * belief.noise_sd**2 / variance)
        learned = learning.learn(belief, x * root[:, None], y * root)
        # What one value would have been by the others alone: a lonely one pulls the fit to itself.
        own = np.einsum("ij,ji->i", x, np.linalg.solve(learned.precision, x.T)) * root**2
        off = (y - x @ learned.mean) / np.maximum(1 - own, _LEAST_LEFT)
        spread = variance / believed + belief.noise_sd**2 * own / np.maximum(1 - own, _LEAST_LEFT) / root**2
        believed = np.minimum(1.0, (_TAILS + 1) / (_TAILS + off**2 / spread))
    return learned


def _prior(terms: Sequence[Term], scatter: float) -> learning.Belief:
    return learning.prior([t.mean for t in terms], [t.sd for t in terms], scatter, _NOISE_RECORDS)


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
        f"{show_seconds(low)} and {show_seconds(high)}, and this one lies in the working window "
        f"{window.middle_inside * 100:.0f} times in a hundred. {share * 100:.0f} % of this rests on common practice, "
        f"the rest on {tests}.{unknown}"
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
    elif (inside := learned.prediction(facts).middle_inside) < settings["exposure.least_inside"]:
        why = f"Such a time would lie in the working window {inside * 100:.0f} times in a hundred: too seldom to coat for."
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
    x = np.array([measures(learned.cure_terms, c) for c in cells])
    spread = x @ np.linalg.solve(learned.cure.precision, x.T)
    narrowed = (spread**2).sum(0) / (1 + np.diag(spread))
    return int(np.argmax(narrowed))


def parts(facts: CellFacts, reference: CellFacts, learned: ExposureModel) -> list[tuple[str, Interval]]:
    """(what differs, its factor) of each thing in which `facts` differs from a tested `reference`."""
    differ = np.array(measures(learned.cure_terms, facts)) - np.array(measures(learned.cure_terms, reference))
    names = np.array([t.name for t in learned.cure_terms])
    covariance = learned.cure.covariance
    factors: list[tuple[str, Interval]] = []
    for name in dict.fromkeys(names[names != ""].tolist()):
        change = np.where(names == name, differ, 0.0)
        if np.any(change):
            mean = float(change @ learned.cure.mean)
            reach = Z_90 * math.sqrt(float(change @ covariance @ change))
            factors.append((name, around(mean, reach).exp()))
    return factors
