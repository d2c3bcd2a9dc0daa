"""How far two readers agree, step by step, beyond chance."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from frimble.core.conclusions import InvalidInput
from frimble.core.statistics.interval import Interval
from frimble.core.statistics.normal import Z_90

_FEWEST = 5
# Common words for kappa: Landis and Koch, Biometrics 33 (1977).
_WORDS = ((0.2, "hardly"), (0.4, "a little"), (0.6, "moderately"), (0.8, "well"), (math.inf, "almost wholly"))


@dataclass(frozen=True)
class Agreement:
    """Weighted kappa with its 90 % interval, the share of equal readings, how many, and a word."""

    kappa: Interval
    equal: float
    number: int
    word: str


def agreement(one: Sequence[int], other: Sequence[int], grades: int) -> Agreement | None:
    """Cohen's weighted kappa with linear weights; None for too few readings, or none that differ.

    Args:
        one, other: grades of the same steps, 0 to `grades` - 1.

    Raises:
        InvalidInput: not the same steps, or a grade that there is not.

    Source: Cohen, Psychological Bulletin 70 (1968); Fleiss, Cohen and Everitt, ibid. 72 (1969), large-sample variance.
    """
    if len(one) != len(other):
        raise InvalidInput("Both read the same steps.", "other")
    if any(not 0 <= g < grades for g in (*one, *other)):
        raise InvalidInput(f"A grade is 0 to {grades - 1}.", "one")
    if len(one) < _FEWEST:
        return None
    table = np.zeros((grades, grades))
    np.add.at(table, (np.array(one), np.array(other)), 1)
    share = table / table.sum()
    weight = 1 - np.abs(np.subtract.outer(np.arange(grades), np.arange(grades))) / (grades - 1)
    rows, columns = share.sum(axis=1), share.sum(axis=0)
    seen, chance = float((weight * share).sum()), float(rows @ weight @ columns)
    if chance >= 1:
        return None
    kappa = (seen - chance) / (1 - chance)
    by_row, by_column = weight @ columns, weight.T @ rows
    spread = weight - (by_row[:, None] + by_column[None, :]) * (1 - kappa)
    variance = float((share * spread**2).sum() - (kappa - chance * (1 - kappa)) ** 2) / (len(one) * (1 - chance) ** 2)
    reach = Z_90 * math.sqrt(max(0.0, variance))
    word = next(word for most, word in _WORDS if kappa < most)
    return Agreement(
        Interval(kappa, max(-1.0, kappa - reach), min(1.0, kappa + reach)), float(np.trace(share)), len(one), word
    )
