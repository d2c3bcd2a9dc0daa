"""Which records speak for and against each cause."""

from collections.abc import Mapping

from frimble.core.stencil.diagnosis.codes import Cause
from frimble.core.stencil.diagnosis.weighing import Facts, Weigher, answer, level, ramp, ratio, step_away

_LESS_LIGHT = ("less than such screens get as a rule", "as much as such screens get as a rule")
_TIME = ("time_s", "window_low_s")
_DRYING = ("dried_min", "dry_expected_high_min")


def _damp(facts: Facts) -> float:
    """Dried minutes between what drying takes as a rule, or less, and the upper end of it."""
    least, most = facts["dry_expected_min"], facts["dry_expected_high_min"]
    return ramp(facts["dried_min"], max(most, least * 1.05), 3.5, 0.75 * least, 3.5)


def _ink_not_stood(facts: Facts) -> float:
    return -4.5 if facts["ink"] in facts["resists"] else 4.0


def _wants_hardening(facts: Facts) -> float:
    if facts["hardener"] != "none":
        return 0.0
    return 1.5 if facts["ink"] == "water" else -0.5


def _sensitiser_wrong(facts: Facts) -> float:
    # A photopolymer comes sensitised: what is stirred into it is a mistake.
    if facts["emulsion_kind"] == "photopolymer":
        return 3.0 if facts["sensitised"] else -2.5
    return -2.5 if facts["sensitised"] else 4.5


def _detail_floor(facts: Facts) -> float:
    """Finest detail against one opening and its two threads."""
    pitch = 1e4 / facts["mesh_per_cm"]
    floor = pitch + facts.get("thread_um", 0.4 * pitch)
    return ramp(facts["finest_um"] / floor, 1.2, 3.0, 0.7, 3.2)


def _fine_on_white(facts: Facts) -> float:
    return ramp(facts["finest_um"], 400.0, 0.8, 120.0, 1.5) if facts["mesh_colour"] == "white" else 0.0


# Directions: common practice, no source (trade). Where they begin and how much they weigh: from memory.
EVIDENCE: Mapping[Cause, tuple[Weigher, ...]] = {
    Cause.UNDER_EXPOSED: (
        ratio("time_s", "window_low_s", 1.1, 3.5, 0.82, 3.5, "the window was not reached", "the window was reached"),
        step_away(0.0, 1.2, -2.0, 2.0, *_LESS_LIGHT),
        level(
            "film_clear_density",
            0.15,
            0.2,
            0.5,
            1.2,
            "clear film takes light away",
            "clear film is clear",
            instead_of=(_TIME,),
        ),
    ),
    Cause.OVER_EXPOSED: (
        ratio("time_s", "window_high_s", 0.92, 3.5, 1.25, 3.5, "beyond the window", "not beyond the window"),
        step_away(
            0.0, 1.5, 2.0, 2.5, "more than such screens get as a rule", "no more than such screens get as a rule"
        ),
    ),
    Cause.NOT_DRY: (
        Weigher(
            ("dried_min", "dry_expected_min", "dry_expected_high_min"),
            _damp,
            7.0,
            "shorter than drying takes",
            "as long as drying takes at most",
        ),
        ratio(
            "dried_min",
            "dry_expected_high_min",
            1.0,
            3.5,
            0.5,
            3.5,
            "shorter than drying takes",
            "as long as drying takes at most",
        ),
        ratio(
            "dried_min",
            "dry_expected_min",
            1.5,
            3.0,
            0.75,
            3.2,
            "shorter than drying takes",
            "well beyond what drying takes",
        ),
        level("humidity", 0.45, 1.0, 0.75, 2.2, "damp air dries slowly", "dry air", instead_of=(_DRYING,)),
        level("temperature_c", 25.0, 0.5, 12.0, 1.5, "cold air dries slowly", "warm air", instead_of=(_DRYING,)),
        level("layers", 2.0, 0.1, 5.0, 0.8, "many coats hold water"),
    ),
    Cause.EMULSION_OLD: (
        level("batch_life_used", 0.85, 3.5, 1.15, 3.5, "the batch is past its life", "within its life"),
    ),
    Cause.COATED_LONG_AGO: (
        ratio(
            "coat_age_days",
            "coat_keeps_days",
            0.85,
            3.5,
            1.2,
            3.5,
            "longer than a coat keeps",
            "no longer than a coat keeps",
        ),
        level("coat_age_days", 15.0, 2.0, 45.0, 2.0, "a coat keeps some four weeks", "a fresh coat"),
        level("store_c", 24.0, 0.3, 33.0, 1.0, "warmth ages a coat"),
    ),
    Cause.FOGGED: (
        level("stray_light_min", 1.0, 2.8, 8.0, 3.5, "light reached the coat", "no light reached the coat"),
        level("store_c", 30.0, 0.6, 42.0, 3.2, "heat hardens a coat", "it was kept cool"),
        level("temperature_c", 40.0, 0.6, 50.0, 3.2, "heat hardens a coat", "it dried cool enough"),
    ),
    Cause.FILM_LEAKS: (
        level(
            "film_headroom",
            1.4,
            3.5,
            0.9,
            3.5,
            "the black leaks before the time is up",
            "the black holds longer than the time",
        ),
        level(
            "film_density_uv",
            2.8,
            2.2,
            1.8,
            3.0,
            "thin for the lamp",
            "dense to the lamp",
            instead_of=(("film_headroom",),),
        ),
        level(
            "film_density_visible",
            2.8,
            0.8,
            1.6,
            1.6,
            "thin to the eye",
            "dense to the eye",
            instead_of=(("film_headroom",), ("film_density_uv",)),
        ),
    ),
    Cause.FILM_LACKS_DETAIL: (
        answer("film_has_detail", {False: 4.0, True: -4.5}, "the film does not have it", "the film has it"),
    ),
    Cause.POOR_CONTACT: (
        answer("contact", {"none": 3.0, "glass": -0.5, "vacuum": -2.0}, "nothing held it down", "it was held down"),
        answer(
            "film_side",
            {"back": 3.2, "coated": -0.6},
            "the film's thickness lay between",
            "the printed side lay on the coat",
        ),
    ),
    Cause.DEGREASER_LEFT: (
        answer("rinsed", {False: 3.5, True: -3.2}, "it was not rinsed long enough", "it was rinsed"),
        answer("degreased", {False: -3.5, True: 0.2}, "it was degreased", "no degreaser was used"),
    ),
    Cause.NOT_DEGREASED: (answer("degreased", {False: 4.0, True: -4.0}, "it was not degreased", "it was degreased"),),
    Cause.OLD_RESIDUE: (
        answer("mesh_inspected", {False: 2.3, True: -2.8}, "nobody looked at the mesh", "the mesh was looked at"),
        level("last_stencil_age_days", 30.0, 0.3, 180.0, 0.8, "an old stencil leaves more behind"),
    ),
    Cause.TOO_THIN: (
        ratio(
            "thickness_um", "thickness_aim_um", 0.92, 3.5, 0.65, 3.5, "thinner than wanted", "not thinner than wanted"
        ),
        level(
            "thickness_um", 10.0, 1.0, 3.0, 2.0, "hardly any emulsion over the mesh", "there is emulsion over the mesh"
        ),
    ),
    Cause.TOO_THICK: (
        ratio("thickness_um", "thickness_aim_um", 1.1, 3.5, 1.5, 3.5, "thicker than wanted", "not thicker than wanted"),
        level("thickness_um", 25.0, 1.0, 70.0, 1.5, "a thick coat", "no thick coat"),
    ),
    Cause.BUBBLES: (
        level("rested_min", 60.0, 3.0, 12.0, 3.2, "coated before the bubbles were out", "the bubbles were out"),
    ),
    Cause.EDGE_DIRTY: (
        answer(
            "coater",
            {"dirty": 4.0, "clean": -4.0, "chipped": -2.5},
            "dried emulsion on the edge",
            "the edge was not dirty",
        ),
    ),
    Cause.CHIPPED: (
        answer(
            "coater", {"chipped": 4.0, "clean": -4.0, "dirty": -2.5}, "the edge is chipped", "the edge was not chipped"
        ),
    ),
    Cause.OVERFILLED: (level("fill", 0.68, 3.2, 0.88, 3.5, "fuller than two thirds", "not too full"),),
    Cause.OVER_WASHED: (
        ratio("wash_s", "wash_usual_s", 1.15, 2.4, 1.7, 3.2, "longer than usual here", "no longer than usual here"),
        answer("pressure", {"high": 2.6, "normal": -0.8, "low": -1.5}, "a hard jet", "no hard jet"),
        level("wash_c", 30.0, 0.3, 45.0, 1.8, "hot water softens edges", "no hot water"),
    ),
    Cause.WASHED_TOO_LITTLE: (
        ratio("wash_s", "wash_usual_s", 0.95, 3.0, 0.62, 3.3, "shorter than usual here", "as long as usual here"),
        level("soak_s", 25.0, 0.6, 8.0, 2.0, "hardly soaked", "it was soaked"),
        answer("pressure", {"low": 1.2, "normal": -0.2, "high": -0.6}, "a weak jet"),
        answer("wash_side", {"squeegee": 1.0, "print": -0.2, "both": -0.1}, "not rinsed from the print side"),
    ),
    Cause.UNEVEN_LIGHT: (
        level("field_lowest", 0.84, 3.2, 0.62, 3.5, "one place gets much less light", "the light is even"),
    ),
    Cause.LAMP_WEAK: (
        ratio(
            "lamp_hours_since_test",
            "lamp_hours_hold",
            0.95,
            3.2,
            1.3,
            3.3,
            "longer than a test holds",
            "its test still holds",
        ),
        step_away(0.0, 1.5, -2.0, 2.0, *_LESS_LIGHT),
    ),
    Cause.LAMP_COLD: (
        level("warm_up_s", 120.0, 3.2, 20.0, 3.3, "it had not come to its full light", "it had warmed up"),
        step_away(0.0, 1.0, -2.0, 1.2, *_LESS_LIGHT),
    ),
    Cause.WHITE_MESH: (
        answer(
            "mesh_colour",
            {"white": 1.0, "yellow": -4.5},
            "white thread leads light sideways",
            "yellow thread takes it up",
        ),
        Weigher(("finest_um", "mesh_colour"), _fine_on_white, 1.8, "fine detail suffers most", "no fine detail"),
    ),
    Cause.REFLECTION: (
        answer("black_behind", {False: 2.3, True: -4.0}, "nothing black took up the light", "black lay behind it"),
    ),
    Cause.SPECKS: (
        answer("glass_clean", {False: 3.4, True: -3.0}, "the glass or film was not clean", "glass and film were clean"),
    ),
    Cause.WRONG_FOR_INK: (
        Weigher(
            ("ink", "resists"),
            _ink_not_stood,
            8.5,
            "the emulsion does not stand this ink",
            "the emulsion stands this ink",
        ),
    ),
    Cause.NOT_HARDENED: (
        answer("hardener", {"none": 0.9, "light": -3.5, "chemical": -4.0}, "it was not hardened", "it was hardened"),
        Weigher(
            ("ink", "hardener"),
            _wants_hardening,
            2.0,
            "water softens what is not hardened",
            "this ink asks for no hardening",
        ),
        level("impressions", 200.0, 0.6, 1500.0, 0.8, "a long run", "a short run"),
    ),
    Cause.HARDENED_FOR_GOOD: (
        answer(
            "hardener",
            {"chemical": 3.5, "light": -2.0, "none": -4.0},
            "a chemical hardener stays",
            "no chemical hardener was used",
        ),
    ),
    Cause.DUST: (),
    Cause.REMOVER_DRIED: (level("remover_min", 4.0, 3.2, 14.0, 3.5, "left on until it dried", "rinsed off in time"),),
    Cause.MESH_COARSE: (
        Weigher(
            ("finest_um", "mesh_per_cm"),
            _detail_floor,
            6.2,
            "finer than one opening and its two threads",
            "wider than one opening and its two threads",
        ),
    ),
    Cause.WRONGLY_MIXED: (
        Weigher(
            ("emulsion_kind", "sensitised"), _sensitiser_wrong, 7.0, "not what this kind wants", "as this kind wants it"
        ),
        answer("sensitised", {False: 2.5, True: -1.5}, "no sensitiser in it", "the sensitiser is in it"),
    ),
    Cause.INK_DRIED: (
        level("ink_left_h", 1.0, 3.2, 8.0, 3.4, "ink stood in the mesh", "the ink came out in time"),
        level("last_stencil_age_days", 30.0, 0.2, 180.0, 0.4, "an old stencil holds its ink"),
    ),
    Cause.SLACK: (level("tension", 20.0, 3.2, 13.0, 3.5, "slack", "not slack"),),
}
