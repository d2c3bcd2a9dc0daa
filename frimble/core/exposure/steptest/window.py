"""The working window's ends with their intervals, from every reading of every test of one combination.

A step tells only that an end of the window lies before or after its time, and readers err: past the end a step is called so
with the probability of a cumulative normal in ln time (probit). Photos measure an end outright; all are multiplied together.

Source: Finney, Probit Analysis, 3rd ed. (1971), for the model; the reader's error has a prior since a clean test shows none.
"""

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from scipy import special

from frimble.core.exposure.steptest.reading import GRADES, Grade, StepGrade, judged_grade, trusted
from frimble.core.statistics.interval import Interval
from frimble.core.statistics.normal import Z_90

# The reader's error from strip to strip in ln time: about 6 %, within a factor of three.
_ERROR, _ERROR_SPREAD = 0.06, 0.6
# One reader's eye leans to one side on all strips alike, and so does one screen's coat. From memory.
_LEAN = 0.07
_ERRORS = np.exp(np.linspace(math.log(0.008), math.log(1.0), 28))
_GRID = 0.01
_BEYOND = 1.5
_TAIL = 0.05
_NEGLIGIBLE = 1e-6


@dataclass(frozen=True)
class StepObservation:
    """One step as one reader saw it: s of light, and whether it is past the end that is asked for."""

    time_s: float
    past: bool


@dataclass(frozen=True)
class WindowEndMeasurement:
    """An end of the window as measured on a photo: s, and its standard deviation in ln."""

    time_s: float
    sd: float


@dataclass(frozen=True)
class EdgeFit(Interval):
    """One end of the window.

    Attributes:
        value: median, low, high: 90 % interval, s. sd: of ln time. error: of a reader, in ln time.
        bracketed: whether anything lies on both sides of it; where not, it is known on one side only.
        after_all: of an end known on one side only, whether it lies after every step, else before.
    """

    sd: float
    error: float
    bracketed: bool
    after_all: bool = False

    @property
    def known_within(self) -> float:
        """How far it may lie off its median, as a share: 0.2 for ±20 %."""
        return math.sqrt(self.high / self.low) - 1


@dataclass(frozen=True)
class WindowFit:
    """Both ends, None where nothing tells of them, how many readings they rest on, and what contradicts itself."""

    cured: EdgeFit | None
    closes: EdgeFit | None
    readings: int
    disagreements: tuple[str, ...] = ()


@dataclass(frozen=True)
class InformationGain:
    """Two more steps at these times, s, would narrow the end's interval to this share of what it is, on average."""

    times_s: tuple[float, float]
    narrower: float


def fit_edge(seen: Sequence[StepObservation], measured: Sequence[WindowEndMeasurement] = ()) -> EdgeFit | None:
    """The end of the window that these steps and photos tell of; None without any."""
    if not seen and not measured:
        return None
    return _fitted(tuple(seen), tuple(measured))[0]


def _leaning(fit: EdgeFit | None, readings: int) -> EdgeFit | None:
    """An end as so many readers tell it, each of whom may lean to one side."""
    if fit is None or not readings:
        return fit
    lean = _LEAN / math.sqrt(readings)
    sd = math.hypot(fit.sd, lean)
    below, above = (math.hypot(math.log(at / fit.value), Z_90 * lean) for at in (fit.low, fit.high))
    return replace(fit, low=fit.value * math.exp(-below), high=fit.value * math.exp(above), sd=sd)


# A page asks for one fit several times, and so does the next page.
@lru_cache(maxsize=256)
def _fitted(
    seen: tuple[StepObservation, ...], measured: tuple[WindowEndMeasurement, ...]
) -> tuple[EdgeFit, np.ndarray, np.ndarray]:
    """(the fit, grid of ln s, its weights by place and reader's error)."""
    known = [math.log(s.time_s) for s in seen] + [math.log(m.time_s) for m in measured]
    at = np.arange(min(known) - _BEYOND, max(known) + _BEYOND, _GRID)
    score = _score(at, seen, measured)
    weight = np.exp(score - score.max())
    weight /= weight.sum()
    bracketed = bool(measured) or (any(s.past for s in seen) and not all(s.past for s in seen))
    after_all = bool(seen) and not any(s.past for s in seen)
    return _told(at, weight, bracketed, after_all), at, weight


def _score(at: np.ndarray, seen: Sequence[StepObservation], measured: Sequence[WindowEndMeasurement]) -> np.ndarray:
    """(grid, errors) log posterior: flat in ln time, the reader's error about its prior."""
    score = np.zeros((len(at), len(_ERRORS))) - (np.log(_ERRORS / _ERROR) / _ERROR_SPREAD) ** 2 / 2
    for step in seen:
        z = (math.log(step.time_s) - at)[:, None] / _ERRORS
        score += special.log_ndtr(z if step.past else -z)
    for one in measured:
        score += -(((math.log(one.time_s) - at) / one.sd) ** 2)[:, None] / 2
    return score


def _told(at: np.ndarray, weight: np.ndarray, bracketed: bool, after_all: bool) -> EdgeFit:
    place, errors = weight.sum(1), weight.sum(0)
    # Each weight stands for its whole cell, so that half of it lies before the cell's middle.
    total = np.cumsum(place) - place / 2
    low, value, high = (math.exp(np.interp(q, total, at)) for q in (_TAIL, 0.5, 1 - _TAIL))
    mean = float(place @ at)
    return EdgeFit(
        value, low, high, float(np.sqrt(place @ (at - mean) ** 2)), float(errors @ _ERRORS), bracketed, after_all
    )


def fit_window(
    readings: Sequence[Sequence[StepGrade]],
    wanted_um: float,
    cured: Sequence[WindowEndMeasurement] = (),
    closes: Sequence[WindowEndMeasurement] = (),
) -> WindowFit:
    """The window from several readings: by whom and of which test does not matter, so long as the combination is one.

    Args:
        readings: graded steps of each reading. wanted_um: finest detail that must stay clear and standing.
        cured, closes: ends measured on photos.
    """
    cured_end, closes_end = (
        _leaning(
            _widened(fit_edge(seen, photos), [fit_edge(seen_of([reading], wanted_um)[k]) for reading in readings]),
            0 if photos else len(readings),
        )
        for k, (seen, photos) in enumerate(zip(seen_of(readings, wanted_um), (cured, closes), strict=True))
    )
    under = cured_end is not None and cured_end.after_all and not cured_end.bracketed
    over = closes_end is not None and not closes_end.after_all and not closes_end.bracketed
    return WindowFit(
        # What is all under cure says nothing of closing, and what has all begun to close nothing of cure.
        None if over else cured_end,
        None if under else closes_end,
        len(readings) + len(cured),
        _disagreements(readings, wanted_um),
    )


def _widened(fit: EdgeFit | None, each: Sequence[EdgeFit | None]) -> EdgeFit | None:
    """An end's interval widened where readings put it at different places: one of them is off, and which is not known.

    Half of the distance between the farthest two is added to the standard deviation, as squares.
    """
    known = [math.log(e.value) for e in each if e is not None and e.bracketed]
    if fit is None or len(known) < 2:
        return fit
    wider = math.hypot(fit.sd, (max(known) - min(known)) / 2)
    reach = math.exp(Z_90 * (wider - fit.sd))
    return replace(fit, low=fit.low / reach, high=fit.high * reach, sd=wider)


def seen_of(
    readings: Sequence[Sequence[StepGrade]], wanted_um: float
) -> tuple[list[StepObservation], list[StepObservation]]:
    """Every graded step as past full cure or not, and as past closing or not."""
    counted = [trusted(sorted(reading, key=lambda s: s.time_s), wanted_um)[0] for reading in readings]
    steps = [(s.time_s, GRADES.index(judged_grade(s, wanted_um))) for s in itertools.chain(*counted)]
    good, closing = GRADES.index(Grade.GOOD), GRADES.index(Grade.CLOSING)
    return [StepObservation(t, g >= good) for t, g in steps], [StepObservation(t, g >= closing) for t, g in steps]


def _disagreements(readings: Sequence[Sequence[StepGrade]], wanted_um: float) -> tuple[str, ...]:
    """Steps of one time that two readings grade differently."""
    by_time: dict[float, list[tuple[int, str]]] = {}
    for reading in readings:
        for step in reading:
            by_time.setdefault(step.time_s, []).append((step.strip, judged_grade(step, wanted_um)))
    disagreements = []
    for time, readings_of_it in sorted(by_time.items()):
        grades = sorted({g for _, g in readings_of_it}, key=GRADES.index)
        if len(grades) > 1:
            disagreements.append(
                f"Strip {readings_of_it[0][0]} ({time:.3g} s) is {' to one and '.join(grades)} to another."
            )
    return tuple(disagreements)


def two_more(seen: Sequence[StepObservation], measured: Sequence[WindowEndMeasurement] = ()) -> InformationGain | None:
    """The two further steps that would narrow an end most, on average over how they come out; None where unbracketed."""
    return _two_more(tuple(seen), tuple(measured)) if seen or measured else None


@lru_cache(maxsize=256)
def _two_more(seen: tuple[StepObservation, ...], measured: tuple[WindowEndMeasurement, ...]) -> InformationGain | None:
    fit, at, weight = _fitted(seen, measured)
    if not fit.bracketed:
        return None
    near = weight.sum(1) > _NEGLIGIBLE
    at, weight = at[near], weight[near] / weight[near].sum()
    places = [math.exp(v) for v in np.linspace(math.log(fit.low), math.log(fit.high), 7)]
    pairs = list(itertools.combinations(places, 2))
    best = min(pairs, key=lambda pair: _expected_sd(at, weight, pair))
    return InformationGain(best, min(1.0, _expected_sd(at, weight, best) / fit.sd))


def _expected_sd(at: np.ndarray, weight: np.ndarray, times: tuple[float, float]) -> float:
    """Mean standard deviation of the end after two more steps."""
    rng = [special.ndtr((math.log(t) - at)[:, None] / _ERRORS) for t in times]
    total = 0.0
    for outcome in itertools.product((True, False), repeat=len(times)):
        after = weight
        for past, share in zip(outcome, rng, strict=True):
            after = after * (share if past else 1 - share)
        known = after.sum()
        if known > 1e-9:
            place = after.sum(1) / known
            mean = place @ at
            total += known * math.sqrt(max(place @ (at - mean) ** 2, 0.0))
    return total
