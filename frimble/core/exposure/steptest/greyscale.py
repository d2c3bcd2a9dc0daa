"""Grey scale: film of even steps of density laid on the screen; how many stand solid tells the light it got.

Source: density D lets through 10^−D (ISO 5-2), so that 0.15 from step to step is √2 of light.
"""

import math
import statistics
from collections.abc import Sequence
from dataclasses import dataclass

from frimble.core.conclusions import Conclusion, Settings, require_between, require_positive
from frimble.core.exposure.steptest.reading import SCHOOLS, StepTestResult, Window
from frimble.core.statistics.normal import Z_90
from frimble.core.units import show_seconds
from frimble.core.verdicts import GreyScale, TestOutcome

STEPS = 21
DENSITY_A_STEP = 0.15
LIGHT_A_STEP = 10**DENSITY_A_STEP
# Steps at either end that tell nothing: what lies beyond them reads the same.
_ENDS = 2
# A scale is read to so much of a step; the house's step may be off by so much, since it hangs on emulsion and wash.
_READ_ERROR, _HOUSE_ERROR = 0.35, 1.2


def factors(steps: int = STEPS) -> tuple[float, ...]:
    """Share of the light that reaches the screen through step 1, 2, …; step 1 is clear."""
    return tuple(LIGHT_A_STEP**-(k) for k in range(steps))


@dataclass(frozen=True)
class Aim:
    """The step that stands solid at the right time: its value, standard error, and from how many scales it was learned.

    None learned: the house's, which is provisional.
    """

    step: float
    error: float
    scales: int = 0


def learn_aim(scales: Sequence[tuple[float, float, float]], settings: Settings) -> Aim:
    """The step to aim at, from scales exposed where the right time is known by a window.

    Args:
        scales: (exposure given s, solid step read, right time s) of each.

    Each says which step would have stood at its right time: two steps more for every doubling of the light.
    """
    if not scales:
        return Aim(settings["greyscale.aim"], _HOUSE_ERROR)
    steps = [solid + math.log(right / given) / math.log(LIGHT_A_STEP) for given, solid, right in scales]
    spread = statistics.stdev(steps) if len(steps) > 1 else 0.0
    return Aim(statistics.fmean(steps), max(_READ_ERROR, spread) / math.sqrt(len(steps)), len(steps))


def as_reading(exposed_s: float, solid_step: float, settings: Settings, aim: Aim | None = None) -> StepTestResult:
    """The reading of a grey scale; it tells the light, not where the window ends.

    It is provisional until the step to aim at was learned from a window. Arguments and errors as `best_time`.
    """
    time = best_time(exposed_s, solid_step, settings, aim)
    if time.refused:
        again = _next_guess(exposed_s, solid_step)
        return StepTestResult(
            TestOutcome.NOT_BRACKETED, time, Window(None, None), {}, None, (), time.next_best_measurement, again
        )
    by_school = dict.fromkeys(SCHOOLS, time.known)
    outcome = TestOutcome.WINDOW if aim and aim.scales else TestOutcome.PROVISIONAL
    return StepTestResult(
        outcome, time, Window(None, None), by_school, None, (), time.next_best_measurement, time.value
    )


def best_time(exposed_s: float, solid_step: float, settings: Settings, aim: Aim | None = None) -> Conclusion:
    """The right time from the highest step that stands solid; refused at the scale's ends, where more or less light would
    read the same.

    Args:
        exposed_s: the one exposure given, s. solid_step: 1 to 21; a half where a step stands in part. aim: the step
            wanted, learned here; the house's where None.

    Raises:
        InvalidInput: no such step.
    """
    require_positive(exposed_s, "The exposure", "exposed_s")
    require_between(solid_step, 1, STEPS, "The highest solid step", "solid_step")
    aim = aim or learn_aim((), settings)
    factor = LIGHT_A_STEP ** (aim.step - solid_step)
    value, reach = exposed_s * factor, LIGHT_A_STEP ** (Z_90 * math.hypot(_READ_ERROR, aim.error))
    if solid_step <= _ENDS or solid_step > STEPS - _ENDS:
        return _at_the_end(exposed_s, solid_step)
    off = settings["greyscale.high"] - settings["greyscale.aim"]
    verdict = GreyScale.RIGHT if abs(solid_step - aim.step) <= off else GreyScale.CORRECTED
    reason = (
        f"Step {solid_step:g} stands and step {aim.step:.3g} is wanted{_learned_words(aim)}: {show_seconds(exposed_s)} × "
        f"{factor:.2f} = {show_seconds(value)}. A step is √2 of light (+41 % a step); read and aimed so, it is known to "
        f"±{(reach - 1) * 100:.0f} %."
    )
    again = f"another test at {show_seconds(value)}" if abs(aim.step - solid_step) > 3 else ""
    if not aim.scales:
        again = "a step test that shows both ends of the window, under the same lamp on the same emulsion"
    rests = "measured here" if aim.scales else "measured here, aimed by the house's step"
    return Conclusion(value, "s", verdict, reason, rests, value / reach, value * reach, again)


def _learned_words(aim: Aim) -> str:
    if not aim.scales:
        return " by the house, which no window here has confirmed yet"
    return f", learned from {aim.scales} scale{'s' if aim.scales != 1 else ''} beside a window"


def _at_the_end(exposed_s: float, solid_step: float) -> Conclusion:
    again = _next_guess(exposed_s, solid_step)
    words = f"Expose another scale for about {show_seconds(again)} and read that."
    reason = (
        f"Step {solid_step:g} of {STEPS} lies at the scale's end, where "
        f"{'less' if solid_step <= _ENDS else 'more'} light would read the same: it tells no time. {words}"
    )
    return Conclusion(None, "s", GreyScale.NOT_BRACKETED, reason, "measured here", next_best_measurement=words)


def _next_guess(exposed_s: float, solid_step: float) -> float:
    """A quarter or four times the light: the next scale is read nearer to its middle."""
    return exposed_s * (4 if solid_step <= _ENDS else 0.25)
