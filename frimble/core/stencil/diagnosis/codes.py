"""What is seen, what can be the cause, and what can be known of a stencil: the codes of a diagnosis."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum


class Symptom(StrEnum):
    """What is seen on a stencil, its print or its mesh."""

    ALL_WASHES_AWAY = "all_washes_away"
    LIFTS_IN_SHEETS = "lifts_in_sheets"
    EDGES_PEEL = "edges_peel"
    IMAGE_WILL_NOT_OPEN = "image_will_not_open"
    OPENS_IN_PARTS = "opens_in_parts"
    FINE_OPENINGS_CLOSED = "fine_openings_closed"
    FINE_LINES_LOST = "fine_lines_of_stencil_lost"
    SCUM = "scum_in_openings"
    SAW_TOOTH = "saw_tooth_edges"
    SOFT_EDGES = "soft_edges"
    DISTORTED = "image_distorted"
    PINHOLES = "pinholes"
    SLIMY = "squeegee_side_slimy"
    BREAKS_DOWN = "breaks_down_on_press"
    LIGHT_LINES = "light_lines_in_coat"
    BEADS = "beads_at_sides"
    ONE_CORNER = "one_corner_wrong"
    HARD_TO_RECLAIM = "hard_to_reclaim"
    GHOST = "ghost_left"
    FISHEYES = "fisheyes"


class Cause(StrEnum):
    """What can have made it."""

    UNDER_EXPOSED = "under_exposed"
    OVER_EXPOSED = "over_exposed"
    NOT_DRY = "coat_not_dry"
    EMULSION_OLD = "emulsion_too_old"
    COATED_LONG_AGO = "coated_too_long_ago"
    FOGGED = "fogged_by_light_or_heat"
    FILM_LEAKS = "film_leaks"
    FILM_LACKS_DETAIL = "film_lacks_detail"
    POOR_CONTACT = "poor_contact"
    DEGREASER_LEFT = "degreaser_left"
    NOT_DEGREASED = "not_degreased"
    OLD_RESIDUE = "old_residue_on_mesh"
    TOO_THIN = "coat_too_thin"
    TOO_THICK = "coat_too_thick"
    BUBBLES = "bubbles_in_coat"
    EDGE_DIRTY = "coater_edge_dirty"
    CHIPPED = "coater_chipped"
    OVERFILLED = "coater_overfilled"
    OVER_WASHED = "over_washed"
    WASHED_TOO_LITTLE = "not_washed_enough"
    UNEVEN_LIGHT = "uneven_light"
    LAMP_WEAK = "lamp_weak"
    LAMP_COLD = "lamp_not_warmed_up"
    WHITE_MESH = "light_scattered_by_white_mesh"
    REFLECTION = "reflection_behind_mesh"
    SPECKS = "specks_on_film_or_glass"
    WRONG_FOR_INK = "emulsion_not_for_this_ink"
    NOT_HARDENED = "not_hardened"
    HARDENED_FOR_GOOD = "hardened_for_good"
    DUST = "dust"
    REMOVER_DRIED = "remover_dried_in"
    MESH_COARSE = "mesh_too_coarse"
    WRONGLY_MIXED = "wrongly_mixed"
    INK_DRIED = "ink_dried_in"
    SLACK = "stretched_or_slack"


@dataclass(frozen=True)
class Fact:
    """Something that can be known of a stencil.

    Attributes:
        label: on a page. unit: of a number; "" where it has none.
        low, high: what a number can be. words: what a word can be; empty for a number and for yes or no.
        several: whether it is a list of the words. yes_no: whether it is true or false.
        share: whether a number is shown in per cent.
    """

    label: str
    unit: str = ""
    low: float = 0.0
    high: float = 1e6
    words: tuple[str, ...] = ()
    several: bool = False
    yes_no: bool = False
    share: bool = False


_INKS = ("plastisol", "water", "solvent", "uv")

FACTS: Mapping[str, Fact] = {
    "time_s": Fact("Light given", "s"),
    "window_low_s": Fact("Window opens at", "s"),
    "window_high_s": Fact("Window closes at", "s"),
    "dried_min": Fact("Dried", "min"),
    "dry_expected_min": Fact("Drying takes about", "min"),
    "dry_expected_high_min": Fact("Drying takes at most", "min"),
    "humidity": Fact("Humidity while it dried", high=1.0, share=True),
    "temperature_c": Fact("Temperature while it dried", "°C", -20.0, 120.0),
    "layers": Fact("Coats with drying between", "", high=20.0),
    "coat_age_days": Fact("Age of the coat", "days"),
    "coat_keeps_days": Fact("A coat keeps", "days"),
    "store_c": Fact("Kept coated at", "°C", -20.0, 120.0),
    "stray_light_min": Fact("Stray light on the coat", "min"),
    "batch_life_used": Fact("Life of the batch used", high=50.0, share=True),
    "sensitised": Fact("Sensitiser in it", yes_no=True),
    "rested_min": Fact("Stood after mixing", "min"),
    "emulsion_kind": Fact("Kind of emulsion", words=("diazo", "dual", "photopolymer")),
    "film_density_uv": Fact("Black of the film by UV", "D", high=8.0),
    "film_density_visible": Fact("Black of the film by eye's light", "D", high=8.0),
    "film_clear_density": Fact("Clear film", "D", high=4.0),
    "film_headroom": Fact("Time to leak ÷ working time", ""),
    "film_has_detail": Fact("The detail is on the film", yes_no=True),
    "film_side": Fact("Side of the film to the coat", words=("coated", "back")),
    "contact": Fact("Film held down by", words=("vacuum", "glass", "none")),
    "glass_clean": Fact("Glass and film clean", yes_no=True),
    "black_behind": Fact("Black behind the mesh", yes_no=True),
    "thickness_um": Fact("Emulsion over mesh", "µm", high=2000.0),
    "thickness_aim_um": Fact("Emulsion over mesh wanted", "µm", high=2000.0),
    "mesh_per_cm": Fact("Mesh", "threads/cm", 1.0, 300.0),
    "thread_um": Fact("Thread", "µm", 5.0, 1000.0),
    "mesh_colour": Fact("Colour of the thread", words=("white", "yellow")),
    "finest_um": Fact("Finest detail", "µm", 1.0, 1e5),
    "degreased": Fact("Degreased", yes_no=True),
    "rinsed": Fact("Rinsed until no foam and longer", yes_no=True),
    "mesh_inspected": Fact("Mesh looked at against light", yes_no=True),
    "soak_s": Fact("Soak", "s"),
    "wash_s": Fact("Rinse", "s"),
    "wash_usual_s": Fact("Usual rinse", "s"),
    "wash_c": Fact("Water", "°C", 0.0, 100.0),
    "wash_side": Fact("Rinsed from", words=("print", "squeegee", "both")),
    "pressure": Fact("Pressure of the rinse", words=("low", "normal", "high")),
    "field_lowest": Fact("Dimmest place of the light ÷ brightest", high=1.0, share=True),
    "warm_up_s": Fact("Lamp warmed up", "s"),
    "lamp_hours_since_test": Fact("Lamp hours since its last test", "h"),
    "lamp_hours_hold": Fact("A test holds for", "h"),
    "strip_step": Fact("Control strip read", "step", high=40.0),
    "strip_usual": Fact("Control strip as a rule", "step", high=40.0),
    "fill": Fact("Coater filled", high=1.0, share=True),
    "coater": Fact("Coater's edge", words=("clean", "dirty", "chipped")),
    "ink": Fact("Ink", words=_INKS),
    "resists": Fact("Inks the emulsion stands", words=_INKS, several=True),
    "hardener": Fact("Hardened by", words=("none", "light", "chemical")),
    "ink_left_h": Fact("Ink left in it", "h"),
    "impressions": Fact("Impressions", "", high=1e8),
    "tension": Fact("Tension", "N/cm", high=80.0),
    "remover_min": Fact("Remover left on it", "min"),
    "last_stencil_age_days": Fact("Age of the stencil before", "days"),
}
