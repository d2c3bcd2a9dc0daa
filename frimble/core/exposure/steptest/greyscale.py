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


def factors(steps: int = STEPS) -> tuple[float, ...]:
    """Share of the light that reaches the screen through step 1, 2, …; step 1 is clear."""
    return tuple(LIGHT_A_STEP**-(k) for k in range(steps))


def as_reading(exposed_s: float, solid_step: float, settings: Settings) -> StepTestResult:
    """The reading of a grey scale; it tells the light, not where the window ends. Arguments and errors as `best_time`."""
    time = best_time(exposed_s, solid_step, settings)
    outcome = TestOutcome.NOT_BRACKETED if time.verdict == GreyScale.NOT_BRACKETED else TestOutcome.WINDOW
    by_school = dict.fromkeys(SCHOOLS, time.known)
    coarse = LIGHT_A_STEP**0.5 - 1
    return StepTestResult(
        outcome, time, Window(None, None), by_school, coarse, (), time.next_best_measurement, time.value
    )


def best_time(exposed_s: float, solid_step: float, settings: Settings) -> Conclusion:
    """The right time from the highest step that stands solid.

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
    at_end = solid_step in (1, STEPS)
    low, high = settings["greyscale.low"], settings["greyscale.high"]
    right = GreyScale.RIGHT if low <= solid_step <= high else GreyScale.CORRECTED
    verdict = GreyScale.NOT_BRACKETED if at_end else right
    reason = (
        f"Step {solid_step:g} stands and step {aim:g} is wanted: {show_seconds(exposed_s)} × {factor:.2f} = "
        f"{show_seconds(value)}. A step is √2 of light (+41 % a step); half a step either way is ±{(half - 1) * 100:.0f} %."
    )
    again = f"another test at {show_seconds(value)}" if at_end or abs(aim - solid_step) > 3 else ""
    return Conclusion(value, "s", verdict, reason, "measured here", value / half, value * half, again)
