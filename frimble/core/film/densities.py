"""Optical density of a film positive, and what it means for the exposure.

Densities are transmission densities, log10 units, in one named band; visual and UV values are never mixed.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from frimble.core.conclusions import Conclusion, InvalidInput, Settings, require_between, require_positive
from frimble.core.units import show_seconds
from frimble.core.verdicts import Bracket, FilmDensity, Headroom, NoVerdict

BANDS = {"uv": "UV", "visual": "visual"}
ROUTES = {
    "densitometer": "densitometer",
    "meter": "light meter with and without film",
    "scan": "scan with a wedge",
    "hold_out": "hold-out test",
}
REMEDIES = (
    "print at the densest setting",
    "tape a second identical film in register over it",
    "darken toner with light passes of spray, outside or extracted",
    "touch up bold areas only, never fine detail",
    "use another film process",
)


def density(transmittance: float) -> float:
    """Optical density of a transmittance in (0, 1]. Source: ISO 5-2, D = −log10(T)."""
    require_positive(transmittance, "Transmittance", "transmittance")
    if transmittance > 1:
        raise InvalidInput(f"A transmittance of {transmittance:g} is more than all the light.", "transmittance")
    return -math.log10(transmittance)


def transmittance(optical_density: float, settings: Settings) -> float:
    """Share of light that passes. Source: ISO 5-2, T = 10^−D."""
    return 10 ** -check_density(optical_density, settings)


def density_from_meter(without_film: float, with_film: float) -> float:
    """Density from a light meter's two readings, same unit: D = log10(E0 / E).

    Raises:
        InvalidInput: a reading is not positive, or the film lets more light through than there is.
    """
    require_positive(without_film, "The reading without film", "without_film")
    require_positive(with_film, "The reading with film", "with_film")
    if with_film > without_film:
        raise InvalidInput("With film the meter reads more than without: was something moved?", "with_film")
    return math.log10(without_film / with_film)


def check_density(optical_density: float, settings: Settings, field: str = "density") -> float:
    """A believable density, or InvalidInput."""
    return require_between(optical_density, 0, settings["film.highest_density"], "A density", field)


def stacked(densities: Sequence[float], settings: Settings) -> float:
    """Density of films in register over each other: densities add."""
    if not densities:
        raise InvalidInput("Give at least one density.", "densities")
    return sum(check_density(d, settings, "densities") for d in densities)


def time_factor(dmin: float, settings: Settings) -> float:
    """How much longer than bare glass a clear film of this density makes an exposure: 10^Dmin."""
    return 10 ** check_density(dmin, settings, "dmin")


def leak_time_s(gel_time_s: float, dmax: float, dmin: float, settings: Settings) -> float:
    """Time at which the image begins to scum through the black, s; gel time taken through clear film, s.

    Raises:
        InvalidInput: the black is not denser than the clear film, or a value is absurd.
    """
    require_positive(gel_time_s, "The gel time", "gel_time_s")
    check_density(dmax, settings, "dmax")
    check_density(dmin, settings, "dmin")
    if dmax <= dmin:
        raise InvalidInput(f"The black, {dmax:g}, is not denser than the clear film, {dmin:g}.", "dmax")
    return gel_time_s * 10 ** (dmax - dmin)


# What a bound asks for.
_LONGER = "Test longer: more multiples in a hold-out test, or a meter that reaches further."


def headroom(
    full_cure_s: float,
    work_s: float,
    dmax: float,
    dmin: float,
    band: str,
    settings: Settings,
    at_least: bool = False,
) -> Conclusion:
    """How many times the working time a film holds before it leaks.

    Args:
        full_cure_s: shortest full cure through this film, s. work_s: time in use, s.
        dmax, dmin: densities in `band`; `at_least` where the black may be denser than was told.

    Returns:
        The factor with its reason and, when it is short, the remedies. Only UV densities are the lamp's own band.
    """
    require_positive(work_s, "The working time", "work_s")
    require_positive(full_cure_s, "Full cure", "full_cure_s")
    if band not in BANDS:
        raise InvalidInput(f"“{band}” is not a band: {', '.join(BANDS)}.", "band")
    leak = leak_time_s(full_cure_s / settings["exposure.cure_over_gel"], dmax, dmin, settings)
    factor, wanted = leak / work_s, settings["film.headroom_wanted"]
    density = f"{BANDS[band]} density {dmax - dmin:.2f} above clear film"
    caution = "" if band == "uv" else " The eye's density is not the lamp's: measure UV or run a hold-out test."
    if factor >= wanted:
        reason = f"{density}: leaks after {show_seconds(leak)}, {_times(factor)} the working time.{caution}"
        return Conclusion(
            factor, "×", Headroom.HOLDS, reason, f"{BANDS[band]} density", next_best_measurement=caution.strip()
        )
    if at_least:
        reason = f"At least {density}: holds at least {_times(factor)} the working time, {wanted:g}× wanted. {_LONGER}"
        return Conclusion(
            factor, "×", Headroom.AT_LEAST, reason, f"{BANDS[band]} density", low=factor, next_best_measurement=_LONGER
        )
    verdict = Headroom.LEAKS if leak < full_cure_s else Headroom.TOO_LITTLE
    reason = (
        f"{density}: {_times(factor)} headroom, {wanted:g}× wanted. It leaks after {show_seconds(leak)}. "
        f"What helps: {', '.join(REMEDIES)}.{caution}"
    )
    return Conclusion(factor, "×", verdict, reason, f"{BANDS[band]} density", next_best_measurement="a hold-out test")


@dataclass(frozen=True)
class HoldOutStep:
    """One exposure of a hold-out test: times the working time, seconds, and the density above clear that it proves."""

    multiple: float
    time_s: float
    density: float


def plan_hold_out(gel_time_s: float, work_s: float, settings: Settings) -> list[HoldOutStep]:
    """Exposures of a black patch at doubled multiples of the working time, until the wanted density is proved.

    Each doubling is 0.3 in density. The last proves the house's least density, or is the longest exposure taken as real.

    Raises:
        InvalidInput: a time is not positive, or the working time is not longer than the gel time.
    """
    require_positive(gel_time_s, "The gel time", "gel_time_s")
    require_positive(work_s, "The working time", "work_s")
    if work_s <= gel_time_s:
        raise InvalidInput("The working time must be longer than the gel time.", "work_s")
    steps, multiple = [], 1.0
    while multiple * work_s <= settings["steptest.longest_s"]:
        steps.append(HoldOutStep(multiple, multiple * work_s, math.log10(multiple * work_s / gel_time_s)))
        if steps[-1].density >= settings["film.least_core_density"]:
            break
        multiple *= 2
    return steps


def from_hold_out(
    gel_time_s: float, work_s: float, last_clear: float, first_scummed: float | None, settings: Settings
) -> Conclusion:
    """Density above clear film in the lamp's own band, from exposures at growing multiples of the working time.

    Args:
        gel_time_s: gel time through clear film, s. work_s: working time, s.
        last_clear: last multiple at which the black still rinsed clear.
        first_scummed: first multiple at which it did not; None when all rinsed clear, then the value is a lower bound.

    Source: Dmax − Dmin = log10(multiple × t_work / t_gel), from the leak time above.
    """
    require_positive(gel_time_s, "The gel time", "gel_time_s")
    require_positive(work_s, "The working time", "work_s")
    require_positive(last_clear, "The last clear multiple", "last_clear")
    low = math.log10(last_clear * work_s / gel_time_s)
    if low <= 0:
        raise InvalidInput("At that multiple not even bare emulsion would gel: test longer multiples.", "last_clear")
    if first_scummed is None:
        reason = f"All rinsed clear up to {last_clear:g}×: at least {low:.2f}."
        return Conclusion(low, "", Bracket.AT_LEAST, reason, "measured here", low, None, "longer multiples")
    if first_scummed <= last_clear:
        raise InvalidInput(
            "The first that scummed must be a longer time than the last that rinsed clear.", "first_scummed"
        )
    high = math.log10(first_scummed * work_s / gel_time_s)
    reason = f"Clear at {last_clear:g}×, scummed at {first_scummed:g}×: between {low:.2f} and {high:.2f}."
    return Conclusion((low + high) / 2, "", Bracket.BRACKETED, reason, "measured here", low, high)


# A time in use over its full cure, where no calibrated time tells it. From memory.
_USUAL_OVER_CURE = 1.5


def wanted_core(settings: Settings, over_cure: float | None = None) -> float:
    """Density above clear film that a positive needs here, so that it holds the house's headroom at the longest time in use.

    Args:
        over_cure: longest time in use, of its full cure; the usual where None.

    Source: Dmax − Dmin = log10(headroom × t_work / t_gel), from the leak time above.
    """
    over = over_cure or _USUAL_OVER_CURE
    return math.log10(settings["film.headroom_wanted"] * over * settings["exposure.cure_over_gel"])


def judge_film(
    dmax: float,
    dmin: float,
    band: str,
    settings: Settings,
    at_least: bool = False,
    over_cure: float | None = None,
) -> Conclusion:
    """Whether a film's densities serve this house, with the remedies when they do not.

    Args:
        at_least: the black may be denser than was told: a bound is never too weak, it is not known yet.
        over_cure: as `wanted_core`.
    """
    check_density(dmax, settings, "dmax")
    check_density(dmin, settings, "dmin")
    core, wanted = dmax - dmin, wanted_core(settings, over_cure)
    clear, published = settings["film.most_clear_density"], settings["film.least_core_density"]
    rests = f"{BANDS[band]} density"
    time = "longest time in use" if over_cure else "usual time"
    needed = f"{wanted:.2f} holds {settings['film.headroom_wanted']:g}× the {time}"
    if at_least and core < wanted:
        reason = f"The black holds at least {core:.2f} above clear film; {needed}. {_LONGER}"
        return Conclusion(core, "", FilmDensity.AT_LEAST, reason, rests, low=core, next_best_measurement=_LONGER)
    faults = []
    if core < wanted:
        faults.append(f"the black is {core:.2f} above clear; {needed}: {', '.join(REMEDIES[:2])}")
    if dmin > clear:
        slow = f": exposures take {10**dmin:.1f}× as long" if band == "uv" else ", by the eye"
        faults.append(f"clear film of {dmin:.2f} is over {clear:g}{slow}")
    bound = "at least " if at_least else ""
    below = f", though {published:g} is the published limit" if wanted <= core < published else ""
    reason = (
        "; ".join(faults) or f"The black is {bound}{core:.2f} above clear film, clear film {dmin:.2f}: {needed}{below}"
    )
    verdict = FilmDensity.TOO_WEAK if core < wanted else FilmDensity.SLOW if faults else FilmDensity.GOOD
    return Conclusion(core, "", verdict, f"{reason[0].upper()}{reason[1:]}.", rests)


def _times(factor: float) -> str:
    """A factor as people say it: 1.4×, 63×."""
    return f"{factor:.1f}×" if factor < 10 else f"{factor:.0f}×"


def two_stacked(dmax: float, dmin: float, settings: Settings) -> Conclusion:
    """Two films of one process in register over each other: the black above clear, and what clear costs in time.

    Source: densities add (Beer–Lambert); 10^D for the time.
    """
    black, clear = stacked([dmax, dmax], settings), stacked([dmin, dmin], settings)
    reason = (
        f"Two in register: black {dmax:.2f} + {dmax:.2f} = {black:.2f}, clear {clear:.2f}, so that an exposure takes "
        f"{10 ** (clear - dmin):.2f}× as long as through one. What they are off from each other thins every edge."
    )
    return Conclusion(black - clear, "", NoVerdict.NONE, reason, "measured here")
