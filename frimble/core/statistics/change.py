"""Has the level of a row of rounded readings changed, and since when: a Bayesian change-point test.

Readings come in whole steps, so that a steady level between two of them reads now the one, now the other: limits for an
unrounded process would cry. What each reading tells of the level is the chance of its step; a level unknown before and after
is averaged over.

Source: Basseville and Nikiforov, Detection of Abrupt Changes (1993), chapter 2, generalised likelihood; Roberts,
Technometrics 8 (1966), the sum over moments of change (Shiryaev–Roberts).
"""

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from scipy import special

_GRID = 0.2
# A level that changed has moved by about this much, in steps; less than the half of it is not worth a cry.
_MOVED_SD, _LEAST_MOVE = 1.0, 0.5
# Changes are looked for over so many readings back; one reading alone is no change.
_BACK, _FEWEST_AFTER = 40, 2
# Sigmas that are thought of, as shares of the usual one, each with the ln of its weight beforehand.
_SIGMAS = (0.6, 1.0, 1.5)
_WEIGHTS = tuple(-(math.log(s) ** 2) / (2 * 0.4**2) for s in _SIGMAS)
# Share of readings that are a slip.
_SLIP = 0.01


@dataclass(frozen=True)
class LevelChange:
    """What the last reading of a row leads to believe.

    Attributes:
        evidence: for a change somewhere against none, as a ratio. at: the place of the first reading of the new level.
        moved, sd: by how much the level moved there, with its standard deviation.
    """

    evidence: float
    at: int
    moved: float
    sd: float


# A page asks for one row several times, and so does the next page.
@lru_cache(maxsize=128)
def level_changes(
    values: tuple[float, ...], sigma: float, first: int, before: tuple[float, float] | None = None
) -> tuple[LevelChange | None, ...]:
    """For each reading what is believed of a change up to it; None while there are too few.

    Args:
        values: readings in their order, rounded to whole or half steps. sigma: of one reading before it was rounded, as
            usual; how much these differ is learned from themselves.
        first: no change is looked for before so many readings. before: (mean, sd) of the level as known beforehand.
    """
    row = np.asarray(values, float)
    if not len(row):
        return ()
    levels = np.arange(row.min() - 2, row.max() + 2 + _GRID, _GRID)
    known = np.zeros(len(levels)) if before is None else -(((levels - before[0]) / max(before[1], _GRID)) ** 2) / 2
    moves = levels[None, :] - levels[:, None]
    spread = np.exp(-((moves / _MOVED_SD) ** 2) / 2) * (np.abs(moves) >= _LEAST_MOVE)
    spread /= spread.sum(axis=1, keepdims=True)
    sums = [np.cumsum(np.vstack([np.zeros(len(levels)), _log_chance(row, levels, sigma * s)]), axis=0) for s in _SIGMAS]
    return tuple(
        _believed([told[: n + 1] for told in sums], known, spread, moves, first) for n in range(1, len(row) + 1)
    )


def _log_chance(row: np.ndarray, levels: np.ndarray, sigma: float) -> np.ndarray:
    """(readings, levels) ln of the chance that a level reads as each reading, by its rounding."""
    half = 0.5 if np.all(row == np.rint(row)) else 0.25
    off = row[:, None] - levels[None, :]
    chance = special.ndtr((off + half) / sigma) - special.ndtr((off - half) / sigma)
    # A slip of the eye happens whatever the level.
    return np.asarray(np.log((1 - _SLIP) * chance + _SLIP / 5))


def _believed(
    sums: list[np.ndarray], known: np.ndarray, spread: np.ndarray, moves: np.ndarray, first: int
) -> LevelChange | None:
    """Of the cumulated evidence of all readings so far, (readings + 1, levels) for each sigma."""
    count = len(sums[0]) - 1
    places = np.arange(max(first, count - _BACK), count - _FEWEST_AFTER + 1)
    if not len(places):
        return None
    steady = special.logsumexp(
        [special.logsumexp(told[-1] + known) + w for told, w in zip(sums, _WEIGHTS, strict=True)]
    )
    changed = np.array([_changed(told, known, spread, places) + w for told, w in zip(sums, _WEIGHTS, strict=True)])
    ratio = np.exp(np.minimum(special.logsumexp(changed, axis=0) - steady, 600))
    best = int(np.argmax(ratio))
    told, place = sums[int(np.argmax(changed[:, best]))], int(places[best])
    old, new = told[place] + known, told[-1] - told[place]
    joint = np.exp(old - old.max())[:, None] * spread * np.exp(new - new.max())[None, :]
    joint /= joint.sum()
    moved = float((joint * moves).sum())
    return LevelChange(float(ratio.sum()), place, moved, float(np.sqrt((joint * (moves - moved) ** 2).sum())))


def _changed(told: np.ndarray, known: np.ndarray, spread: np.ndarray, places: np.ndarray) -> np.ndarray:
    """ln evidence of a change before each of these places."""
    before, after = told[places] + known, told[-1] - told[places]
    tops = before.max(axis=1), after.max(axis=1)
    weight, later = np.exp(before - tops[0][:, None]), np.exp(after - tops[1][:, None])
    return np.asarray(np.log((weight * (later @ spread.T)).sum(axis=1)) + tops[0] + tops[1])
