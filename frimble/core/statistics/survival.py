"""How long meshes live: the Kaplan–Meier curve, with those that still live counted for as long as they were seen."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy import special

from frimble.core.conclusions import InvalidInput

INTERVAL = 0.9


@dataclass(frozen=True)
class Survival:
    """A survival curve.

    Attributes:
        times: (n,) at which somebody died, rising. share: (n,) that lives beyond each; low, high: its 90 % interval.
        lives, deaths: how many were seen, how many of them ended.
    """

    times: np.ndarray
    share: np.ndarray
    low: np.ndarray
    high: np.ndarray
    lives: int
    deaths: int

    def at(self, time: float) -> float:
        """Share that lives beyond a time."""
        k = int(np.searchsorted(self.times, time, side="right"))
        return 1.0 if k == 0 else float(self.share[k - 1])

    @property
    def median(self) -> float | None:
        """The time by which half have ended; None when more than half still live."""
        below = np.flatnonzero(self.share <= 0.5)
        return float(self.times[below[0]]) if len(below) else None

    def expected_left(self, age: float) -> float | None:
        """Mean time still to come at an age, up to the last time seen; None where nobody was seen so old.

        Source: mean residual life, the area under the curve beyond the age over its height there.
        """
        if not len(self.times) or age >= self.times[-1] or self.at(age) <= 0:
            return None
        edges = np.r_[age, self.times[self.times > age]]
        heights = [self.at(t) for t in edges[:-1]]
        return float(np.sum(np.diff(edges) * heights) / self.at(age))


def kaplan_meier(durations: Sequence[float], ended: Sequence[bool]) -> Survival:
    """The curve of lives of `durations`, some of which have `ended` while others are still under way.

    Raises:
        InvalidInput: no life, a negative one, or lists of different lengths.

    Source: E. L. Kaplan and P. Meier, JASA 53 (1958); interval by Greenwood's variance of log(−log S).
    """
    spans, over = np.asarray(durations, float), np.asarray(ended, bool)
    if not len(spans) or len(spans) != len(over):
        raise InvalidInput("Give one life at least, each with whether it has ended.", "durations")
    if (spans < 0).any():
        raise InvalidInput("A life cannot be shorter than nothing.", "durations")
    times = np.unique(spans[over])
    at_risk = np.array([(spans >= t).sum() for t in times])
    deaths = np.array([(over & (spans == t)).sum() for t in times])
    share = np.cumprod(1 - deaths / np.maximum(at_risk, 1)) if len(times) else np.zeros(0)
    low, high = _interval(share, at_risk, deaths)
    return Survival(times, share, low, high, len(spans), int(over.sum()))


def _interval(share: np.ndarray, at_risk: np.ndarray, deaths: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    with np.errstate(divide="ignore", invalid="ignore"):
        greenwood = np.cumsum(deaths / (at_risk * (at_risk - deaths)))
        reach = special.ndtri((1 + INTERVAL) / 2) * np.sqrt(greenwood) / np.log(share)
        low, high = share ** np.exp(-reach), share ** np.exp(reach)
    gone = share <= 0
    return np.where(gone, 0.0, np.fmin(low, high)), np.where(gone, 0.0, np.fmax(low, high))
