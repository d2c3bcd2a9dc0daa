"""Grey scale: film of even steps of density laid on the screen; how many stand solid tells the light it got.

Source: density D lets through 10^−D (ISO 5-2), so that 0.15 from step to step is √2 of light.
"""

from frimble.core.conclusions import Conclusion, Settings, require_between, require_positive
from frimble.core.exposure.steptest.reading import SCHOOLS, StepTestResult, Window
from frimble.core.units import show_seconds
from frimble.core.verdicts import GreyScale, TestOutcome

STEPS = 21
DENSITY_A_STEP = 0.15
LIGHT_A_STEP = 10**DENSITY_A_STEP
# Steps at either end that tell nothing: what lies beyond them reads the same.
_ENDS = 2


def factors(steps: int = STEPS) -> tuple[float, ...]:
    """Share of the light that reaches the screen through step 1, 2, …; step 1 is clear."""
    return tuple(LIGHT_A_STEP**-(k) for k in range(steps))


def as_reading(exposed_s: float, solid_step: float, settings: Settings) -> StepTestResult:
    """The reading of a grey scale; it tells the light, not where the window ends. Arguments and errors as `best_time`."""
    time = best_time(exposed_s, solid_step, settings)
    if time.refused:
        again = _next_guess(exposed_s, solid_step)
        return StepTestResult(
            TestOutcome.NOT_BRACKETED, time, Window(None, None), {}, None, (), time.next_best_measurement, again
        )
    by_school = dict.fromkeys(SCHOOLS, time.known)
    coarse = LIGHT_A_STEP**0.5 - 1
    return StepTestResult(
        TestOutcome.WINDOW, time, Window(None, None), by_school, coarse, (), time.next_best_measurement, time.value
    )


def best_time(exposed_s: float, solid_step: float, settings: Settings) -> Conclusion:
    """The right time from the highest step that stands solid; refused at the scale's ends, where more or less light would
    read the same.

    Args:
        exposed_s: the one exposure given, s. solid_step: 1 to 21; a half where a step stands in part.

    Raises:
        InvalidInput: no such step.
    """
    require_positive(exposed_s, "The exposure", "exposed_s")
    require_between(solid_step, 1, STEPS, "The highest solid step", "solid_step")
    aim = settings["greyscale.aim"]
    factor = LIGHT_A_STEP ** (aim - solid_step)
    value, half = exposed_s * factor, LIGHT_A_STEP**0.5
    if solid_step <= _ENDS or solid_step > STEPS - _ENDS:
        return _at_the_end(exposed_s, solid_step)
    low, high = settings["greyscale.low"], settings["greyscale.high"]
    verdict = GreyScale.RIGHT if low <= solid_step <= high else GreyScale.CORRECTED
    reason = (
        f"Step {solid_step:g} stands and step {aim:g} is wanted: {show_seconds(exposed_s)} × {factor:.2f} = "
        f"{show_seconds(value)}. A step is √2 of light (+41 % a step); half a step either way is ±{(half - 1) * 100:.0f} %."
    )
    again = f"another test at {show_seconds(value)}" if abs(aim - solid_step) > 3 else ""
    return Conclusion(value, "s", verdict, reason, "measured here", value / half, value * half, again)


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
