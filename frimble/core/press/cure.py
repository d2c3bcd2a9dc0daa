"""Whether an ink was cured: its surface temperature and how long it was held there."""

from collections.abc import Mapping
from dataclasses import dataclass

from frimble.core.conclusions import Conclusion, InvalidInput, Settings, require_between
from frimble.core.verdicts import CureVerdict


@dataclass(frozen=True)
class CureNeed:
    """What an ink wants: °C from and to, held from and to s."""

    low_c: float
    high_c: float
    low_s: float
    high_s: float


INKS: Mapping[str, str] = {"plastisol": "plastisol", "water": "water-based", "solvent": "solvent", "uv": "UV"}
# Common practice, no source: surface of plastisol. Other inks go by their own data sheet.
NEEDS: Mapping[str, CureNeed] = {"plastisol": CureNeed(160.0, 166.0, 5.0, 12.0)}
_COLDEST_C, _HOTTEST_C = 40.0, 230.0
# A thermometer that looks at the surface differs by this, °C.
_READING_C = 3.0


def checked_celsius(temperature_c: float) -> float:
    """The ink's temperature, °C.

    Raises:
        InvalidInput: none that ink has; says so where it looks like °F.
    """
    if temperature_c > _HOTTEST_C:
        celsius = (temperature_c - 32) / 1.8
        raise InvalidInput(f"{temperature_c:g} °C burns ink and cloth. If it is °F, type {celsius:.0f} °C.", "ink_c")
    return require_between(temperature_c, _COLDEST_C, _HOTTEST_C, "The ink's temperature, in °C,", "ink_c")


def judge_cure(ink: str, temperature_c: float, seconds: float | None, blend: bool, settings: Settings) -> Conclusion:
    """Whether the ink reached its cure, by its surface temperature.

    Args:
        ink: its kind. seconds: held at it; None where nobody timed it. blend: printed on cloth that gives off dye.

    Raises:
        InvalidInput: a temperature no ink has, or a time that cannot be.
    """
    checked_celsius(temperature_c)
    if seconds is not None:
        require_between(seconds, 0, 3600, "The time at it, in s,", "ink_s")
    need = NEEDS.get(ink)
    if need is None:
        reason = (
            "This ink cures as its data sheet says: hold temperature and time against it, and stretch the print."
            if ink
            else "Say which ink it is: each wants another temperature."
        )
        return Conclusion(None, "°C", CureVerdict.NOT_KNOWN, reason, "no figure for this ink")
    verdict, reason = _verdict(need, temperature_c, seconds)
    if blend and temperature_c > need.low_c - _READING_C:
        reason += " On blends dye moves into light ink at this heat: look again tomorrow."
    return Conclusion(
        temperature_c,
        "°C",
        verdict,
        reason,
        "common practice",
        low=temperature_c - _READING_C,
        high=temperature_c + _READING_C,
        next_best_measurement="a stretch test of the print" if verdict.due or seconds is None else "",
    )


def _verdict(need: CureNeed, temperature_c: float, seconds: float | None) -> tuple[CureVerdict, str]:
    wants = f"{need.low_c:g} to {need.high_c:g} °C held {need.low_s:g} to {need.high_s:g} s"
    if temperature_c + _READING_C < need.low_c:
        return CureVerdict.UNDER, f"{temperature_c:g} °C is under {wants}: it will crack and wash out."
    if temperature_c - _READING_C > need.high_c:
        return CureVerdict.HOT, f"{temperature_c:g} °C is over {wants}: cloth scorches and dye moves."
    if seconds is None:
        return CureVerdict.NOT_KNOWN, f"{temperature_c:g} °C will do where it is held: {wants}. Nobody timed it."
    if seconds < need.low_s:
        return CureVerdict.UNDER, f"{seconds:g} s at {temperature_c:g} °C is short of {wants}."
    return CureVerdict.CURED, f"{temperature_c:g} °C for {seconds:g} s; wanted are {wants}."
