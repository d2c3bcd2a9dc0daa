"""How a mesh loses tension, and when it will cross the house limit.

T = T0 − b · ln(1 + t / τ) − c · cycles, with t days since the mesh was mounted or re-tensioned. Common practice: fast in the
first days, then with log time and use. b and c are learned from the shop's other screens of the same mesh and frame, then
from the screen itself.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from frimble.core.conclusions import Conclusion, InvalidInput, Settings
from frimble.core.statistics import learning
from frimble.core.statistics.learning import Belief
from frimble.core.verdicts import LossVerdict

_DRAWS = 400
_SEED = 7
# The house's belief in how screens differ is worth so many screens.
_DEFAULT_WEIGHT = 4
_CURVE_POINTS = 40


@dataclass(frozen=True)
class TensionObservation:
    """One measurement: days since mounting, cycles closed by then, mean N/cm."""

    days: float
    cycles: float
    n_per_cm: float


@dataclass(frozen=True)
class Forecast:
    """What is to be expected of a screen's tension.

    Attributes:
        crossing: days from the last measurement until the limit is crossed, with its 90 % interval; value None when it is
            not to be expected within the horizon. one_in_ten: days until one in ten such would have crossed; None where
            fewer do within the horizon. curve: (days, mean, low, high) from now on, N/cm.
        prior_share: how much of the answer is common practice and not measured here.
    """

    crossing: Conclusion
    curve: tuple[tuple[float, float, float, float], ...]
    prior_share: float
    one_in_ten: float | None = None


def _row(measured: TensionObservation, settings: Settings) -> list[float]:
    return [1.0, -float(np.log1p(measured.days / settings["tension.settle_days"])), -measured.cycles]


def shop_belief(histories: Sequence[Sequence[TensionObservation]], settings: Settings) -> learning.Belief:
    """What other screens of the same mesh and frame tell: a belief of (T0, b, c).

    Each screen's own T0 is taken out before b and c are learned together; how far screens differ from each other is put
    back as doubt.
    """
    belief = learning.prior(
        [settings["tension.fresh"], settings["tension.loss_log"], settings["tension.loss_cycle"]],
        [settings["tension.fresh_sd"], settings["tension.loss_log"] / 2, settings["tension.loss_cycle"]],
        settings["tension.noise"],
    )
    firsts = [h[0].n_per_cm for h in histories if h]
    slopes = learning.Belief(
        belief.mean[1:], belief.precision[1:, 1:], belief.shape, belief.rate, belief.before[1:, 1:]
    )
    for history in histories:
        if len(history) > 1:
            rows = np.array([_row(m, settings) for m in history])
            seen = np.array([m.n_per_cm for m in history])
            slopes = learning.learn(slopes, (rows - rows.mean(axis=0))[:, 1:], seen - seen.mean())
    if not slopes.records:
        return belief
    return _widened(belief, slopes, firsts, *_within_and_between(histories, slopes, belief, settings), settings)


def _within_and_between(
    histories: Sequence[Sequence[TensionObservation]], slopes: Belief, belief: Belief, settings: Settings
) -> tuple[float, float]:
    """(sigma of one measurement, N/cm; how far screens differ in their loss, as a share of it).

    Each screen is given its own slope: what that leaves is the gauge's scatter, and what the slopes differ beyond that is
    the screens'. Both are drawn toward the house's belief while screens are few.

    Source: method of moments for a variance between groups, DerSimonian and Laird (1986).
    """
    loss, cycle_loss = slopes.mean
    squares, freedom, own = 2 * belief.rate, 2 * belief.shape, []
    for history in (h for h in histories if len(h) > 2):
        rows = np.array([_row(m, settings) for m in history])
        seen = np.array([m.n_per_cm for m in history]) - cycle_loss * rows[:, 2]
        along, seen = rows[:, 1] - rows[:, 1].mean(), seen - seen.mean()
        if (weight := float(along @ along)) > 0.5:
            slope = float(along @ seen) / weight
            own.append((slope, weight))
            squares += float(((seen - slope * along) ** 2).sum())
            freedom += len(history) - 2
    noise = float(np.sqrt(squares / freedom))
    default = (settings["tension.screens_differ"] * loss) ** 2
    excess = sum((slope - loss) ** 2 - noise**2 / weight for slope, weight in own)
    between = max(0.0, (excess + _DEFAULT_WEIGHT * default) / (len(own) + _DEFAULT_WEIGHT))
    return noise, float(np.sqrt(between)) / max(abs(loss), 1e-6)


def _widened(
    belief: Belief, slopes: Belief, firsts: Sequence[float], noise: float, share: float, settings: Settings
) -> learning.Belief:
    """The shop's slopes as a prior for one more screen, which will differ from the others as they differ."""
    differ = share * np.abs(slopes.mean) + 1e-6
    covariance = np.linalg.inv(slopes.precision) * (slopes.noise_sd / noise) ** 2 + np.diag((differ / noise) ** 2)
    precision = np.zeros((3, 3))
    precision[0, 0] = (noise / settings["tension.fresh_sd"]) ** 2
    precision[1:, 1:] = np.linalg.inv(covariance)
    fresh = float(np.mean(firsts)) if firsts else belief.mean[0]
    weight = min(slopes.shape, 10.0)  # other screens' noise is this screen's only so far
    return learning.Belief(
        np.r_[fresh, slopes.mean], precision, weight, weight * noise**2, belief.before, slopes.records
    )


def screen_belief(shop: learning.Belief, history: Sequence[TensionObservation], settings: Settings) -> learning.Belief:
    """The shop's belief after this screen's own measurements."""
    rows = np.array([_row(m, settings) for m in history]).reshape(-1, 3)
    return learning.learn(shop, rows, np.array([m.n_per_cm for m in history]))


def forecast(
    history: Sequence[TensionObservation],
    shop: learning.Belief,
    settings: Settings,
    cycles_a_day: float,
    limit: float | None = None,
    pace_spread: float = 0.0,
) -> Forecast:
    """When this screen crosses the limit.

    Args:
        history: its measurements since mounting, oldest first. cycles_a_day: how often it is used, and pace_spread: how
            far off that may be, as a logarithm.
        limit: N/cm; the house's least tension when left out.

    Raises:
        InvalidInput: it was never measured, or time goes backwards.
    """
    _check(history)
    limit = settings["tension.poor_below"] if limit is None else limit
    belief = screen_belief(shop, history, settings)
    last = history[-1]
    horizon = settings["tension.horizon_days"]
    ahead = np.linspace(0, horizon, 361)
    fresh, log_loss, cycle_loss = belief.draws(_DRAWS, _SEED).T
    paces = cycles_a_day * np.exp(pace_spread * np.random.default_rng(_SEED).standard_normal(_DRAWS))
    # Each future is a sum of three curves over the days: as one product it takes two thirds of the time.
    curves = np.stack([np.ones_like(ahead), np.log1p((last.days + ahead) / settings["tension.settle_days"]), ahead])
    levels = np.stack([fresh - cycle_loss * last.cycles, -log_loss, -cycle_loss * paces], axis=1) @ curves
    first = _first_below(levels, ahead, limit)
    own = learning.predict(belief, _row(last, settings))
    tenth = float(np.quantile(first, 0.1, method="nearest"))
    return Forecast(
        _crossing(first, ahead, limit, last, belief, own.prior_share),
        _curve(levels, ahead),
        own.prior_share,
        tenth if np.isfinite(tenth) else None,
    )


def pace(cycles: float, days: float, kind_a_day: float, settings: Settings) -> tuple[float, float]:
    """(cycles a day to be expected of a mesh, how far off that may be as a logarithm).

    A young mesh borrows the pace of its kind: it counts for as many days as the house lets it.

    Args:
        cycles, days: of this mesh since mounting. kind_a_day: cycles a day of meshes of its kind.
    """
    borrowed = settings["tension.pace_days"]
    expected = (cycles + kind_a_day * borrowed) / (max(days, 0.0) + borrowed)
    return expected, settings["tension.pace_differs"] * float(np.sqrt(borrowed / (borrowed + max(days, 0.0))))


def _first_below(levels: np.ndarray, ahead: np.ndarray, limit: float) -> np.ndarray:
    """Days until each drawn future is below the limit; infinite where it never is."""
    below = levels < limit
    return np.where(below.any(axis=1), ahead[below.argmax(axis=1)], np.inf)


def _check(history: Sequence[TensionObservation]) -> None:
    if not history:
        raise InvalidInput("It was never measured: measure it first, then a forecast can begin.", "history")
    if any(b.days < a.days for a, b in itertools.pairwise(history)):
        raise InvalidInput("A measurement lies before the one ahead of it: time goes backwards.", "history")


def _crossing(
    first: np.ndarray, ahead: np.ndarray, limit: float, last: TensionObservation, belief: Belief, prior_share: float
) -> Conclusion:
    low, tenth, middle, high = np.quantile(first, [0.05, 0.1, 0.5, 0.95], method="nearest")
    early = (
        f"one in ten such would have crossed by day {tenth:.0f}"
        if np.isfinite(tenth)
        else "fewer than one in ten cross"
    )
    rests = f"{belief.records} measurements here, {prior_share * 100:.0f} % common practice"
    if last.n_per_cm < limit:
        reason = f"Measured {last.n_per_cm:.1f} N/cm, below {limit:g} already."
        return Conclusion(0.0, "days", LossVerdict.BELOW, reason, "measured here", low=0.0, high=0.0)
    if not np.isfinite(middle):
        reason = (
            f"At {last.n_per_cm:.1f} N/cm and its rate of loss it is more likely than not still above {limit:g} N/cm in "
            f"{ahead[-1]:.0f} days; {early}."
        )
        return Conclusion(None, "days", LossVerdict.HOLDS, reason, rests, low=float(low) if np.isfinite(low) else None)
    until = f"to {high:.0f}" if np.isfinite(high) else f"to beyond {ahead[-1]:.0f}"
    reason = (
        f"At {last.n_per_cm:.1f} N/cm, losing {belief.mean[1]:.2f} each time its days grow 2.7-fold "
        f"and {belief.mean[2]:.3f} a cycle, "
        f"it has more likely than not crossed {limit:g} N/cm in {middle:.0f} days ({low:.0f} {until}); {early}."
    )
    more = "measure again in two weeks" if prior_share > 0.3 else None
    return Conclusion(
        float(middle),
        "days",
        LossVerdict.WILL_CROSS,
        reason,
        rests,
        low=float(low),
        high=float(high) if np.isfinite(high) else None,
        next_best_measurement=more or "",
    )


def _curve(levels: np.ndarray, ahead: np.ndarray) -> tuple[tuple[float, float, float, float], ...]:
    picked = np.linspace(0, len(ahead) - 1, _CURVE_POINTS).astype(int)
    low, middle, high = np.quantile(levels[:, picked], [0.05, 0.5, 0.95], axis=0)
    return tuple(zip(ahead[picked].tolist(), middle.tolist(), low.tolist(), high.tolist(), strict=True))


def sudden_changes(
    history: Sequence[TensionObservation], shop: learning.Belief, settings: Settings
) -> list[tuple[int, str]]:
    """(number of the measurement, words) for each that its screen's past does not explain.

    Each measurement is held against what the ones before it predicted: beyond three sigma at once, or two of three in a row
    beyond two on the same side.

    Source: ISO 7870-2, Shewhart control charts, tests for special causes.
    """
    changes, marks = [], []
    for k, measured in enumerate(history):
        if k == 0:
            marks.append(0.0)
            continue
        expected = learning.predict(screen_belief(shop, history[:k], settings), _row(measured, settings))
        marks.append((measured.n_per_cm - expected.value) / expected.sd)
        off = f"{measured.n_per_cm:.1f} N/cm where {expected.value:.1f} was to be expected"
        if marks[k] < -3 or sum(z < -2 for z in marks[max(0, k - 2) :]) >= 2:
            changes.append((k, f"Sudden drop: {off}. Look for a torn edge or a loose corner; was it stored hot?"))
        elif marks[k] > 3:
            changes.append((k, f"Sudden rise: {off}. Was it re-tensioned without a record, or is the gauge out?"))
    return changes
