"""Moving-card step test: the plan, and what each strip really got.

Strip 1 gets the whole time and each later strip less. The card either covers strip after strip, from the last one in,
or starts with only strip 1 open and uncovers strip after strip.
"""

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

from frimble.core.conclusions import InvalidInput, RuleViolation, Settings, require_between, require_positive
from frimble.core.units import show_seconds

RATIOS = {"sqrt2": 2 ** (1 / 2), "cbrt2": 2 ** (1 / 3), "4thrt2": 2 ** (1 / 4)}
SERIES = ("sqrt2", "cbrt2", "4thrt2", "arithmetic")
SERIES_WORDS = {
    "sqrt2": "√2, +41 % a step",
    "cbrt2": "∛2, +26 % a step",
    "4thrt2": "⁴√2, +19 % a step",
    "arithmetic": "equal seconds",
}
# Density 3.3 and more lets nothing through that could be read.
_LEAST_FACTOR = 0.0005
# A test tells something with so many strips; a hand taps off its move by so much.
_FEWEST_SURE, _HAND_S = 3, 1.0
CARDS = {"cover": "covers", "uncover": "uncovers"}


@dataclass(frozen=True)
class CardMove:
    """One move of the card: seconds after light on, and the strip it covers or uncovers."""

    at_s: float
    strip: int


@dataclass(frozen=True)
class SlowerPlan:
    """A plan that a hand can do, offered in place of one it cannot."""

    series: str
    steps: int
    shortest_interval_s: float
    words: str


@dataclass(frozen=True)
class StepTestPlan:
    """A moving-card plan.

    Attributes:
        times_s: seconds of light strip 1, 2, … get; strictly falling.
        moves: card moves in the order they are made.
        total_s: lamp off after this, = times_s[0] + lag_s.
        lag_s: start-up time of the lamp that gives no light and is added to the whole exposure.
    """

    guess_s: float
    series: str
    card: str
    times_s: tuple[float, ...]
    moves: tuple[CardMove, ...]
    total_s: float
    lag_s: float

    @property
    def shortest_interval_s(self) -> float:
        return _shortest_interval(self.times_s)


def plan_moving_card(
    guess_s: float, steps: int, series: str, settings: Settings, card: str = "cover", lag_s: float = 0.0
) -> StepTestPlan:
    """Times and card moves of a moving-card test around a guess.

    A geometric series puts the guess in its middle; equal seconds run up to twice the guess.

    Args:
        guess_s: the time thought right, s.
        steps: number of strips, 3 or more.
        series: one of SERIES.
        card: "cover" or "uncover".
        lag_s: start-up lag of the lamp, s.

    Raises:
        InvalidInput: a value is absurd or unknown.
        RuleViolation: an interval is too short for a hand; the reason offers the slower plans.
    """
    require_positive(guess_s, "The guess", "guess_s")
    longest = settings["steptest.longest_s"]
    require_between(guess_s, settings["steptest.shortest_s"], longest, "The guess, in seconds,", "guess_s")
    if steps != int(steps):
        raise InvalidInput(f"The number of steps must be whole; {steps:g} was given.", "steps")
    require_between(steps, 3, settings["steptest.most_steps"], "The number of steps", "steps")
    require_between(lag_s, 0, settings["exposure.longest_lag_s"], "The lamp's start-up lag, in seconds,", "lag_s")
    if series not in SERIES:
        raise InvalidInput(f"“{series}” is not a series: {', '.join(SERIES)}.", "series")
    if card not in CARDS:
        raise InvalidInput(f"“{card}” is not a way to move the card: {', '.join(CARDS)}.", "card")
    times = series_times(guess_s, int(steps), series)
    if times[0] > longest:
        raise InvalidInput(
            f"Strip 1 would get {show_seconds(times[0])}, more than {show_seconds(longest)}: fewer steps or a shorter "
            "guess.",
            "guess_s",
        )
    _refuse_hurried(times, guess_s, series, settings)
    return StepTestPlan(guess_s, series, card, times, _moves(times, card, lag_s), round(times[0] + lag_s, 1), lag_s)


def series_times(guess_s: float, steps: int, series: str) -> tuple[float, ...]:
    """Seconds of each strip, longest first, to the tenth that a hand can hold."""
    if series == "arithmetic":
        return tuple(round(2 * guess_s * (steps - k) / steps, 1) for k in range(steps))
    ratio, middle = RATIOS[series], (steps - 1) / 2
    return tuple(round(guess_s * ratio ** (middle - k), 1) for k in range(steps))


def slower_plans(guess_s: float, steps: int, series: str, settings: Settings) -> list[SlowerPlan]:
    """Plans around the same guess that a hand can do: coarser series first, then fewer steps."""
    least = settings["steptest.least_interval_s"]
    coarser = [s for s in ("4thrt2", "cbrt2", "sqrt2", "arithmetic") if s != series]
    if series in RATIOS:
        coarser = [s for s in coarser if s not in RATIOS or RATIOS[s] > RATIOS[series]]
    tried = [(s, steps) for s in coarser]
    tried += [(s, n) for n in range(steps - 1, 2, -1) for s in (series, *coarser)]
    plans: dict[str, SlowerPlan] = {}
    for name, count in tried:
        interval = _shortest_interval(series_times(guess_s, count, name))
        if interval >= least and name not in plans:
            words = f"{SERIES_WORDS[name]}, {count} steps: shortest interval {show_seconds(interval)}"
            plans[name] = SlowerPlan(name, count, interval, words)
    return list(plans.values())


def _shortest_interval(times: Sequence[float]) -> float:
    gaps = [a - b for a, b in itertools.pairwise(times)]
    return round(min([*gaps, times[-1]]), 1)


def _refuse_hurried(times: Sequence[float], guess_s: float, series: str, settings: Settings) -> None:
    least, shortest = settings["steptest.least_interval_s"], _shortest_interval(times)
    if shortest >= least:
        return
    offers = slower_plans(guess_s, len(times), series, settings)
    offered = (
        "Slower: " + "; ".join(o.words for o in offers) + "."
        if offers
        else "No card series around this guess is slow enough: move the lamp back (twice the distance gives four times "
        "the time) or expose separate screens."
    )
    raise RuleViolation(
        f"The shortest interval would be {show_seconds(shortest)}; a hand needs {show_seconds(least)}. {offered}",
        field="series",
    )


def _moves(times: Sequence[float], card: str, lag_s: float) -> tuple[CardMove, ...]:
    strips = list(enumerate(times, start=1))[1:]
    if card == "cover":
        return tuple(CardMove(round(time + lag_s, 1), strip) for strip, time in reversed(strips))
    return tuple(CardMove(round(times[0] + lag_s - time, 1), strip) for strip, time in strips)


def effective_times(plan: StepTestPlan, move_taps_s: Sequence[float], off_s: float) -> tuple[float | None, ...]:
    """Seconds of light each strip really got, from the taps as they fell; None for a strip of which that is not sure.

    Where fewer moves were tapped than made, each tap is held against the plan: a tap that can only be of one move tells its
    strip, and strips whose tap is missing or cannot be told from its neighbour's are left out.

    Args:
        move_taps_s: seconds after light on of each card move, in order, not falling; at most as many as the plan has.
        off_s: seconds after light on when the lamp went off.

    Raises:
        InvalidInput: too many taps, out of order, after lamp off, or fewer than three strips are sure.
    """
    if len(move_taps_s) > len(plan.moves):
        raise InvalidInput(f"{len(plan.moves)} card moves belong to this test; {len(move_taps_s)} were tapped.", "taps")
    ordered = [0.0, *move_taps_s, off_s]
    if any(b < a for a, b in itertools.pairwise(ordered)):
        raise InvalidInput("The taps are not in the order of time.", "taps")
    got: dict[int, float | None] = {1: off_s - plan.lag_s}
    for move, tap in zip(plan.moves, _taps_by_move(plan, move_taps_s), strict=True):
        opened, closed = (0.0, tap) if plan.card == "cover" else (tap, off_s)
        got[move.strip] = None if tap is None else closed - max(opened, plan.lag_s)  # type: ignore[operator, type-var]
    sure = [light for light in got.values() if light is not None]
    if min(sure) <= 0:
        raise InvalidInput("A strip got no light at all: it was covered before the lamp had started.", "taps")
    if len(sure) < _FEWEST_SURE:
        raise InvalidInput(
            f"{len(plan.moves)} card moves belong to this test and {len(move_taps_s)} were tapped: of {len(sure)} strips "
            "only the light is sure, and three are needed.",
            "taps",
        )
    return tuple(None if (light := got[strip]) is None else round(light, 2) for strip in sorted(got))


def _taps_by_move(plan: StepTestPlan, taps_s: Sequence[float]) -> list[float | None]:
    """Each move's tap; None where it was forgotten, or the taps fit the plan nearly as well when told otherwise."""
    moves, missing = [m.at_s for m in plan.moves], len(plan.moves) - len(taps_s)
    if not missing:
        return list(taps_s)
    ways = sorted(
        (sum(abs(moves[k] - tap) for k, tap in zip(kept, taps_s, strict=True)), kept)
        for kept in itertools.combinations(range(len(moves)), len(taps_s))
    )
    best_off, best = ways[0]
    # Another way to tell the taps is as good when it is off by hardly more than a hand is.
    rivals = [kept for off, kept in ways if off <= best_off + _HAND_S * max(missing, 1)]
    told = {k: tap for k, tap in zip(best, taps_s, strict=True) if abs(moves[k] - tap) <= _late(moves, k)}
    for kept in rivals[1:]:
        told = {k: tap for k, tap in told.items() if k in kept and taps_s[kept.index(k)] == tap}
    return [told.get(k) for k in range(len(moves))]


def _late(moves: Sequence[float], k: int) -> float:
    """How far a tap may fall off its move and still be of it: less than half way to the next."""
    gaps = [abs(moves[k] - moves[j]) for j in (k - 1, k + 1) if 0 <= j < len(moves)]
    return 0.45 * min(gaps, default=moves[k])


def plan_one_exposure(time_s: float, factors: Sequence[float], settings: Settings, lag_s: float = 0.0) -> StepTestPlan:
    """One exposure through a film of known factors: strip 1, 2, … get their share of its light.

    Args:
        time_s: the one exposure, s. factors: share of the light through each step, in (0, 1], three or more.

    Raises:
        InvalidInput: an absurd time, or factors that no film has.
    """
    require_between(
        time_s, settings["steptest.shortest_s"], settings["steptest.longest_s"], "The exposure, in s,", "guess_s"
    )
    if len(factors) < 3 or len(set(factors)) != len(factors):
        raise InvalidInput("Give three factors at least, each once.", "factors")
    for factor in factors:
        require_between(factor, _LEAST_FACTOR, 1, "A factor", "factors")
    times = tuple(round(time_s * f, 2) for f in sorted(factors, reverse=True))
    return StepTestPlan(time_s, "factors", "", times, (), round(time_s + lag_s, 1), lag_s)


def factored_times(factors: Sequence[float], lag_s: float, off_s: float) -> tuple[float, ...]:
    """Seconds of light each step of a factor film or grey scale really got, its clearest step first."""
    if off_s <= lag_s:
        raise InvalidInput("The lamp was off before it had started.", "taps")
    return tuple(round((off_s - lag_s) * f, 2) for f in sorted(factors, reverse=True))


@dataclass(frozen=True)
class Suggestion:
    """Where a test's steps tell most: its guess, s, its series and number of steps, and why."""

    guess_s: float
    series: str
    steps: int
    reason: str


def suggest(cured_s: Sequence[float], closes_s: Sequence[float], settings: Settings) -> Suggestion:
    """A test whose steps span where both ends of the window may lie, in the finest series that does.

    Args:
        cured_s, closes_s: (best, low, high) of full cure and of closing as predicted, s.
    """
    low, high = min(cured_s), max(closes_s)
    guess, most = math.sqrt(low * high), int(settings["steptest.suggest_most"])
    for series in ("4thrt2", "cbrt2", "sqrt2"):
        # One step more at each end, so that both ends are bracketed.
        steps = math.ceil(math.log(high / low) / math.log(RATIOS[series])) + 3
        shortest = _shortest_interval(series_times(guess, min(steps, most), series))
        if steps <= most and shortest >= settings["steptest.least_interval_s"]:
            return Suggestion(
                guess,
                series,
                steps,
                f"Spans {show_seconds(low)} to {show_seconds(high)}, between which full cure and "
                f"closing lie nine times in ten, in {steps} steps of {SERIES_WORDS[series]}.",
            )
    return Suggestion(
        guess,
        "sqrt2",
        most,
        f"Full cure and closing may lie anywhere from {show_seconds(low)} to {show_seconds(high)}: a "
        "coarse test first.",
    )


def too_coarse_for_photo(times_s: Sequence[float], settings: Settings) -> str:
    """Why a photo of these steps would read less well than it could, in words; empty when they will do."""
    ordered, fewest, widest = sorted(times_s), settings["photo.steps"], settings["photo.ratio"]
    ratio = max(b / a for a, b in itertools.pairwise(ordered))
    if len(ordered) >= fewest and ratio <= widest:
        return ""
    return (
        f"A photo reads best off {fewest:g} steps or more, none more than ×{widest:g} longer than the last; here are "
        f"{len(ordered)}, up to ×{ratio:.2f}. Take ratio ∛2 and more steps, two of them short of cure."
    )


def strip_edges_mm(length_mm: float, steps: int, settings: Settings) -> tuple[float, ...]:
    """Where the card's edge stands, mm from the start of strip 1: `steps` + 1 edges of equal strips.

    Raises:
        InvalidInput: a strip would be too narrow to read.
    """
    require_between(length_mm, 10, 5000, "The test's length, in mm,", "length_mm")
    width, least = length_mm / steps, settings["steptest.least_strip_mm"]
    if width < least:
        raise InvalidInput(
            f"{steps} strips on {length_mm:g} mm are {width:.1f} mm each; at least {least:g} mm can be read. "
            f"Make the test {least * steps:g} mm long or take fewer steps.",
            "length_mm",
        )
    return tuple(round(k * width, 1) for k in range(steps + 1))
