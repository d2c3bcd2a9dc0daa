"""Every calculator of the core under one name, with typed text in and plain JSON values out."""

import dataclasses
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import Enum
from typing import Any

from frimble.core import cautions, lifecycle, units
from frimble.core.cautions import Caution
from frimble.core.coating import drying
from frimble.core.coating import formula as coat_formula
from frimble.core.coating import thickness as coat_thickness
from frimble.core.conclusions import Conclusion, InvalidInput, RuleViolation, Settings
from frimble.core.emulsion import batch as batch_rules
from frimble.core.emulsion import mixing
from frimble.core.exposure.light import dose
from frimble.core.exposure.steptest import factorfilm as factor_film
from frimble.core.exposure.steptest import plan as steptest
from frimble.core.exposure.steptest import reading
from frimble.core.exposure.steptest.plan import StepTestPlan
from frimble.core.exposure.steptest.reading import StepTestResult
from frimble.core.film import costs, densities
from frimble.core.mesh import choice as mesh_choice
from frimble.core.mesh import geometry as mesh_geometry
from frimble.core.mesh import halftone, moire
from frimble.core.mesh import practice as mesh_practice
from frimble.core.mesh.choice import Choice
from frimble.core.mesh.geometry import Ambiguous, MeshGeometry, MeshSpec
from frimble.core.mesh.halftone import DotRange
from frimble.core.numbers import read_number, read_numbers
from frimble.core.press import offcontact
from frimble.core.storage import racks as rack_rules
from frimble.core.tension import measurement as tension_measurement
from frimble.core.tension.measurement import TensionSummary


@dataclass(frozen=True)
class Calculator:
    """A named calculation: `arguments` maps each argument to what it means; those in `optional` may be left out."""

    name: str
    summary: str
    arguments: Mapping[str, str]
    run: Callable[[Mapping[str, str], Mapping[str, Any]], object]
    optional: frozenset[str] = frozenset()


def calculate(name: str, given: Mapping[str, str], settings: Settings) -> dict[str, Any]:
    """Run a calculator on typed text and return plain JSON values.

    Raises:
        InvalidInput: unknown calculator, missing or unknown argument, or a value the rule cannot take.
        RuleViolation: the rule refuses; the message is the reason.
    """
    calculator = CALCULATORS.get(name)
    if calculator is None:
        raise InvalidInput(f"No calculator is called “{name}”: {', '.join(CALCULATORS)}.", "name")
    for argument in given:
        if argument not in calculator.arguments:
            raise InvalidInput(f"“{argument}” is not an argument: {', '.join(calculator.arguments)}.", argument)
    for argument in calculator.arguments:
        if argument not in given and argument not in calculator.optional:
            raise InvalidInput(f"{argument} is missing: {calculator.arguments[argument]}.", argument)
    answer: dict[str, Any] = plain(calculator.run(given, settings))
    return answer


# Properties that say again, for rules, what the fields hold.
_REPEATED = ("known", "interval")


def plain(value: Any) -> Any:
    """A result as JSON can hold it: dataclasses by field and property, enums by value, tuples as lists."""
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        shown = {f.name: plain(getattr(value, f.name)) for f in dataclasses.fields(value)}
        derived = [n for n, p in vars(type(value)).items() if isinstance(p, property) and n not in _REPEATED]
        return shown | {n: plain(getattr(value, n)) for n in derived}
    if isinstance(value, Enum):
        return value.value
    if isinstance(value, Mapping):
        return {str(k): plain(v) for k, v in value.items()}
    if isinstance(value, list | tuple | set | frozenset):
        items = [plain(v) for v in value]
        return sorted(items) if isinstance(value, set | frozenset) else items
    if isinstance(value, datetime):
        return value.isoformat()
    return round(value, 6) if isinstance(value, float) else value


def _mesh(given: Mapping[str, Any], settings: Settings) -> MeshGeometry:
    count = units.read_quantity(given["count"], "/cm")
    thickness = given.get("fabric_thickness_um")
    return mesh_geometry.geometry(
        count,
        read_number(given["thread_um"], "thread_um"),
        settings,
        read_number(thickness, "fabric_thickness_um") if thickness else None,
    )


def _read_mesh(given: Mapping[str, Any], settings: Settings) -> MeshGeometry | MeshSpec | Ambiguous:
    mesh = mesh_geometry.parse_mesh(given["text"], settings)
    if isinstance(mesh, Ambiguous) or mesh.thread_um is None:
        return mesh
    return mesh_geometry.geometry(mesh.count_per_cm, mesh.thread_um, settings)


def _halftone(given: Mapping[str, Any], settings: Settings) -> DotRange:
    cloth = _mesh(given, settings)
    dots = halftone.dot_range(cloth.opening_um, cloth.thread_um, _n(given, "ruling_lpi"), settings)
    if dots is None:
        raise RuleViolation(
            "No dot of this ruling spans an opening and its two threads of this mesh.", field="ruling_lpi"
        )
    return dots


def _moire(given: Mapping[str, Any], settings: Settings) -> Conclusion:
    ruling = 10_000 / halftone.dot_pitch_um(_n(given, "ruling_lpi"), settings)
    count = units.read_quantity(given["count"], "/cm")
    mesh_angle = read_number(given.get("mesh_angle", "0"), "mesh_angle")
    return moire.judge(count, ruling, _n(given, "dot_angle"), mesh_angle, settings)


def _choose_mesh(given: Mapping[str, Any], settings: Settings) -> list[Choice]:
    names = ("ruling_lpi", "finest_um", "particle_um", "deposit_cm3_per_m2")
    asked: dict[str, Any] = {name: _n(given, name) if name in given else None for name in names}
    customs: dict[str, Any] = {aspect: given[aspect] for aspect in mesh_practice.CUSTOMS if aspect in given}
    wanted = mesh_choice.MeshRequest(given.get("school", settings["mesh.school"]), **asked, **customs)
    cloths = [(f"{cm:g}-{um:g}", mesh_geometry.geometry(cm, um, settings)) for _, cm, um in mesh_geometry.USUAL_MESHES]
    return mesh_choice.choose(cloths, wanted, settings)


def _tension(given: Mapping[str, Any], settings: Settings) -> TensionSummary:
    warp, weft = read_numbers(given["warp"], "warp"), read_numbers(given["weft"], "weft")
    readings = [
        tension_measurement.TensionReading(
            tension_measurement.FIVE_PLACES[i % len(tension_measurement.FIVE_PLACES)], direction, value
        )
        for direction, values in (("warp", warp), ("weft", weft))
        for i, value in enumerate(values)
    ]
    return tension_measurement.summarise(readings, settings)


def _coat(given: Mapping[str, Any], settings: Settings) -> dict[str, Any]:
    formula = coat_formula.parse_formula(given["formula"], settings)
    return {"formula": str(formula), "layers": len(formula.layers), "steps": formula.steps(), "notes": formula.notes}


def _drying(given: Mapping[str, Any], settings: Settings) -> Conclusion:
    cloth = mesh_geometry.parse_mesh(given["mesh"], settings)
    if isinstance(cloth, mesh_geometry.Ambiguous) or cloth.thread_um is None:
        raise InvalidInput("Give the mesh with its thread, such as 43-80.", "mesh")
    facts = drying.layer_facts(
        coat_formula.parse_formula(given["formula"], settings),
        int(read_number(given.get("layer", "1"), "layer")),
        mesh_geometry.geometry(cloth.count_per_cm, cloth.thread_um, settings),
        read_number(given.get("solids", "0.4"), "solids"),
        drying.Air(
            read_number(given["air_c"], "air_c"), read_number(given["humidity"], "humidity"), given.get("fan") or "low"
        ),
        settings,
    )
    return drying.drying_minutes(facts, drying.prior(settings), settings)


def _plan(given: Mapping[str, Any], settings: Settings) -> StepTestPlan:
    return steptest.plan_moving_card(
        units.read_quantity(given["guess"], "s"),
        int(read_number(given.get("steps", settings["steptest.steps"]), "steps")),
        given.get("series", settings["steptest.series"]),
        settings,
        given.get("card", settings["steptest.card"]),
        read_number(given.get("lag_s", "0"), "lag_s"),
    )


def _read_steps(given: Mapping[str, Any], settings: Settings) -> StepTestResult | None:
    times, grades = read_numbers(given["times"], "times"), given["grades"].replace(",", " ").split()
    if len(times) != len(grades):
        raise InvalidInput(f"{len(times)} times but {len(grades)} grades.", "grades")
    letters = {g[0]: g for g in reading.GRADES}
    steps = [
        reading.StepGrade(i, t, letters.get(g, g)) for i, (t, g) in enumerate(zip(times, grades, strict=True), start=1)
    ]
    return reading.read_grades(
        steps,
        given.get("school", settings["exposure.school"]),
        read_number(given.get("wanted_opening_um", settings["steptest.wanted_opening_um"]), "wanted_opening_um"),
        settings,
    )


def _steps_now(given: Mapping[str, Any], settings: Settings) -> list[dict[str, Any]]:
    now = datetime(2000, 1, 1)
    wet = read_number(given.get("wet_minutes", "0"), "wet_minutes")
    try:
        life = lifecycle.Life(
            lifecycle.Line(given.get("line", "photo")),
            lifecycle.State(given["state"]),
            since=now,
            wet_until=now + timedelta(minutes=wet),
        )
    except ValueError as error:
        raise InvalidInput(f"{error}.", "state") from None
    return [
        {"step": v.step.kind, "label": v.step.label, "allowed": v.allowed, "reason": v.reason}
        for v in lifecycle.next_steps(life, now, settings)
    ]


def _storage(given: Mapping[str, Any], settings: Settings) -> dict[str, Any]:
    reason = rack_rules.why_not(
        rack_rules.ScreenFacts(
            "screen",
            read_number(given["width_mm"], "width_mm"),
            read_number(given["height_mm"], "height_mm"),
            given.get("live", "no") == "yes",
        ),
        rack_rules.SlotFacts(
            "slot",
            read_number(given["slot_width_mm"], "slot_width_mm"),
            read_number(given["slot_height_mm"], "slot_height_mm"),
            given.get("dark", "no") == "yes",
        ),
        settings,
    )
    return {"fits": not reason, "reason": reason}


def _cautions(given: Mapping[str, Any], settings: Settings) -> Caution:
    caution = cautions.for_step(given["step"])
    if caution is None:
        raise InvalidInput(
            f"No cautions for that step; there are: {', '.join(cautions.steps_with_cautions())}.", "step"
        )
    return caution


def _n(given: Mapping[str, Any], name: str) -> float:
    return read_number(given[name], name)


CALCULATORS: Mapping[str, Calculator] = {
    c.name: c
    for c in (
        Calculator("mesh", "Opening, open area and ink volume of a cloth",
                   {"count": "threads with unit, such as 43/cm or 110/in", "thread_um": "thread diameter, µm",
                    "fabric_thickness_um": "measured thickness, µm"}, _mesh, frozenset({"fabric_thickness_um"})),
        Calculator("read-mesh", "Read a mesh label", {"text": "such as 43-80 Y, 110T or 156/64"}, _read_mesh),
        Calculator("halftone", "Smallest dot and largest tone a mesh holds at a ruling",
                   {"count": "threads with unit", "thread_um": "µm", "ruling_lpi": "lines per inch"}, _halftone),
        Calculator("moire", "Longest beat of a halftone on a mesh",
                   {"count": "threads with unit", "ruling_lpi": "lines per inch", "dot_angle": "degrees",
                    "mesh_angle": "degrees"}, _moire, frozenset({"mesh_angle"})),
        Calculator("choose-mesh", "Usual meshes ranked for what is to be printed",
                   {"school": "opacity or soft", "ruling_lpi": "lines per inch", "finest_um": "µm",
                    "particle_um": "µm", "deposit_cm3_per_m2": "cm³/m²"}
                   | {aspect: " or ".join(names) for aspect, names in mesh_practice.CUSTOMS.items()}, _choose_mesh,
                   frozenset({"school", "ruling_lpi", "finest_um", "particle_um", "deposit_cm3_per_m2"})
                   | frozenset(mesh_practice.CUSTOMS)),
        Calculator("ruling", "Halftone ruling for a viewing distance and a mesh",
                   {"viewed_m": "m", "count_per_cm": "threads per cm"},
                   lambda g, s: halftone.ruling_for(_n(g, "viewed_m"), _n(g, "count_per_cm"), s)),
        Calculator("off-contact", "Off-contact and how much it stretches the image",
                   {"span_mm": "free mesh, mm", "image_mm": "mm", "tension_n_per_cm": "N/cm"},
                   lambda g, s: offcontact.off_contact(
                       _n(g, "span_mm"), _n(g, "image_mm"), _n(g, "tension_n_per_cm"), s)),
        Calculator("mix", "Sensitiser for a base, or for topping up a sensitised remainder",
                   {"base": "new base, by volume or weight", "ratio": "parts of emulsion to one of sensitiser",
                    "remainder": "sensitised already", "remainder_age_days": "days since it was mixed"},
                   lambda g, s: mixing.top_up(
                       _n(g, "remainder") if "remainder" in g else 0, _n(g, "base"), _n(g, "ratio"),
                       _n(g, "remainder_age_days") if "remainder_age_days" in g else 0, s),
                   frozenset({"remainder", "remainder_age_days"})),
        Calculator("eom", "Emulsion over mesh to expect from a coat, by common practice",
                   {"formula": "coat formula", "fabric_um": "bare mesh, µm", "solids": "fraction"},
                   lambda g, s: coat_thickness.predict(
                       coat_thickness.CoatConditions(
                           coat_formula.parse_formula(g["formula"], s), _n(g, "fabric_um"), _n(g, "solids")),
                       coat_thickness.learn([], s), s)),
        Calculator("film-headroom", "Working times a film holds before it leaks",
                   {"full_cure_s": "shortest full cure, s", "work_s": "time in use, s", "dmax": "of the black",
                    "dmin": "of clear film", "band": "uv or visual"},
                   lambda g, s: densities.headroom(
                       _n(g, "full_cure_s"), _n(g, "work_s"), _n(g, "dmax"), _n(g, "dmin"), g.get("band", "uv"), s),
                   frozenset({"band"})),
        Calculator("film-meter", "Density from a light meter with and without film",
                   {"without_film": "reading", "with_film": "reading, same unit"},
                   lambda g, s: {"density": densities.density_from_meter(_n(g, "without_film"), _n(g, "with_film"))}),
        Calculator("film-hold-out", "Density above clear film from a hold-out test",
                   {"gel_time_s": "through clear film, s", "work_s": "s", "last_clear": "multiple that rinsed clear",
                    "first_scummed": "multiple that did not"},
                   lambda g, s: densities.from_hold_out(
                       _n(g, "gel_time_s"), _n(g, "work_s"), _n(g, "last_clear"),
                       _n(g, "first_scummed") if "first_scummed" in g else None, s), frozenset({"first_scummed"})),
        Calculator("film-stack", "Density of films over each other", {"densities": "one for each film"},
                   lambda g, s: {"density": densities.stacked(read_numbers(g["densities"], "densities"), s)}),
        Calculator("film-cost", "Cost of one film",
                   {"machine": "price", "life_films": "films in its life", "ink": "a film", "sheet": "a film",
                    "spoilage": "share thrown away, 0..1"},
                   lambda g, s: costs.film_cost(
                       _n(g, "machine"), _n(g, "life_films"), _n(g, "ink"), _n(g, "sheet"), _n(g, "spoilage"))),
        Calculator("units", "Convert a quantity", {"value": "number with unit", "to": "unit wanted"},
                   lambda g, s: {"value": units.read_quantity(g["value"], g["to"]), "unit": g["to"]}),
        Calculator("tension", "Mean, range and verdict of gauge readings",
                   {"warp": "N/cm, place after place", "weft": "N/cm, place after place"}, _tension),
        Calculator("coat-formula", "Parse a coat formula", {"formula": "such as P1 S1 / P1r"}, _coat),
        Calculator("emulsion-age", "How much of a batch's life is used",
                   {"kind": "diazo, dual or photopolymer", "age_days": "days since mixed", "kept_c": "kept at, °C"},
                   lambda g, s: batch_rules.batch_age(g["kind"], _n(g, "age_days"), _n(g, "kept_c"), s)),
        Calculator("drying", "Minutes until a coat is dry",
                   {"mesh": "such as 43-80", "formula": "coat formula", "air_c": "cabinet, °C",
                    "humidity": "cabinet, 0..1", "layer": "layer number", "solids": "of the emulsion, 0..1"}, _drying,
                   frozenset({"layer", "solids"})),
        Calculator("steptest-plan", "Plan a moving-card step test",
                   {"guess": "the time thought right, s or min", "steps": "number of strips",
                    "series": ", ".join(steptest.SERIES), "card": "cover or uncover", "lag_s": "lamp start-up lag, s"},
                   _plan, frozenset({"steps", "series", "card", "lag_s"})),
        Calculator("steptest-read", "Recommended time and window from graded steps",
                   {"times": "s of each strip", "grades": "u s g c o, one for each strip",
                    "school": ", ".join(reading.SCHOOLS), "wanted_opening_um": "finest detail wanted, µm"},
                   _read_steps, frozenset({"school", "wanted_opening_um"})),
        Calculator("factor-film", "Right time from a factor film",
                   {"exposed_s": "the exposure given, s", "factors": "all factors on the film",
                    "best": "the best factor, or two"},
                   lambda g, s: factor_film.best_time(
                       _n(g, "exposed_s"), read_numbers(g["factors"], "factors"), read_numbers(g["best"], "best"))),
        Calculator("lamp-distance", "Same dose at another distance from a point lamp (to be tested)",
                   {"time_s": "s", "old_mm": "mm", "new_mm": "mm"},
                   lambda g, s: {"time_s": dose.inverse_square_time(_n(g, "time_s"), _n(g, "old_mm"), _n(g, "new_mm"))}),
        Calculator("thickness", "Same cure through a thicker stencil (to be tested)",
                   {"time_s": "s", "growth_um": "µm thicker", "penetration_um": "penetration depth Dp, µm"},
                   lambda g, s: {"time_s": dose.thickness_time(
                       _n(g, "time_s"), _n(g, "growth_um"), _n(g, "penetration_um"))}),
        Calculator("steps", "What may be done to a screen now",
                   {"state": ", ".join(s.value for s in lifecycle.State), "line": "photo, thermal or hand",
                    "wet_minutes": "minutes until dry"}, _steps_now, frozenset({"line", "wet_minutes"})),
        Calculator("slot", "Whether a screen may go into a slot",
                   {"width_mm": "screen", "height_mm": "screen", "slot_width_mm": "slot", "slot_height_mm": "slot",
                    "live": "yes when it carries unexposed emulsion", "dark": "yes when the slot is dark"}, _storage,
                   frozenset({"live", "dark"})),
        Calculator("cautions", "Cautions of a step", {"step": ", ".join(cautions.steps_with_cautions())}, _cautions),
    )
}  # fmt: skip
