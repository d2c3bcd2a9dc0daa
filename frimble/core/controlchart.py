"""Control chart of single values: its centre, its limits, and the signs that something has moved."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

# Mean range of two values of a normal process, in its sigmas.
_D2 = 1.128
_LEAST = 6
_RUN = 8


@dataclass(frozen=True)
class Signal:
    """A value that chance does not explain: its place in the row, and the rule in words."""

    at: int
    words: str


@dataclass(frozen=True)
class Chart:
    """Values in their order with the process's centre, its sigma and limits, and the signals in it."""

    values: tuple[float, ...]
    centre: float
    sigma: float
    signals: tuple[Signal, ...]

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
    return Chart(tuple(row.tolist()), centre, sigma, tuple(_signals(row, centre, sigma)))


def _signals(row, centre, sigma):
    """At most one signal a value: beyond three sigmas, two of three beyond two, or eight in a row on one side."""
    if sigma == 0:
        return
    marks = (row - centre) / sigma
    for k, mark in enumerate(marks):
        side = np.sign(mark)
        if abs(mark) > 3:
            yield Signal(k, f"{'above' if side > 0 else 'below'} its limit")
        elif abs(mark) > 2 and (marks[max(0, k - 2) : k + 1] * side > 2).sum() >= 2:
            yield Signal(k, f"two of three far {'above' if side > 0 else 'below'} the middle")
        elif k >= _RUN - 1 and (marks[k - _RUN + 1 : k + 1] * side > 0).all():
            yield Signal(k, f"{_RUN} in a row {'above' if side > 0 else 'below'} the middle")
