"""How able somebody is at a skill, from drills of known difficulty.

Rasch's model: the chance to be right at a drill is that of a logistic curve in ability less difficulty. Ability is the
posterior mean on a grid, from a normal prior; a score between 0 and 1 counts as so much of each.

Source: Rasch (1960), Probabilistic Models for Some Intelligence and Attainment Tests; Bock and Mislevy, Applied
Psychological Measurement 6 (1982), expected a posteriori estimation.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

import numpy as np

from frimble.core.statistics.normal import Z_90
from frimble.core.training.drill import LEVELS

# Levels lie so far apart, in logits; the middle one is nobody's and everybody's.
LEVEL_APART = 1.2
_MIDDLE = LEVELS[len(LEVELS) // 2]
_PRIOR_SD = 1.8
_GRID = np.linspace(-7, 7, 281)
# A drill counts for as much as a few yes-or-no questions: it asks several things.
_QUESTIONS = 2.0


def difficulty(level: float) -> float:
    """Of a level, in logits."""
    return (level - _MIDDLE) * LEVEL_APART


@cache
def _log_chances(level: int) -> tuple[np.ndarray, np.ndarray]:
    """Logarithms of the chances to be right and to be wrong at a drill of a level, along the grid."""
    right = 1 / (1 + np.exp(-(_GRID - difficulty(level))))
    return np.log(right), np.log(1 - right)


@dataclass(frozen=True)
class Ability:
    """Where somebody stands: their level with its 90 % interval, on the scale of levels, not "
    "rounded; from how many drills."""

    level: float
    low: float
    high: float
    drills: int

    @property
    def next_level(self) -> int:
        """The level whose drill tells most: the nearest."""
        return min(LEVELS, key=lambda level: (abs(level - self.level), level))


def ability(done: Sequence[tuple[int, float]]) -> Ability:
    """Ability from drills in their order.

    Args:
        done: level and score, 0..1, of each.
    """
    log_density = -((_GRID / _PRIOR_SD) ** 2) / 2
    for level in {level for level, _ in done}:
        scores = [score for at, score in done if at == level]
        right, wrong = _log_chances(level)
        log_density = log_density + _QUESTIONS * (sum(scores) * right + (len(scores) - sum(scores)) * wrong)
    density = np.exp(log_density - log_density.max())
    density /= density.sum()
    mean = float(density @ _GRID)
    sd = float(np.sqrt(density @ (_GRID - mean) ** 2))
    middle, low, high = (v / LEVEL_APART + _MIDDLE for v in (mean, mean - Z_90 * sd, mean + Z_90 * sd))
    return Ability(middle, low, high, len(done))
