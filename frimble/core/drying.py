"""Drying a coat: a first prior from water per area and the air's drying power."""

from collections.abc import Mapping

import psychrolib

from frimble.core.coating import CoatFormula, Layer, parse_formula
from frimble.core.conclusion import Conclusion, OutOfRange, require_between
from frimble.core.mesh import MeshGeometry, geometry

psychrolib.SetUnitSystem(psychrolib.SI)

# The cloth, formula and air that the house's reference drying time is stated for.
_REFERENCE_COUNT, _REFERENCE_THREAD_UM = 43, 80
_REFERENCE_FORMULA, _REFERENCE_C, _REFERENCE_RH = "P1 S1", 35, 0.40
_REFERENCE_SOLIDS = 0.40


def vapour_pressure_deficit_pa(air_c: float, humidity: float, standards: Mapping) -> float:
    """How far the air is from saturated, Pa: the drive that takes water out of a coat.

    Args:
        air_c: dry-bulb temperature, °C, from freezing to the hottest the house believes.
        humidity: relative humidity, 0..1.

    Raises:
        OutOfRange: temperature or humidity is impossible for a drying room.

    Source: ASHRAE Handbook Fundamentals ch. 1, saturation pressure (eq. 5 and 6), through PsychroLib.
    """
    require_between(air_c, 0, standards["dry.highest_c"], "A drying room's air, in °C,", "air_c")
    if not 0 <= humidity <= 1:
        raise OutOfRange(f"Humidity {humidity * 100:g} % is not between 0 and 100 %.", "humidity")
    return psychrolib.GetSatVapPres(air_c) * (1 - humidity)


def layer_water_g_per_m2(
    layer: Layer, mesh: MeshGeometry, solids: float, first_layer: bool, standards: Mapping
) -> float:
    """Water that one wet layer brings, g/m²; the first layer also fills the mesh. Scraping strokes bring none."""
    if not 0 < solids < 1:
        raise OutOfRange(f"Solids {solids * 100:g} % are not between 0 and 100 %.", "solids")
    wet_um = mesh.ink_volume_cm3_per_m2 if first_layer else 0.0
    for stroke in layer.strokes:
        if not stroke.scraping:
            key = "dry.round_stroke_um" if stroke.round_edge else "dry.stroke_um"
            wet_um += stroke.strokes * standards[key]
    return wet_um * (1 - solids)


def coat_drying_minutes(
    formula: CoatFormula,
    layer_number: int,
    mesh: MeshGeometry,
    solids: float,
    air_c: float,
    humidity: float,
    standards: Mapping,
) -> Conclusion:
    """Minutes until one layer of a coat is dry through, in the dark, print side down.

    Args:
        layer_number: 1 for the first layer of the formula.
        solids: the emulsion's solids as a fraction.
        air_c, humidity: of the cabinet, °C and 0..1.

    Returns:
        The expected time with its interval; refuses (value None) when the air takes up no water.
    """
    deficit = vapour_pressure_deficit_pa(air_c, humidity, standards)
    if deficit < standards["dry.least_deficit_pa"]:
        return Conclusion(
            None, "min", "will not dry",
            f"Air at {air_c:g} °C and {humidity * 100:.0f} % humidity takes up no water. Warm or dry the cabinet first.",
            "psychrometrics", next_best_measurement="humidity in the cabinet",
        )  # fmt: skip
    water = layer_water_g_per_m2(formula.layers[layer_number - 1], mesh, solids, layer_number == 1, standards)
    minutes = (
        standards["dry.reference_min"]
        * (water / _reference_water(standards))
        * (_reference_deficit(standards) / deficit)
    )
    spread = standards["dry.spread"]
    return Conclusion(
        minutes, "min", _air_verdict(air_c, humidity, standards),
        f"{water:.0f} g/m² of water to lose at {air_c:g} °C and {humidity * 100:.0f} % humidity."
        + _air_remark(air_c, humidity, standards),
        "common practice, scaled by water and drying power",
        low=minutes / spread, high=minutes * spread,
        next_best_measurement="two weighings 10 min apart, or a moisture meter",
    )  # fmt: skip


def _air_verdict(air_c: float, humidity: float, standards: Mapping) -> str:
    if humidity > standards["dry.damp_rh"]:
        return "too damp"
    return "too hot" if air_c > standards["dry.hottest_c"] else "drying"


def _air_remark(air_c: float, humidity: float, standards: Mapping) -> str:
    remark = ""
    if humidity > standards["dry.damp_rh"]:
        remark += " Too damp for a safe coat: it may be wet inside and dry outside."
    if air_c > standards["dry.hottest_c"]:
        remark += f" Hotter than {standards['dry.hottest_c']:g} °C starts to harden the coat."
    return remark


def _reference_deficit(standards: Mapping) -> float:
    return vapour_pressure_deficit_pa(_REFERENCE_C, _REFERENCE_RH, standards)


def _reference_water(standards: Mapping) -> float:
    mesh = geometry(_REFERENCE_COUNT, _REFERENCE_THREAD_UM, standards)
    layer = parse_formula(_REFERENCE_FORMULA, standards).layers[0]
    return layer_water_g_per_m2(layer, mesh, _REFERENCE_SOLIDS, True, standards)
