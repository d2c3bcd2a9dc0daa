"""Light sources: how light falls off with distance and to the corners, how even a field is, how a lamp fades, and dose."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from frimble.core.conclusions import (
    Conclusion,
    InvalidInput,
    RuleViolation,
    Settings,
    require_between,
    require_positive,
)
from frimble.core.exposure.light.dose import inverse_square_time
from frimble.core.exposure.light.kinds import kind_of
from frimble.core.exposure.steptest import greyscale as grey_scale
from frimble.core.statistics import learning
from frimble.core.statistics.normal import Z_90
from frimble.core.verdicts import LampVerdict, TimeRests

GEOMETRIES = {"point": "one point or small lamp", "tubes": "tubes side by side", "panel": "panel of many", "sun": "sun"}
CONTACTS = {
    "vacuum": "vacuum blanket",
    "weight": "glass, foam and weight",
    "blocking": "glass or plastic that holds back UV",
    "none": "nothing presses",
}
# A reading of a light meter differs from the next by this, as a logarithm; nine of ten lie within the reach.
_METER_SD = 0.02
MOVED_WORDS = {
    "tubes": "Close to tubes light hardly falls with distance, and farther off it does",
    "panel": "Close to a panel light hardly falls with distance, and farther off it does",
    "sun": "The sun has no distance",
}


def distance_factor(geometry: str, old_mm: float, new_mm: float) -> Conclusion:
    """Factor on the time after the lamp was moved: an estimate to test.

    Raises:
        RuleViolation: no rule holds for this geometry; the reason says so.

    Source: inverse-square law, for a lamp that is small against its distance.
    """
    if geometry != "point":
        raise RuleViolation(
            f"{MOVED_WORDS.get(geometry, 'No rule is known')}: no rule of thumb holds, test again.", field="distance_mm"
        )
    factor = inverse_square_time(1.0, old_mm, new_mm)
    reason = f"A small lamp's light falls with the square of distance: ({new_mm:.0f} ÷ {old_mm:.0f})² = ×{factor:.2f}."
    return Conclusion(
        factor,
        "×",
        TimeRests.ESTIMATE,
        reason,
        "predicted from the inverse-square law",
        next_best_measurement="a step test at the new distance",
    )


def corner_share(distance_mm: float, corner_mm: float) -> float:
    """Light in a corner, of the middle's, under a small lamp over the middle, flat on.

    Args:
        distance_mm: lamp to glass. corner_mm: middle to corner.

    Source: cosine-fourth law.
    """
    require_positive(distance_mm, "Distance", "distance_mm")
    return math.cos(math.atan2(corner_mm, distance_mm)) ** 4


@dataclass(frozen=True)
class Field:
    """How even a lamp's field is.

    Attributes:
        rows: readings as shares of the brightest, row by row. least: the darkest place's share.
        verdict: with the time's spread that it stands for. usable: (rows, columns) of places within the house's limit.
        usable_share: of the area, between places counted straight.
    """

    rows: tuple[tuple[float, ...], ...]
    least: float
    verdict: Conclusion
    usable: tuple[tuple[bool, ...], ...]
    usable_share: float


def field_of(readings: Sequence[Sequence[float]], settings: Settings) -> Field:
    """The field from readings of a light meter, or from nine exposures read as light, on a square grid.

    Raises:
        InvalidInput: fewer than three by three, ragged, or a reading that is none.
    """
    if len(readings) < 3 or any(len(row) != len(readings[0]) or len(row) < 3 for row in readings):
        raise InvalidInput("Give at least three rows of three readings, each row as long as the others.", "field")
    table = np.asarray(readings, float)
    if not np.all(np.isfinite(table)) or np.any(table <= 0):
        raise InvalidInput("Every reading must be more than 0: what gets no light cannot be exposed.", "field")
    share = table / table.max()
    limit = settings["lamp.even_within"]
    usable = share >= 1 - limit
    least = float(share.min())
    fine = _between(share)
    part = float((fine >= 1 - limit).mean())
    darkest = f"The darkest place gets {least * 100:.0f} % of the brightest, so it wants ×{1 / least:.2f} the time."
    if least >= 1 - limit:
        verdict = Conclusion(
            least, "of 1", LampVerdict.EVEN, f"{darkest} Within the house's {limit * 100:.0f} %.", "measured here"
        )
    else:
        verdict = Conclusion(
            least,
            "of 1",
            LampVerdict.UNEVEN,
            f"{darkest} Keep fine work on the {part * 100:.0f} % of the area that is within "
            f"{limit * 100:.0f} %, or move the lamp farther off.",
            "measured here",
        )
    return Field(tuple(map(tuple, share.tolist())), least, verdict, tuple(map(tuple, usable.tolist())), part)


def light_of_steps(solid_steps: Sequence[Sequence[float]]) -> list[list[float]]:
    """Light at each place of one exposure, in shares of the least, from the highest solid step of a grey scale there.

    Raises:
        InvalidInput: no such step.
    """
    for step in (s for row in solid_steps for s in row):
        require_between(step, 1, grey_scale.STEPS, "A solid step", "field")
    least = min(s for row in solid_steps for s in row)
    return [[grey_scale.LIGHT_A_STEP ** (step - least) for step in row] for row in solid_steps]


def _between(share: np.ndarray, each: int = 12) -> np.ndarray:
    """The field between its readings, straight from one to the next."""
    rows, columns = share.shape
    y, x = np.linspace(0, rows - 1, rows * each), np.linspace(0, columns - 1, columns * each)
    across = np.array([np.interp(x, np.arange(columns), row) for row in share])
    return np.array([np.interp(y, np.arange(rows), column) for column in across.T]).T


def fading(readings: Sequence[tuple[float, float]], hours_now: float, settings: Settings, kind: str = "") -> Conclusion:
    """Light left, of a new lamp's, by its hours: from meter readings (hours, light), beginning from common practice.

    Args:
        readings: (hours, light in any unit of one meter). kind: of lamp, a key of `light.kinds.KINDS`.

    Raises:
        InvalidInput: no lamp of that kind fades, or hours no lamp has.

    The logarithm of light falls straight with hours. Readings that lie close together in hours tell little of it, and
    then the interval is wide.
    """
    require_between(hours_now, 0, settings["lamp.most_hours"], "The lamp's hours", "hours")
    usual, many = settings["lamp.fading"] * kind_of(kind).fades, hours_now / 1000
    _fades(usual)
    known = learning.prior((0.0, -usual), (1.0, 2 * usual), _METER_SD)
    if readings:
        hours, light = np.array(readings, float).T
        known = learning.learn(known, np.column_stack([np.ones(len(hours)), hours / 1000]), np.log(light / light[0]))
    slope, sd = float(known.mean[1]), float(np.sqrt(known.covariance[1, 1]))
    lost = f"{-slope * 10:.1f} % lost per 100 h"
    measured = sd < usual / 2
    if measured:
        reason, rests = f"{len(readings)} readings: {lost}.", "measured here"
    elif readings:
        span = float(hours.max() - hours.min())
        reason, rests = (
            f"{len(readings)} readings within {span:.0f} h are too close together to tell alone; with the usual, {lost}.",
            "measured here and common practice",
        )
    else:
        reason, rests = f"{hours_now:.0f} h at the usual: {lost}.", "common practice"
    return Conclusion(
        math.exp(slope * many),
        "of new",
        LampVerdict.MEASURED if measured else LampVerdict.ESTIMATE,
        reason,
        rests,
        math.exp((slope - Z_90 * sd) * many),
        min(1.0, math.exp((slope + Z_90 * sd) * many)),
        "" if measured else "a light meter's reading every month",
    )


def _fades(usual: float) -> None:
    if usual <= 0:
        raise InvalidInput("The sun does not fade.", "kind")


def moved_words(then_mm: float | None, now_mm: float | None, geometry: str, settings: Settings) -> str:
    """Why times found at one distance do not hold at another; empty while the lamp stands where it stood.

    Args:
        then_mm, now_mm: lamp to glass; None or 0 where it was not measured.
    """
    if not (then_mm and now_mm) or abs(now_mm / then_mm - 1) <= settings["exposure.distance_within"]:
        return ""
    stood = f"The lamp stood at {then_mm:.0f} mm then and stands at {now_mm:.0f} mm now"
    if geometry != "point":
        return f"{stood}. {MOVED_WORDS.get(geometry, 'No rule is known')}: test again."
    return f"{stood}; a small lamp would want ×{(now_mm / then_mm) ** 2:.2f}. Test before use."


def retest_due(tested_at_hours: float, hours_now: float, hours_a_day: float | None, settings: Settings) -> Conclusion:
    """Lamp hours left until a time calibrated at `tested_at_hours` wants another test.

    Args:
        hours_a_day: how fast the lamp's counter runs; None while it was read once only.
    """
    burned, holds = hours_now - tested_at_hours, settings["lamp.retest_hours"]
    left, burned_words = holds - burned, f"{burned:.0f} h burned since the oldest test under it; {holds:g} h hold."
    if left <= 0:
        return Conclusion(
            left,
            "h",
            LampVerdict.DUE,
            f"{burned_words} Test again.",
            "measured here",
            next_best_measurement="a step test",
        )
    days = left / hours_a_day if hours_a_day else None
    when = (
        f" At {hours_a_day:.1f} h a day that is in some {days:.0f} days."
        if days
        else " Read its hours again to tell when."
    )
    return Conclusion(left, "h", LampVerdict.HOLDS, f"{burned_words} {left:.0f} h are left.{when}", "measured here")


def units_for(time_s: float, units_a_second: float) -> float:
    """What an integrator counts in a time while the lamp gives so many of its units a second."""
    require_positive(units_a_second, "Units a second", "units_a_second")
    return time_s * units_a_second


def time_for_units(units: float, units_a_second: float) -> float:
    """Seconds until an integrator has counted so many units."""
    require_positive(units_a_second, "Units a second", "units_a_second")
    return units / units_a_second


def contact_caution(contact: str, geometry: str) -> str:
    """What to look at before light, by how film and screen are pressed together."""
    return _CONTACT_WORDS[contact] + (_SUN_WORDS if geometry == "sun" else "")


_CONTACT_WORDS = {
    "vacuum": "Pump down until the blanket lies flat and no rainbow moves under the glass, then light.",
    "weight": "Foam over the whole image and weight spread evenly; a small weight in the middle presses unevenly. Look from "
              "the glass side that nothing lifts. Glass breaks under heat and weight.",
    "blocking": "This glass or plastic holds back UV: expose through another, or expect times no test elsewhere tells.",
    "none": "Nothing presses film to coat: light creeps under every edge. Lay glass and weight on it.",
}  # fmt: skip
_SUN_WORDS = " The sun's light changes by the minute: a control strip on every screen."
