"""Reading a step test by grade: the recommended time, the working window, and what to do when there is none."""

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from frimble.core.conclusions import Conclusion, InvalidInput, Settings, require_between, require_positive
from frimble.core.statistics.interval import Interval
from frimble.core.units import show_seconds
from frimble.core.verdicts import TestOutcome, TimeRests


class Grade(StrEnum):
    """How a strip looks."""

    UNDER = "under"
    SHORT = "short"
    GOOD = "good"
    CLOSING = "closing"
    OVER = "over"


GRADES = tuple(Grade)
UNCURED = frozenset((Grade.UNDER, Grade.SHORT))
CLOSED = frozenset((Grade.CLOSING, Grade.OVER))
GRADE_MEANING = {
    Grade.UNDER: "washes away or will not hold",
    Grade.SHORT: "holds, but slimy on the squeegee side or lines are lost",
    Grade.GOOD: "cured through and the wanted detail is clear",
    Grade.CLOSING: "cured, but the finest wanted detail begins to close",
    Grade.OVER: "detail is filled",
}
SCHOOLS = {
    "middle": "Middle of what is good",
    "cure": "Cure first",
    "detail": "Detail first, post-harden",
}
OPENERS = (
    "finer or yellow mesh",
    "a thinner coat",
    "a denser film",
    "better contact",
    "a smaller lamp angle",
    "coarser wanted detail",
)


@dataclass(frozen=True)
class StepGrade:
    """One strip as read: seconds of light, grade, and what was seen of it (None or False when not looked for).

    Attributes:
        finest_opening_um, thinnest_line_um: finest opening clear, thinnest line standing, µm.
        smallest_dot: of the dot fields, per cent of the highlight dot still clear.
        slimy: on the squeegee side. pale: its colour change is not complete.
    """

    strip: int
    time_s: float
    grade: str
    finest_opening_um: float | None = None
    thinnest_line_um: float | None = None
    smallest_dot: float | None = None
    slimy: bool = False
    pale: bool = False


@dataclass(frozen=True)
class Window:
    """Working window: from full cure (`cured`) to the finest wanted detail closing (`closes`), s; None where unknown.

    Their ends are the two steps each lies between.
    """

    cured: Interval | None
    closes: Interval | None


@dataclass(frozen=True)
class StepTestResult:
    """What a graded step test says.

    Attributes:
        outcome: "window", "not bracketed", "all under", "all over", "no good step", "contradictory" or "closed".
        recommended: the time by the chosen school; its value is None when the test gives none.
        by_school: the time of each school in s, empty when there is none.
        contradictions: pairs of steps that cannot both be right, in words.
        next_test: what to do next, in words; empty when nothing is needed.
        next_guess_s: the guess for that next test, s.
    """

    outcome: str
    recommended: Conclusion
    window: Window
    by_school: Mapping[str, float]
    coarseness: float | None
    contradictions: tuple[str, ...]
    next_test: str
    next_guess_s: float | None = None

    @property
    def usable(self) -> bool:
        return not self.recommended.refused


def read_grades(
    steps: Sequence[StepGrade], school: str, wanted_opening_um: float, settings: Settings
) -> StepTestResult:
    """Conclude from graded steps.

    A strip graded good counts as closing when its finest clear opening is coarser than the wanted detail, and as short
    when its thinnest standing line is, when its squeegee side is slimy or its colour has not changed: it is under-cured.

    Args:
        steps: three or more, each with another time.
        school: one of SCHOOLS.
        wanted_opening_um: finest detail that must stay open, µm.

    Raises:
        InvalidInput: too few steps, a repeated or absurd time, an unknown grade or school.
    """
    ordered = _checked(steps, school, wanted_opening_um, settings)
    judged = [(s, judged_grade(s, wanted_opening_um)) for s in ordered]
    if contradictions := _contradictions(judged):
        return _contradictory(contradictions)
    grades = [g for _, g in judged]
    if all(g in UNCURED for g in grades):
        return _all_under(ordered)
    if all(g in CLOSED for g in grades):
        return _all_over(ordered, judged)
    good = [s for s, g in judged if g == Grade.GOOD]
    window = _window(judged)
    if not good and window.cured:
        return _no_good_step(window.cured, window)
    return _with_window(ordered, good, window, school, wanted_opening_um, settings)


def _checked(steps: Sequence[StepGrade], school: str, wanted_opening_um: float, settings: Settings) -> list[StepGrade]:
    if school not in SCHOOLS:
        raise InvalidInput(f"“{school}” is not a school: {', '.join(SCHOOLS)}.", "school")
    require_positive(wanted_opening_um, "The finest wanted opening", "wanted_opening_um")
    if len(steps) < 3:
        raise InvalidInput(f"Three steps at least are needed; {len(steps)} were graded.", "grades")
    for step in steps:
        require_positive(step.time_s, f"The time of strip {step.strip}", f"strip {step.strip}")
        if step.grade not in GRADES:
            raise InvalidInput(f"Strip {step.strip}: grade it {', '.join(GRADES)}.", f"strip {step.strip}")
        for value, what in ((step.finest_opening_um, "opening"), (step.thinnest_line_um, "line")):
            if value is not None:
                least, most = settings["steptest.loupe_least_um"], settings["steptest.loupe_most_um"]
                require_between(value, least, most, f"Strip {step.strip}: the {what}, in µm,", f"strip {step.strip}")
    ordered = sorted(steps, key=lambda s: s.time_s)
    for a, b in itertools.pairwise(ordered):
        if a.time_s == b.time_s:
            raise InvalidInput(f"Strips {a.strip} and {b.strip} have the same time.", f"strip {b.strip}")
    return ordered


def judged_grade(step: StepGrade, wanted_um: float) -> str:
    """The grade of a step once the wanted detail, µm, is held against what the loupe showed."""
    if step.grade != Grade.GOOD:
        return step.grade
    if step.slimy or step.pale or (step.thinnest_line_um is not None and step.thinnest_line_um > wanted_um):
        return Grade.SHORT
    return Grade.CLOSING if step.finest_opening_um is not None and step.finest_opening_um > wanted_um else Grade.GOOD


def _contradictions(judged: Sequence[tuple[StepGrade, str]]) -> tuple[str, ...]:
    """Neighbours whose grade falls while the time rises, and openings that get finer with more light."""
    contradictions = []
    for (a, grade_a), (b, grade_b) in itertools.pairwise(judged):
        if GRADES.index(grade_b) < GRADES.index(grade_a):
            contradictions.append(
                f"{_named(a)} is {grade_a} but {_named(b)}, with more light, is {grade_b}. One of the two is misread, "
                "was unevenly washed, or the card slipped."
            )
    openings = [(s, s.finest_opening_um) for s, g in judged if g not in UNCURED and s.finest_opening_um]
    for (a, um_a), (b, um_b) in itertools.pairwise(openings):
        if um_b < um_a:
            contradictions.append(
                f"{_named(b)} shows {um_b:g} µm clear but {_named(a)}, with less light, only "
                f"{um_a:g} µm. More light never opens detail: look again, or wash more evenly."
            )
    lines = [(s, s.thinnest_line_um) for s, g in judged if g != Grade.UNDER and s.thinnest_line_um]
    for (a, um_a), (b, um_b) in itertools.pairwise(lines):
        if um_b > um_a:
            contradictions.append(
                f"{_named(a)} holds a line of {um_a:g} µm but {_named(b)}, with more light, "
                f"only {um_b:g} µm. More light never loses a line: look again, or wash more evenly."
            )
    return tuple(contradictions)


def _window(judged: Sequence[tuple[StepGrade, str]]) -> Window:
    uncured = [s.time_s for s, g in judged if g in UNCURED]
    cured = [s.time_s for s, g in judged if g not in UNCURED]
    clear = [s.time_s for s, g in judged if g not in CLOSED]
    closed = [s.time_s for s, g in judged if g in CLOSED]
    return Window(_edge(uncured, cured), _edge(clear, closed))


def _edge(before: list[float], after: list[float]) -> Interval | None:
    if not before or not after:
        return None
    return Interval(math.sqrt(before[-1] * after[0]), before[-1], after[0])


def _with_window(
    ordered: Sequence[StepGrade],
    good: Sequence[StepGrade],
    window: Window,
    school: str,
    wanted_um: float,
    settings: Settings,
) -> StepTestResult:
    shortest, longest = good[0].time_s, good[-1].time_s
    by_school = {"middle": math.sqrt(shortest * longest), "cure": longest, "detail": shortest}
    low = window.cured.value if window.cured else shortest
    high = window.closes.value if window.closes else longest
    value = by_school[school]
    coarseness = (high - low) / 2 / math.sqrt(low * high)
    shown = f"{_listed(good)} good: cured through, {wanted_um:g} µm open."
    reason = f"{shown} {_school_words(school, len(good))}{_seen(good, value)}"
    if window.cured is None or window.closes is None:
        return _not_bracketed(ordered, good, window, by_school, value, low, high, reason, coarseness)
    next_test, guess = "", None
    if coarseness > settings["steptest.coarse_above"] and len(good) < 3:
        next_test = (
            f"The window is known to ±{coarseness * 100:.0f} %. A second test from {show_seconds(window.cured.low)} "
            f"to {show_seconds(window.closes.high)} in finer steps would narrow it."
        )
        guess = math.sqrt(window.cured.low * window.closes.high)
    recommended = Conclusion(value, "s", TimeRests.CALIBRATED, reason, "measured here", low, high, next_test)
    return StepTestResult(TestOutcome.WINDOW, recommended, window, by_school, coarseness, (), next_test, guess)


def _not_bracketed(
    ordered: Sequence[StepGrade],
    good: Sequence[StepGrade],
    window: Window,
    by_school: Mapping[str, float],
    value: float,
    low: float,
    high: float,
    reason: str,
    coarseness: float,
) -> StepTestResult:
    if window.closes is None and window.cured is None:
        words = (
            "Every step is good: the window is wider than the test. Widen both ways: a coarser series around "
            f"{show_seconds(value)}."
        )
        guess = value
    elif window.closes is None:
        guess = ordered[-1].time_s
        words = (
            f"The longest step, {show_seconds(guess)}, is still good: the upper end is not bracketed. Test again around "
            f"{show_seconds(guess)} before trusting more than {show_seconds(value)}."
        )
    else:
        guess = ordered[0].time_s
        words = (
            f"The shortest step, {show_seconds(guess)}, is already good: full cure is not bracketed. Test again around "
            f"{show_seconds(guess)}."
        )
    provisional = Conclusion(
        value, "s", TestOutcome.NOT_BRACKETED, f"{reason} {words}", "measured here", low, high, words
    )
    return StepTestResult(TestOutcome.NOT_BRACKETED, provisional, window, by_school, coarseness, (), words, guess)


def _no_good_step(cured: Interval, window: Window) -> StepTestResult:
    """Grades jump from uncured to closing: the window is narrower than a step, or shut."""
    _, low, high = cured
    middle = math.sqrt(low * high)
    words = (
        f"Between {show_seconds(low)} and {show_seconds(high)} the detail goes as the stencil cures. Test that gap in "
        f"finer steps around {show_seconds(middle)}; if no step is good there, the window is closed and no time is "
        f"right. What would open it: {', '.join(OPENERS)}."
    )
    return _refusal(TestOutcome.NO_GOOD_STEP, f"No step is both cured and clear. {words}", words, middle, window)


def _all_under(ordered: Sequence[StepGrade]) -> StepTestResult:
    longest = ordered[-1].time_s
    words = f"Start again with a guess of {show_seconds(2 * longest)}: double the longest step."
    return _refusal(
        TestOutcome.ALL_UNDER, f"Every step is short of cure, even {show_seconds(longest)}. {words}", words, 2 * longest
    )


def _all_over(ordered: Sequence[StepGrade], judged: Sequence[tuple[StepGrade, str]]) -> StepTestResult:
    shortest = ordered[0].time_s
    words = f"Start again with a guess of {show_seconds(shortest / 2)}: half the shortest step."
    reason = f"Every step has begun to close, even {show_seconds(shortest)}. {words}"
    if all(g == Grade.OVER for _, g in judged):
        reason += " A film that leaks or a coat that saw light looks the same: check the film's density first."
    return _refusal(TestOutcome.ALL_OVER, reason, words, shortest / 2)


def _contradictory(found: Sequence[str]) -> StepTestResult:
    words = "Look again at the named steps and grade them anew; if they stand, repeat the test."
    return _refusal(TestOutcome.CONTRADICTORY, f"{found[0]} {words}", words, None, contradictions=found)


def _refusal(
    outcome: TestOutcome,
    reason: str,
    next_test: str,
    guess: float | None,
    window: Window | None = None,
    contradictions: Sequence[str] = (),
) -> StepTestResult:
    recommended = Conclusion(None, "s", outcome, reason, "measured here", next_best_measurement=next_test)
    window = window or Window(None, None)
    return StepTestResult(outcome, recommended, window, {}, None, tuple(contradictions), next_test, guess)


def _school_words(school: str, count: int) -> str:
    if school == "cure":
        return "Cure first: the longest step that keeps the detail."
    if school == "detail":
        return "Detail first: the shortest step that holds, then post-harden."
    return "The one good step." if count == 1 else "The geometric middle of the good steps."


def _seen(good: Sequence[StepGrade], value_s: float) -> str:
    """What the loupe showed on the good step nearest the chosen time."""
    step = min(good, key=lambda s: abs(math.log(s.time_s / value_s)))
    seen = []
    if step.finest_opening_um is not None:
        seen.append(f"keeps {step.finest_opening_um:g} µm open")
    if step.thinnest_line_um is not None:
        seen.append(f"holds a line of {step.thinnest_line_um:g} µm")
    return f" {_named(step)} {' and '.join(seen)}." if seen else ""


def _named(step: StepGrade) -> str:
    return f"Strip {step.strip} ({show_seconds(step.time_s)})"


def _listed(steps: Sequence[StepGrade]) -> str:
    times = [f"{show_seconds(s.time_s)} (strip {s.strip})" for s in steps]
    if len(times) == 1:
        return f"{times[0]} is"
    return f"{', '.join(times[:-1])} and {times[-1]} are"
