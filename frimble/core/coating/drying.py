"""Drying a coat: predicted from water per area and the air's drying power, learned from when coats were found dry.

ln minutes is linear in the logarithms of the water to lose and of the vapour-pressure deficit, in how the fan stands and
in whether the layer lies on another; the prior is common practice, the shop's own damp and dry looks take over.
"""

import math
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
import psychrolib
from scipy import special

from frimble.core.coating.formula import CoatFormula, parse_formula
from frimble.core.coating.wet import wet_um
from frimble.core.conclusions import Conclusion, InvalidInput, Settings, require_between, require_positive
from frimble.core.mesh.geometry import MeshGeometry, geometry
from frimble.core.statistics import learning
from frimble.core.statistics.interval import Interval
from frimble.core.statistics.normal import Z_90
from frimble.core.verdicts import AirVerdict

psychrolib.SetUnitSystem(psychrolib.SI)

# The cloth, formula and air that the house's reference drying time is stated for.
_REFERENCE_COUNT, _REFERENCE_THREAD_UM = 43, 80
_REFERENCE_FORMULA, _REFERENCE_C, _REFERENCE_RH = "P1 S1", 35, 0.40
_REFERENCE_SOLIDS = 0.40

FANS = {"off": "off", "low": "low", "high": "high"}
_FAN_STEPS = {"off": -1.0, "low": 0.0, "high": 1.0}


@dataclass(frozen=True)
class Air:
    """The air a coat dries in: °C, relative humidity 0..1, how the fan stands."""

    air_c: float
    humidity: float
    fan: str = "low"


@dataclass(frozen=True)
class DryFacts:
    """What a layer's drying rests on: water to lose in g/m², air, and whether it lies on a layer before it."""

    water_g_m2: float
    air: Air
    later_layer: bool = False


@dataclass(frozen=True)
class DryingObservation:
    """When a coat was seen damp last and dry first, min after coating; `damp_min` 0 when nobody looked before,
    `dry_min` infinite when nobody has seen it dry."""

    facts: DryFacts
    damp_min: float
    dry_min: float


@dataclass(frozen=True)
class StillDamp:
    """Of a coat that was found damp: minutes until it is worth another look, and until the clock lets it go."""

    look_min: float
    hold_min: float


def vapour_pressure_deficit_pa(air_c: float, humidity: float, settings: Settings) -> float:
    """How far the air is from saturated, Pa: the drive that takes water out of a coat.

    Args:
        air_c: dry-bulb temperature, °C, from freezing to the hottest the house believes.
        humidity: relative humidity, 0..1.

    Raises:
        InvalidInput: temperature or humidity is impossible for a drying room.

    Source: ASHRAE Handbook Fundamentals ch. 1, saturation pressure (eq. 5 and 6), through PsychroLib.
    """
    require_between(air_c, 0, settings["dry.highest_c"], "A drying room's air, in °C,", "air_c")
    if not 0 <= humidity <= 1:
        raise InvalidInput(f"Humidity {humidity * 100:g} % is not between 0 and 100 %.", "humidity")
    return float(psychrolib.GetSatVapPres(air_c) * (1 - humidity))


def layer_facts(
    formula: CoatFormula,
    number: int,
    mesh: MeshGeometry,
    solids: float,
    air: Air,
    settings: Settings,
    fill: float | None = None,
) -> DryFacts:
    """What the drying of one layer of a formula rests on; `number` is 1 for the first layer.

    Args:
        fill: of the coater, a share; the house's where None.

    Raises:
        InvalidInput: solids that are no share.
    """
    return DryFacts(layer_water_g_per_m2(formula, number, mesh, solids, settings, fill), air, number > 1)


def layer_water_g_per_m2(
    formula: CoatFormula,
    number: int,
    mesh: MeshGeometry,
    solids: float,
    settings: Settings,
    fill: float | None = None,
) -> float:
    """Water that one wet layer of a formula brings, g/m²; the first layer also fills the mesh."""
    if not 0 < solids < 1:
        raise InvalidInput(f"Solids {solids * 100:g} % are not between 0 and 100 %.", "solids")
    return wet_um(formula, number, mesh, settings, fill) * (1 - solids)


def prior(settings: Settings) -> learning.Belief:
    """What common practice says of drying, before the shop has seen any of its own coats dry."""
    return learning.prior(
        [math.log(settings["dry.reference_min"]), 1.0, 1.0, -settings["dry.fan_step"], 0.0],
        [math.log(settings["dry.spread"]), 0.25, 0.25, 0.2, 0.2],
        settings["dry.scatter"],
    )


def learn(seen: Iterable[DryingObservation], settings: Settings) -> learning.Belief:
    """The prior after coats that were looked at while they dried."""
    known = list(seen)
    rows = np.array([_row(s.facts, settings) for s in known]).reshape(-1, 5)
    low = np.array([math.log(s.damp_min) if s.damp_min > 0 else -np.inf for s in known])
    return learning.learn_between(prior(settings), rows, low, np.log([s.dry_min for s in known]))


def drying_minutes(facts: DryFacts, belief: learning.Belief, settings: Settings) -> Conclusion:
    """Minutes until a layer is dry through, in the dark, print side down, with its 90 % interval.

    Returns:
        The expected time; refuses (value None) when the air takes up no water.

    Raises:
        InvalidInput: impossible air, or an unknown fan setting.
    """
    air = facts.air
    deficit = vapour_pressure_deficit_pa(air.air_c, air.humidity, settings)
    if deficit < settings["dry.least_deficit_pa"]:
        return Conclusion(
            None,
            "min",
            AirVerdict.NO_DRYING,
            f"Air at {air.air_c:g} °C and {air.humidity * 100:.0f} % humidity takes up no water. Warm or dry the cabinet "
            "first.",
            "psychrometrics",
            next_best_measurement="humidity in the cabinet",
        )
    predicted = learning.predict(belief, _row(facts, settings))
    value, low, high = predicted.exp()
    return Conclusion(
        value,
        "min",
        _air_verdict(air, settings),
        f"{facts.water_g_m2:.0f} g/m² of water to lose at {air.air_c:g} °C and {air.humidity * 100:.0f} % humidity."
        + _air_remark(air, settings),
        f"{belief.records} coats seen drying here, {predicted.prior_share * 100:.0f} % common practice",
        low=low,
        high=high,
        next_best_measurement="two weighings 10 min apart, or a moisture meter",
    )


def remaining_min(left_min: float, whole_then_min: float, whole_now_min: float) -> float:
    """Minutes left of a drying after the air has changed: what was left of it, at the new pace.

    Args:
        left_min: by the air so far. whole_then_min, whole_now_min: the whole drying in the air before and in that of now.
    """
    require_positive(whole_then_min, "A drying time, in min,", "minutes")
    return max(0.0, left_min) * whole_now_min / whole_then_min


def hold_minutes(expected: Interval, settings: Settings) -> float:
    """Minutes until so few of such coats are still wet that one may be let go by the clock alone.

    The time is taken as log-normal with the 90 % interval given; its middle is no more than the moment to look from, since
    half of such coats are still wet then.
    """
    return expected.value * math.exp(_spread(expected) * float(special.ndtri(1 - settings["dry.still_wet"])))


def still_damp(expected: Interval, elapsed_min: float, settings: Settings) -> StillDamp:
    """What to expect of a coat that is still damp after `elapsed_min`: the times that have passed are ruled out.

    The time is taken as log-normal with the 90 % interval given.
    """
    sd = _spread(expected)
    reached = (math.log(max(elapsed_min, 1e-9)) - math.log(expected.value)) / sd
    beyond = float(special.ndtr(-reached))

    def more(still_wet: float) -> float:
        return float(expected.value * math.exp(-special.ndtri(beyond * still_wet) * sd) - elapsed_min)

    return StillDamp(more(0.5), more(settings["dry.still_wet"]))


def dry_to_touch(elapsed_min: float, settings: Settings) -> float:
    """Minutes more until the inside has followed the surface that a fingertip found dry after `elapsed_min`."""
    return float(elapsed_min * (settings["dry.touch_lag"] - 1))


def _spread(expected: Interval) -> float:
    """Standard deviation in ln minutes behind a 90 % interval, by its upper half: that is the side that matters."""
    return math.log(expected.high / expected.value) / Z_90


def _row(facts: DryFacts, settings: Settings) -> list[float]:
    require_positive(facts.water_g_m2, "The water to lose, in g/m²,", "water_g_m2")
    if facts.air.fan not in _FAN_STEPS:
        raise InvalidInput(f"A fan stands at {', '.join(FANS)}.", "fan")
    deficit = vapour_pressure_deficit_pa(facts.air.air_c, facts.air.humidity, settings)
    return [
        1.0,
        math.log(facts.water_g_m2 / _reference_water(settings)),
        math.log(reference_deficit_pa(settings) / max(deficit, settings["dry.least_deficit_pa"])),
        _FAN_STEPS[facts.air.fan],
        float(facts.later_layer),
    ]


def _air_verdict(air: Air, settings: Settings) -> AirVerdict:
    if air.humidity > settings["dry.damp_rh"]:
        return AirVerdict.TOO_DAMP
    return AirVerdict.TOO_HOT if air.air_c > settings["dry.hottest_c"] else AirVerdict.DRYING


def _air_remark(air: Air, settings: Settings) -> str:
    remark = ""
    if air.humidity > settings["dry.damp_rh"]:
        remark += " Too damp for a safe coat: it may be wet inside and dry outside."
    if air.air_c > settings["dry.hottest_c"]:
        remark += f" Hotter than {settings['dry.hottest_c']:g} °C starts to harden the coat."
    return remark


def reference_deficit_pa(settings: Settings) -> float:
    """Drive of the air that the house's drying times are told for, Pa."""
    return vapour_pressure_deficit_pa(_REFERENCE_C, _REFERENCE_RH, settings)


def _reference_water(settings: Settings) -> float:
    mesh = geometry(_REFERENCE_COUNT, _REFERENCE_THREAD_UM, settings)
    return layer_water_g_per_m2(parse_formula(_REFERENCE_FORMULA, settings), 1, mesh, _REFERENCE_SOLIDS, settings)
