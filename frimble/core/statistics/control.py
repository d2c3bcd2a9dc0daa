"""Control chart of single values: its centre, its limits, and the signs that something has moved."""

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np

# Mean range of two values of a normal process, in its sigmas.
_D2 = 1.128
_LEAST = 6
_RUN = 8
_WEIGHT = 0.3


@dataclass(frozen=True)
class Signal:
    """A value that chance does not explain: its place in the row, and the rule in words."""

    at: int
    words: str


@dataclass(frozen=True)
class Chart:
    """Values in their order with the process's centre, its sigma and limits, its weighted mean, and the signals in it."""

    values: tuple[float, ...]
    centre: float
    sigma: float
    signals: tuple[Signal, ...]
    drift: tuple[float, ...]

    @property
    def low(self) -> float:
        return self.centre - 3 * self.sigma

    @property
    def high(self) -> float:
        return self.centre + 3 * self.sigma


def individuals(values: Sequence[float]) -> Chart | None:
    """The chart of values in the order they came; None when there are too few to tell chance from change.

    Source: NIST/SEMATECH e-Handbook of Statistical Methods, 6.3.2.2, individuals control charts; rules of ISO 7870-2.
    """
    row = np.asarray(values, float)
    if len(row) < _LEAST:
        return None
    sigma = float(np.abs(np.diff(row)).mean()) / _D2
    centre = float(row.mean())
    drift = ewma(row.tolist(), centre)
    return Chart(tuple(row.tolist()), centre, sigma, tuple(signals(row.tolist(), centre, sigma, drift)), drift)


def ewma(values: Iterable[float], start: float, weight: float = _WEIGHT) -> tuple[float, ...]:
    """The exponentially weighted mean after each value: it shows a slow drift sooner than single values do.

    Args:
        start: the centre it begins from. weight: of the newest value, 0..1.

    Source: NIST/SEMATECH e-Handbook of Statistical Methods, 6.3.2.4, EWMA control charts.
    """
    means, mean = [], start
    for value in values:
        mean = weight * value + (1 - weight) * mean
        means.append(float(mean))
    return tuple(means)


def drift_reach(sigma: float, weight: float = _WEIGHT) -> float:
    """Three sigmas of the weighted mean once it has run for a while. Source: as `ewma`."""
    return 3 * sigma * math.sqrt(weight / (2 - weight))


def signals(values: Sequence[float], centre: float, sigma: float, drift: Sequence[float]) -> Iterator[Signal]:
    """At most one signal a value: beyond three sigmas, two of three beyond two, eight in a row on one side, or a drift."""
    if sigma == 0:
        return
    row = np.asarray(values, float)
    marks = (row - centre) / sigma
    for k, mark in enumerate(marks):
        side = np.sign(mark)
        if abs(mark) > 3:
            yield Signal(k, f"{'above' if side > 0 else 'below'} its limit")
        elif abs(mark) > 2 and (marks[max(0, k - 2) : k + 1] * side > 2).sum() >= 2:
            yield Signal(k, f"two of three far {'above' if side > 0 else 'below'} the middle")
        elif k >= _RUN - 1 and (marks[k - _RUN + 1 : k + 1] * side > 0).all():
            yield Signal(k, f"{_RUN} in a row {'above' if side > 0 else 'below'} the middle")
        elif abs(drift[k] - centre) > drift_reach(sigma):
            yield Signal(k, f"drifting {'up' if drift[k] > centre else 'down'}")
