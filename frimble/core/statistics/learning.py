"""Learning from the shop's own records: conjugate Bayesian linear regression that begins from common practice.

y = x · k + noise, k normal and the noise's variance inverse gamma, so that what was learned so far is itself the prior of
what comes next.

Source: Gelman et al., Bayesian Data Analysis, 3rd ed., section 14.2 and 14.8 (conjugate prior of the normal linear model).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy import special

from frimble.core.statistics.interval import Interval

INTERVAL = 0.9
_ROUNDS, _SETTLED, _LEAST_SHARE = 200, 1e-6, 1e-300


@dataclass(frozen=True)
class Belief:
    """What is believed of k coefficients and of the noise.

    Attributes:
        mean: (k,) of the coefficients. precision: (k, k), their inverse covariance in units of the noise's variance.
        shape, rate: of the noise variance's inverse gamma. before: precision of the prior that was never measured.
        records: how many observations were learned from.
    """

    mean: np.ndarray
    precision: np.ndarray
    shape: float
    rate: float
    before: np.ndarray
    records: int = 0

    @property
    def noise_sd(self) -> float:
        return float(np.sqrt(self.rate / self.shape))

    @property
    def covariance(self) -> np.ndarray:
        """(k, k) of the coefficients at the believed noise."""
        return np.linalg.inv(self.precision) * self.noise_sd**2

    def draws(self, number: int, seed: int) -> np.ndarray:
        """(number, k) coefficients drawn from the belief; the same seed draws the same."""
        rng = np.random.default_rng(seed)
        variance = self.rate / rng.gamma(self.shape, size=number)
        root = np.linalg.cholesky(np.linalg.inv(self.precision))
        return self.mean + (rng.standard_normal((number, len(self.mean))) @ root.T) * np.sqrt(variance)[:, None]


@dataclass(frozen=True)
class Prediction(Interval):
    """A predicted observation with its 90 % interval and the share of its answer that is prior and not the shop's data."""

    sd: float
    prior_share: float


def prior(means: Sequence[float], sds: Sequence[float], noise_sd: float, noise_records: float = 4) -> Belief:
    """A belief from common practice.

    Args:
        means, sds: of each coefficient. noise_sd: of one observation; noise_records: how many records that is worth.
    """
    precision = np.diag((noise_sd / np.asarray(sds, float)) ** 2)
    shape = noise_records / 2
    return Belief(np.asarray(means, float), precision, shape, shape * noise_sd**2, precision)


def learn(belief: Belief, x: np.ndarray, y: np.ndarray) -> Belief:
    """The belief after observations x (n, k) and y (n,)."""
    x, y = np.atleast_2d(np.asarray(x, float)), np.asarray(y, float)
    if not len(y):
        return belief
    precision = belief.precision + x.T @ x
    mean = np.linalg.solve(precision, belief.precision @ belief.mean + x.T @ y)
    was = belief.mean @ belief.precision @ belief.mean
    rate = belief.rate + max(0.0, float(y @ y + was - mean @ precision @ mean)) / 2
    return Belief(mean, precision, belief.shape + len(y) / 2, rate, belief.before, belief.records + len(y))


def predict(belief: Belief, x: Sequence[float]) -> Prediction:
    """What the next observation at x (k,) will be."""
    at = np.asarray(x, float)
    spread = np.linalg.solve(belief.precision, at)
    of_the_mean = float(at @ spread)
    value, sd = float(at @ belief.mean), belief.noise_sd * float(np.sqrt(1 + of_the_mean))
    reach = float(special.stdtrit(2 * belief.shape, (1 + INTERVAL) / 2)) * sd
    prior_share = float(spread @ belief.before @ spread) / of_the_mean if of_the_mean > 0 else 0.0
    return Prediction(value, value - reach, value + reach, sd, min(1.0, prior_share))


def learn_between(belief: Belief, x: np.ndarray, low: np.ndarray, high: np.ndarray) -> Belief:
    """The belief after observations known only to lie between two values, such as damp at one look and dry at the next.

    Args:
        x: (n, k). low, high: (n,) with low < high; −inf and inf where one side was never seen.

    Each is filled in by what is expected of it within its bounds, until that settles (expectation–maximisation); it
    counts for as much as its bounds tell: a wide gap teaches little.

    Source: Dempster, Laird and Rubin, J. R. Stat. Soc. B 39 (1977), section 4.2, grouped and truncated data; Louis, ibid.
    44 (1982), observed information.
    """
    x, low, high = np.atleast_2d(np.asarray(x, float)), np.asarray(low, float), np.asarray(high, float)
    if not len(low):
        return belief
    mean, variance = belief.mean, belief.noise_sd**2
    shape = belief.shape + len(low) / 2
    for _ in range(_ROUNDS):
        filled, doubt = _within(x @ mean, np.sqrt(variance), low, high)
        precision = belief.precision + x.T @ x
        was, mean = mean, np.linalg.solve(precision, belief.precision @ belief.mean + x.T @ filled)
        off, moved = filled - x @ mean, mean - belief.mean
        variance = (belief.rate + (off @ off + doubt.sum() + moved @ belief.precision @ moved) / 2) / shape
        if np.abs(mean - was).max() < _SETTLED:
            break
    weight = np.clip(1 - doubt / variance, 0, 1)
    precision = belief.precision + x.T @ (weight[:, None] * x)
    shape = belief.shape + weight.sum() / 2
    return Belief(mean, precision, shape, shape * variance, belief.before, belief.records + len(low))


def _within(centre: np.ndarray, sd: float, low: np.ndarray, high: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Mean and variance of a normal variable known to lie between low and high."""
    a, b = (low - centre) / sd, (high - centre) / sd
    # Bounds above the mean are turned round, where the tail of the distribution keeps its digits.
    turned = a > 0
    a, b = np.where(turned, -b, a), np.where(turned, -a, b)
    share = np.maximum(special.ndtr(b) - special.ndtr(a), _LEAST_SHARE)
    at_a, at_b = _density(a), _density(b)
    shift = (at_a - at_b) / share
    edge = (np.where(np.isinf(a), 0, a) * at_a - np.where(np.isinf(b), 0, b) * at_b) / share
    mean = np.clip(shift, a, b)
    variance = np.clip(1 + edge - shift**2, 0, 1)
    return centre + sd * np.where(turned, -mean, mean), sd**2 * variance


def _density(at: np.ndarray) -> np.ndarray:
    return np.asarray(np.exp(-(np.where(np.isinf(at), 0, at) ** 2) / 2) / math.sqrt(2 * math.pi) * ~np.isinf(at))
