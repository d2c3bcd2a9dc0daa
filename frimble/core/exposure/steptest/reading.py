"""Reading a step test by grade: the recommended time, the working window, and what to do when there is none."""

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
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

    @property
    def latitude_stops(self) -> float | None:
        """How many doublings of light lie between its ends; None while one is not known."""
        return math.log2(self.closes.value / self.cured.value) if self.cured and self.closes else None

    @property
    def forgives(self) -> float | None:
        """How far off its middle a time may be, as a share: 0.4 for ±40 %."""
        return 2 ** (self.latitude_stops / 2) - 1 if self.latitude_stops is not None else None

    @property
    def known_within(self) -> float | None:
        """How far an end may lie off its middle, as a share, of the end that is known less well."""
        if not (self.cured and self.closes):
            return None
        return max(math.sqrt(end.high / end.low) for end in (self.cured, self.closes)) - 1


@dataclass(frozen=True)
class StepTestResult:
    """What a graded step test says.

    Attributes:
        outcome: "window", "not bracketed", "all under", "all over", "no good step", "contradictory" or "closed".
        recommended: the time by the chosen school; its value is None when the test gives none.
        by_school: the time of each school in s, empty when there is none.
        coarseness: how well the window's ends are known, as a share; None where one is not known.
        left_out: what the loupe showed and was not counted, since it cannot be right, in words.
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
    left_out: tuple[str, ...] = ()

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
    ordered, left_out = trusted(_checked(steps, school, wanted_opening_um, settings), wanted_opening_um)
    result = _concluded(ordered, school, wanted_opening_um, settings)
    return replace(result, left_out=left_out)


def _concluded(
    ordered: Sequence[StepGrade], school: str, wanted_opening_um: float, settings: Settings
) -> StepTestResult:
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


def trusted(steps: Sequence[StepGrade], wanted_um: float) -> tuple[list[StepGrade], tuple[str, ...]]:
    """(the steps without what the loupe cannot have shown, what was left out in words).

    More light never opens detail and never loses a line. The fewest values that break this are left out, and so is one that
    alone would turn a step's grade against its neighbours'.

    Args:
        steps: in the order of their times.
    """
    ordered, left_out = list(steps), []
    for field, unseen, words, rises, why in (
        ("finest_opening_um", UNCURED, "clear", True, "more light never opens detail"),
        ("thinnest_line_um", {Grade.UNDER}, "standing", False, "more light never loses a line"),
    ):
        seen = [(k, getattr(s, field)) for k, s in enumerate(ordered) if s.grade not in unseen and getattr(s, field)]
        values = [v if rises else -v for _, v in seen]
        for k in sorted(set(range(len(seen))) - _surely_rising(values)):
            at, um = seen[k]
            left_out.append(_not_counted(ordered[at], f"{um:g} µm {words}", why))
            ordered[at] = replace(ordered[at], **{field: None})  # type: ignore[arg-type]
    for at, step in enumerate(ordered):
        plain = replace(step, finest_opening_um=None, thinnest_line_um=None, slimy=False, pale=False)
        if judged_grade(step, wanted_um) != step.grade and _alone(ordered, at, wanted_um):
            left_out.append(_not_counted(step, "what was marked on it", "both its neighbours say otherwise"))
            ordered[at] = plain
    return ordered, tuple(left_out)


def _alone(ordered: Sequence[StepGrade], at: int, wanted_um: float) -> bool:
    """Whether what was marked on a good step turns it against both its neighbours, while its own grade fits them."""
    around = [
        GRADES.index(judged_grade(s, wanted_um)) for s in (*ordered[max(at - 1, 0) : at], *ordered[at + 1 : at + 2])
    ]
    before, after = around[0], around[-1]
    turned, own = (GRADES.index(g) for g in (judged_grade(ordered[at], wanted_um), ordered[at].grade))
    return len(around) == 2 and before <= own <= after and not before <= turned <= after


def _surely_rising(values: Sequence[float]) -> set[int]:
    """Which values belong to every longest run that never falls: where two exclude each other, neither is sure."""
    to = [0] * len(values)
    after = [0] * len(values)
    for k, value in enumerate(values):
        to[k] = 1 + max((to[j] for j in range(k) if values[j] <= value), default=0)
    for k in reversed(range(len(values))):
        after[k] = 1 + max((after[j] for j in range(k + 1, len(values)) if values[j] >= values[k]), default=0)
    longest = max(to, default=0)
    on_one = [k for k in range(len(values)) if to[k] + after[k] - 1 == longest]
    places = [to[k] for k in on_one]
    return {k for k in on_one if places.count(to[k]) == 1}


def _not_counted(step: StepGrade, what: str, why: str) -> str:
    return f"{_named(step)}: {what} was not counted, since {why}. Look again."


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
    """Neighbours whose grade falls while the time rises."""
    contradictions = []
    for (a, grade_a), (b, grade_b) in itertools.pairwise(judged):
        if GRADES.index(grade_b) < GRADES.index(grade_a):
            contradictions.append(
                f"{_named(a)} is {grade_a} but {_named(b)}, with more light, is {grade_b}. One of the two is misread, "
                "was unevenly washed, or the card slipped."
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
    value, coarseness = by_school[school], window.known_within
    shown = f"{_listed(good)} good: cured through, {wanted_um:g} µm open."
    reason = f"{shown} {_school_words(school, len(good))}{_seen(good, value)}"
    if window.cured is None or window.closes is None:
        return _not_bracketed(ordered, good, window, by_school, value, low, high, reason, coarseness)
    next_test, guess = "", None
    if coarseness and coarseness > settings["steptest.coarse_above"] and len(good) < 3:
        next_test = (
            f"Each end of the window is known to ±{coarseness * 100:.0f} % only. A second test from "
            f"{show_seconds(window.cured.low)} to {show_seconds(window.closes.high)} in finer steps would narrow it."
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
    coarseness: float | None,
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
