"""The time of a production screen: the chart's time with what has changed since, factor by factor."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from frimble.core.conclusions import Conclusion, Settings
from frimble.core.statistics.interval import Interval
from frimble.core.units import show_seconds
from frimble.core.verdicts import TimeRests

# How far two readings of a light meter may be apart, as a factor.
_METER = 1.15


@dataclass(frozen=True)
class Factor(Interval):
    """One thing that differs from the calibration: what, its factor on the time with a 90 % interval, and why.

    Attributes:
        of_light: the same light does less or more, so that detail closes later or sooner too; a thicker coat only cures
            through later.
    """

    name: str
    why: str
    of_light: bool = True


def sun_factor(then: float, now: float) -> Factor:
    """Factor for the sun's light by the meter, then and now in the same unit: the same dose."""
    factor = then / now
    why = f"{now:g} on the meter, {then:g} then."
    return Factor(factor, factor / _METER, factor * _METER, "sun by the meter", why)


def production_time(calibrated: Conclusion, factors: Sequence[Factor], settings: Settings) -> Conclusion:
    """The time to give: calibrated time × every factor; refused when together they reach too far from what was tested.

    The interval is of the time itself, from the factors' own.
    """
    if calibrated.refused or not factors:
        return calibrated
    total = math.prod(f.value for f in factors)
    most = 1 + settings["exposure.most_correction"]
    words = " × ".join([show_seconds(calibrated.known), *(f"{f.value:.2f} ({f.name})" for f in factors)])
    if not 1 / most <= total <= most:
        return Conclusion(
            None,
            "s",
            TimeRests.TOO_FAR,
            f"{words} would be ×{total:.2f}: more than ×{most:.2f} wants a step test, not a correction.",
            calibrated.rests_on,
            next_best_measurement="a step test",
        )
    reach = math.sqrt(sum(math.log(f.high / f.low) ** 2 for f in factors)) / 2
    value = calibrated.known * total
    return Conclusion(
        value,
        "s",
        TimeRests.CORRECTED,
        f"{words} = {show_seconds(value)}. {calibrated.reason}",
        f"{calibrated.rests_on}, corrected",
        value * math.exp(-reach),
        value * math.exp(reach),
        "a step test",
    )


def moved_window(
    cured: Sequence[float], closes: Sequence[float], factors: Sequence[Factor]
) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """The ends of a calibration's window, s, as they lie after what has changed: (cured, closes), each as it was given."""
    both = math.prod(f.value for f in factors if f.of_light)
    cure = both * math.prod(f.value for f in factors if not f.of_light)
    return tuple(t * cure for t in cured), tuple(t * both for t in closes)
