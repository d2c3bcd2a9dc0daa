"""From what was measured on a photo to a time, its window and how sure it is; or why there is none."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np
from scipy import special

from frimble.core.conclusions import Conclusion, InvalidInput, RuleViolation, Settings, require_between
from frimble.core.exposure.photo.closing import Creep, find_creep
from frimble.core.exposure.photo.curing import Cure, find_cure
from frimble.core.exposure.photo.measuring import PhotoMeasurement
from frimble.core.exposure.steptest.reading import OPENERS, SCHOOLS, UNCURED, Grade, StepGrade, StepTestResult, Window
from frimble.core.statistics.interval import Interval, around
from frimble.core.statistics.normal import Z_90
from frimble.core.units import show_seconds
from frimble.core.verdicts import TestOutcome, TimeRests

# How far lamp, hand and coat move from screen to screen, in ln of time: room that is wanted at both ends.
_WORK_SD = 0.08
_COARSER = 1.4
_NOT_THERE = 0.5
# Steps this near full cure, in ln of time, decide it.
_NEAR_KNEE = 0.4
_SURE = 0.8
# Less sure than this it would be a guess.
_LEAST_SURE = 0.35
# No photo is surer than what was ever tried out.
_SUREST = 0.99


@dataclass(frozen=True)
class PhotoStep:
    """One step as measured.

    Attributes:
        verdict: one of GRADES. density: of its stencil; share: of the cured. scum: density where it should be open.
        finest_opening_um, thinnest_line_um: finest drawn opening still clear and line standing, µm; None where none.
        open_share, line_share: of each opening and line, finest first, how wide it is of what was drawn. dots: open share
            of each field of dots, lightest first.
    """

    index: int
    time_s: float
    verdict: str
    density: float | None
    share: float | None
    scum: float
    finest_opening_um: float | None
    thinnest_line_um: float | None
    open_share: tuple[float | None, ...]
    line_share: tuple[float | None, ...] = ()
    dots: tuple[float | None, ...] = ()


@dataclass(frozen=True)
class PhotoReading:
    """What a photo says. Times in s; `low_s`–`high_s` from full cure to the finest wanted opening still clear.

    Attributes:
        confidence: probability that the recommended time lies in the window, 0 when there is none.
        cured, closes: best estimate with the ends of its 90 % interval, s.
        refused: why there is no time; empty when there is one. next_test: what to do next; empty when nothing is needed.
    """

    steps: tuple[PhotoStep, ...]
    wanted_um: float
    recommended_s: float | None
    low_s: float | None
    high_s: float | None
    finest_open_um: float | None
    confidence: float
    cured: Interval | None
    closes: Interval | None
    reason: str
    refused: str = ""
    next_test: str = ""
    next_guess_s: float | None = None

    @property
    def sure(self) -> bool:
        """Whether it may be used as it stands."""
        return self.confidence >= _SURE


def checked_times(times_s: Sequence[float], steps: int, settings: Settings) -> list[float]:
    """Times of step 1, 2, …, s.

    Raises:
        InvalidInput: not one for each step, absurd, or neither rising nor falling from step to step.
    """
    times = list(times_s)
    if len(times) != steps:
        raise InvalidInput(f"The film has {steps} steps; {len(times)} times were given.", "times")
    for time in times:
        require_between(time, settings["steptest.shortest_s"], settings["steptest.longest_s"], "A time, in s,", "times")
    moves = np.sign(np.diff(times))
    if not (np.all(moves > 0) or np.all(moves < 0)):
        raise InvalidInput(
            "The times must rise from step to step (or fall from step to step, as the card gave them); two are equal or out "
            "of order.",
            "times",
        )
    return times


def conclude(
    measured: PhotoMeasurement, times_s: Sequence[float], wanted_um: float, settings: Settings
) -> PhotoReading:
    """The reading of a measured photo.

    Args:
        times_s: of step 1, 2, …, as from `checked_times`. wanted_um: finest opening that must stay clear.

    Raises:
        RuleViolation: glare on what matters, or densities that fall with time.
    """
    times = np.asarray(times_s, float)
    order = np.argsort(times)
    glared = np.isin(measured.numbers, measured.glare)
    _refuse_glare(measured, glared.sum() > max(1, len(order) // 4))
    rising, scum = times[order], measured.scum[order]
    density = np.where(glared, np.nan, measured.density)[order]
    open_share = np.where(glared[:, None], np.nan, measured.open_share)[order]
    cure = find_cure(rising, density, measured.differs[order], settings)
    if cure is None:
        return _nothing_held(measured, times, wanted_um)
    _refuse_glare(measured, (np.abs(np.log(times[glared]) - cure.ln_full) < _NEAR_KNEE).any())
    _refuse_falling(measured, density, cure)
    creep = find_creep(rising, open_share, measured.widths_um, scum, cure)
    steps = _steps(measured, times, cure, creep, wanted_um)
    return _concluded(steps, rising, cure, creep, measured, wanted_um)


def unread(times_s: Sequence[float], wanted_um: float, why: str) -> PhotoReading:
    """The reading of a photo that could not be measured."""
    again = "Take the photo again; the test can still be read by eye."
    return PhotoReading((), wanted_um, None, None, None, None, 0.0, None, None, why, why, again)


def _refuse_glare(measured: PhotoMeasurement, matters: bool) -> None:
    if matters:
        named = ", ".join(str(g) for g in measured.lit)
        where = f"step{'s' if len(measured.lit) > 1 else ''} {named}, where it matters" if named else "the test"
        raise RuleViolation(f"Glare lies on {where}: put out the room's lamps or move the phone, and take it again.")


def _refuse_falling(measured: PhotoMeasurement, density: np.ndarray, cure: Cure) -> None:
    """More light never makes a thinner stencil."""
    density = density[np.isfinite(density)]
    top = np.maximum.accumulate(density)
    fall = top - density
    if fall.max() > max(0.3 * cure.full_density, 6 * cure.noise):
        _refuse_glare(measured, measured.some_glare)
        raise RuleViolation(
            "The stencil gets thinner with more light: the times run the other way than given, a step peeled at washout, or "
            "the card slipped. Look at the test itself."
        )


def _nothing_held(measured: PhotoMeasurement, times: np.ndarray, wanted_um: float) -> PhotoReading:
    longest = float(times.max())
    steps = tuple(
        PhotoStep(number, float(t), Grade.UNDER, float(d), 0.0, 0.0, None, None, ())
        for number, t, d in zip(measured.numbers, times, measured.density, strict=True)
    )
    why = f"Too few steps hold a stencil, even {show_seconds(longest)} is short of cure."
    return _refusal(steps, wanted_um, why, f"Start again around {show_seconds(2 * longest)}.", 2 * longest)


def _steps(
    measured: PhotoMeasurement, times: np.ndarray, cure: Cure, creep: Creep | None, wanted_um: float
) -> tuple[PhotoStep, ...]:
    return tuple(_step(k, float(time), measured, cure, creep, wanted_um) for k, time in enumerate(times))


def _step(
    k: int, time: float, measured: PhotoMeasurement, cure: Cure, creep: Creep | None, wanted_um: float
) -> PhotoStep:
    density = float(measured.density[k])
    share = density / cure.full_density
    at = math.log(time)
    clear = [w for w in measured.widths_um if creep and creep.closes(w)[0] > at and share > _NOT_THERE]
    standing = [w for w, s in zip(measured.line_widths_um, measured.lines[k], strict=True) if s > _NOT_THERE]
    return PhotoStep(
        measured.numbers[k],
        time,
        _verdict(at, share, cure, creep, wanted_um),
        _number(density),
        _number(share),
        float(measured.scum[k]),
        min(clear, default=None),
        min(standing, default=None),
        _numbers(measured.open_share[k]),
        _numbers(measured.lines[k]),
        _numbers(measured.dots[k]),
    )


def _number(share: float) -> float | None:
    """Rounded; None where nothing could be measured."""
    return round(float(share), 4) if np.isfinite(share) else None


def _numbers(shares: np.ndarray | tuple[float, float]) -> tuple[float | None, ...]:
    return tuple(_number(s) for s in shares)


def _verdict(at: float, share: float, cure: Cure, creep: Creep | None, wanted_um: float) -> str:
    if at < cure.ln_full:
        return Grade.SHORT if share > _NOT_THERE else Grade.UNDER
    if creep is None or at <= creep.closes(wanted_um)[0]:
        return Grade.GOOD
    return Grade.CLOSING if at <= creep.closes(_COARSER * wanted_um)[0] else Grade.OVER


def _concluded(
    steps: tuple[PhotoStep, ...],
    times: np.ndarray,
    cure: Cure,
    creep: Creep | None,
    measured: PhotoMeasurement,
    wanted_um: float,
) -> PhotoReading:
    shortest, longest = float(times[0]), float(times[-1])
    if cure.above > 0.5 or cure.full_s > longest or creep is None:
        why = f"Every step is short of cure, even {show_seconds(longest)}: the stencil still thickens with more light."
        return _refusal(steps, wanted_um, why, f"Start again around {show_seconds(2 * longest)}.", 2 * longest)
    ln_close, close_sd = creep.closes(wanted_um)
    if cure.below > 0.2 or cure.full_s < shortest:
        _refuse_glare(measured, measured.some_glare)
        return _all_cured(steps, times, ln_close, wanted_um)
    edges = _edge(cure.ln_full, cure.sd), _edge(ln_close, close_sd)
    gap, gap_sd = ln_close - cure.ln_full, math.hypot(cure.sd, close_sd)
    if gap <= 0:
        _refuse_glare(measured, measured.some_glare)
        words = (
            f"{wanted_um:g} µm openings close at {show_seconds(edges[1].value)}, before the stencil is cured through at "
            f"{show_seconds(edges[0].value)}: no time is right. What would open the window: {', '.join(OPENERS)}."
        )
        return _refusal(steps, wanted_um, words, "", None, edges)
    return _timed(steps, longest, cure, creep, edges, (ln_close, close_sd, gap / gap_sd), measured, wanted_um)


def _timed(
    steps: tuple[PhotoStep, ...],
    longest: float,
    cure: Cure,
    creep: Creep,
    edges: tuple[Interval, Interval],
    closing: tuple[float, float, float],
    measured: PhotoMeasurement,
    wanted_um: float,
) -> PhotoReading:
    ln_close, close_sd, _ = closing
    seen_to_close = ln_close <= math.log(longest)
    ln_high = min(ln_close, math.log(longest))
    before, after = math.hypot(cure.sd, _WORK_SD), math.hypot(close_sd, _WORK_SD)
    at = cure.ln_full + (ln_high - cure.ln_full) * before / (before + after)
    inside = _normal((at - cure.ln_full) / cure.sd) * _normal((ln_close - at) / close_sd)
    confidence = min(_SUREST, inside * _trust(creep, cure, measured))
    if inside < _LEAST_SURE:
        return _too_near(steps, edges, wanted_um)
    if confidence < _LEAST_SURE:
        _refuse_glare(measured, bool(measured.lit))
        why = (
            "What the photo shows does not fit together: openings are not as open as widths and times would have them."
        )
        return _refusal(steps, wanted_um, why, "Take it again, or read the test by eye.", None, edges)
    open_widths = [w for w in measured.widths_um if creep.closes(w)[0] > at]
    value = math.exp(at)
    reason = (
        f"Cured through from {show_seconds(cure.full_s)}, where the stencil stops getting denser; "
        f"{wanted_um:g} µm stays clear {'to' if seen_to_close else 'at least to'} {show_seconds(math.exp(ln_high))}, by how "
        f"far light creeps under the film's edge ({creep.spread_um:.0f} µm). {show_seconds(value)} leaves room at both "
        "ends, most at the one that is known less well."
    )
    following = (
        "" if seen_to_close else f"The longest step still keeps {wanted_um:g} µm: the upper end lies beyond the test."
    )
    return PhotoReading(
        steps,
        wanted_um,
        value,
        cure.full_s,
        math.exp(ln_high),
        min(open_widths, default=None),
        confidence,
        edges[0],
        edges[1] if seen_to_close else None,
        reason,
        next_test=following,
    )


def _too_near(steps: tuple[PhotoStep, ...], edges: tuple[Interval, Interval], wanted_um: float) -> PhotoReading:
    cured, closes = edges[0].value, edges[1].value
    why = (
        f"Full cure, near {show_seconds(cured)}, and {wanted_um:g} µm closing, near {show_seconds(closes)}, lie closer "
        f"together than this photo can tell: the window may be shut. What would open it: {', '.join(OPENERS)}."
    )
    guess = math.sqrt(cured * closes)
    return _refusal(steps, wanted_um, why, f"Or test in finer steps around {show_seconds(guess)}.", guess, edges)


def _trust(creep: Creep, cure: Cure, measured: PhotoMeasurement) -> float:
    """What is left of the confidence where the photo fits its own explanation badly, or a step carries glare."""
    misfit = max(0.0, creep.misfit - 0.12) * 3
    return max(0.0, 1 - misfit - 0.1 * len(measured.glare)) * (1 - cure.below) * (1 - cure.above)


def _all_cured(steps: tuple[PhotoStep, ...], times: np.ndarray, ln_close: float, wanted_um: float) -> PhotoReading:
    shortest = float(times[0])
    half = f"Start again around {show_seconds(shortest / 2)}."
    if ln_close < math.log(shortest):
        why = (
            f"Every step has closed {wanted_um:g} µm, even {show_seconds(shortest)}; a film that leaks looks the same."
        )
    else:
        why = f"The shortest step, {show_seconds(shortest)}, is cured already: where full cure lies is not bracketed."
    return _refusal(steps, wanted_um, why, half, shortest / 2)


def _edge(ln: float, sd: float) -> Interval:
    return around(ln, Z_90 * sd).exp()


def _normal(z: float) -> float:
    return float(special.ndtr(z))


def _refusal(
    steps: tuple[PhotoStep, ...],
    wanted_um: float,
    why: str,
    next_test: str,
    guess: float | None,
    edges: tuple[Interval | None, Interval | None] = (None, None),
) -> PhotoReading:
    cured, closes = edges
    return PhotoReading(
        steps,
        wanted_um,
        None,
        None,
        None,
        None,
        0.0,
        cured,
        closes,
        why,
        f"{why} {next_test}".strip(),
        next_test,
        guess,
    )


def as_grades(found: PhotoReading) -> list[StepGrade]:
    """The steps as a reader would have graded them, to be corrected by hand."""
    return [
        StepGrade(s.index, s.time_s, s.verdict, None if s.verdict in UNCURED else s.finest_opening_um)
        for s in found.steps
    ]


def as_reading(found: PhotoReading, school: str) -> StepTestResult:
    """A photo's time as the reading of its test, by the chosen school: nothing was corrected by hand.

    Raises:
        RuleViolation: the photo gave no time.
    """
    time_s, low_s, high_s = found.recommended_s, found.low_s, found.high_s
    cured, closes = found.cured, found.closes
    if time_s is None or low_s is None or high_s is None or cured is None:
        raise RuleViolation(found.refused or found.reason)
    window = Window(cured, closes)
    # Cure first and detail first stay inside of what is sure of each end.
    by_school = dict.fromkeys(SCHOOLS, time_s)
    if closes and closes.low > cured.high:
        by_school |= {"cure": closes.low, "detail": cured.high}
    outcome = TestOutcome.WINDOW if closes else TestOutcome.NOT_BRACKETED
    time = Conclusion(
        by_school[school],
        "s",
        TimeRests.CALIBRATED if closes else TestOutcome.NOT_BRACKETED,
        found.reason,
        "measured on a photo",
        low_s,
        high_s,
        found.next_test,
    )
    return StepTestResult(outcome, time, window, by_school, window.known_within, (), found.next_test)


_ENDS = ("cured", "closes")


def to_plain(found: PhotoReading) -> dict[str, Any]:
    """As JSON can hold it; `from_plain` reads it back."""
    return {**asdict(found), **{k: list(end) if (end := getattr(found, k)) else None for k in _ENDS}}


def from_plain(plain: Mapping[str, Any]) -> PhotoReading:
    """A stored reading."""
    steps = tuple(_plain_step(s) for s in plain["steps"])
    ends = {k: Interval(*plain[k]) if plain[k] else None for k in _ENDS}
    return PhotoReading(**{**plain, **ends, "steps": steps})


def _plain_step(plain: Mapping[str, Any]) -> PhotoStep:
    fields: dict[str, Any] = {k: tuple(v) if isinstance(v, list) else v for k, v in plain.items()}
    return PhotoStep(**fields)
