"""Stencils gone wrong by other laws: what happens to cure, skin, grip, spread and grain decides what is seen, not a table of
symptoms; a second cause, records that mislead and records that are missing are mixed in.
"""

from dataclasses import dataclass, field
from math import exp, log

import numpy as np

from frimble.core.stencil.diagnosis.case import read_case
from frimble.core.stencil.diagnosis.codes import Cause
from frimble.core.stencil.diagnosis.model import diagnose

_CASES, _SEED = 1500, 91_000
_SECOND_CAUSE, _MISLEADING = 0.2, 0.2
_NAMED, _BY_MISTAKE = 0.8, 0.015


@dataclass
class Stencil:
    """What matters of a stencil: 0 is as it should be, 1 is as wrong as ruins it; facts as they would be recorded."""

    cure: float = 0.0  # lacking through the depth
    skin: float = 0.0  # hardened where it should open
    spread: float = 0.0  # light beyond the edge
    grip: float = 0.0  # lacking on the thread
    grain: float = 0.0  # holes
    force: float = 0.0  # of the wash, beyond what it needs
    rest: float = 0.0  # left unwashed
    thin: float = 0.0
    coarse: float = 0.0
    uneven: float = 0.0
    lines: float = 0.0
    ridges: float = 0.0
    attack: float = 0.0  # by ink
    bound: float = 0.0  # to the mesh, against the remover
    stain: float = 0.0
    bent: float = 0.0
    no_detail: float = 0.0
    craters: float = 0.0
    facts: dict = field(default_factory=dict)


def _usual(rng) -> dict:
    """The records of a screen on which nothing is wrong."""
    low = exp(rng.normal(log(60), 0.8))
    dry = rng.uniform(35, 120)
    mesh, thread = [(43, 80), (61, 64), (77, 55), (90, 48), (120, 34)][rng.integers(5)]
    aim = rng.uniform(8, 40)
    inks = ["plastisol", "water", "solvent", "uv"]
    ink = inks[rng.integers(4)]
    kind = ["diazo", "dual", "photopolymer"][rng.integers(3)]
    strip = rng.integers(6, 9)
    return {
        "time_s": low * rng.uniform(1.1, 1.45), "window_low_s": low, "window_high_s": low * rng.uniform(1.6, 2.2),
        "dried_min": dry * rng.uniform(1.5, 3), "dry_expected_min": dry, "dry_expected_high_min": dry * 1.4,
        "humidity": rng.uniform(0.3, 0.52), "temperature_c": rng.uniform(22, 36), "layers": int(rng.integers(1, 3)),
        "coat_age_days": rng.uniform(0.2, 15), "coat_keeps_days": 28.0, "store_c": rng.uniform(16, 25),
        "stray_light_min": rng.choice([0.0, 0.0, 0.5, 1.0]), "batch_life_used": rng.uniform(0.05, 0.8),
        "sensitised": kind != "photopolymer", "rested_min": rng.uniform(60, 2000), "emulsion_kind": kind,
        "film_density_uv": rng.uniform(2.7, 4), "film_density_visible": rng.uniform(2.3, 4),
        "film_clear_density": rng.uniform(0.03, 0.12), "film_headroom": rng.uniform(1.6, 20), "film_has_detail": True,
        "film_side": "coated",
        "contact": rng.choice(["vacuum", "vacuum", "glass"]), "glass_clean": True, "black_behind": True,
        "thickness_um": aim * rng.uniform(0.92, 1.1), "thickness_aim_um": aim, "mesh_per_cm": mesh, "thread_um": thread,
        "mesh_colour": "yellow" if mesh > 70 else rng.choice(["white", "yellow"]),
        "finest_um": (1e4 / mesh + thread) * rng.uniform(1.25, 3), "degreased": True, "rinsed": True, "mesh_inspected": True,
        "soak_s": rng.uniform(25, 60), "wash_s": 90 * rng.uniform(0.9, 1.12), "wash_usual_s": 90.0,
        "wash_c": rng.uniform(12, 28), "wash_side": "print", "pressure": "normal", "field_lowest": rng.uniform(0.82, 0.95),
        "warm_up_s": rng.uniform(150, 600), "lamp_hours_since_test": rng.uniform(2, 85), "lamp_hours_hold": 100.0,
        "strip_step": float(strip + rng.choice([0, 0, 0, -1, 1], p=[0.3, 0.3, 0.2, 0.1, 0.1])), "strip_usual": float(strip),
        "fill": rng.uniform(0.5, 0.67), "coater": "clean", "ink": ink,
        "resists": sorted({ink, inks[rng.integers(4)]}), "hardener": rng.choice(["none", "light"]),
        "ink_left_h": rng.uniform(0, 1), "impressions": int(rng.uniform(20, 800)), "tension": rng.uniform(20, 28),
        "remover_min": rng.uniform(0.5, 3), "last_stencil_age_days": rng.uniform(1, 40),
    }  # fmt: skip


def _dim(stencil, how_far, strip=True) -> None:
    """Light that is lacking: the coat is soft on the squeegee side."""
    stencil.cure += how_far
    if strip:
        stencil.facts["strip_step"] = stencil.facts["strip_usual"] - round(0.8 + 1.6 * how_far)


def _spoil(stencil: Stencil, cause: Cause, far: float, rng) -> None:
    """One cause at work, `far` from hardly (0) to ruinous (1)."""
    s, f, c = stencil, stencil.facts, Cause
    if cause == c.UNDER_EXPOSED:
        f["time_s"] = f["window_low_s"] * exp(-0.12 - 0.7 * far)
        _dim(s, far)
    elif cause == c.OVER_EXPOSED:
        f["time_s"] = f["window_high_s"] * exp(0.1 + 0.8 * far)
        f["strip_step"] = f["strip_usual"] + round(1 + 2 * far)
        s.spread, s.skin = s.spread + 0.6 * far, s.skin + 0.7 * far
    elif cause == c.NOT_DRY:
        f["dried_min"] = f["dry_expected_min"] * (0.95 - 0.6 * far)
        f["humidity"] = min(0.95, f["humidity"] + 0.25 * rng.random())
        s.cure, s.grip = s.cure + 0.8 * far, s.grip + 0.5 * far
    elif cause == c.EMULSION_OLD:
        f["batch_life_used"] = 1.08 + far
        s.skin, s.grain, s.cure = s.skin + 0.6 * far, s.grain + 0.4 * far, s.cure + 0.3 * far
    elif cause == c.COATED_LONG_AGO:
        f["coat_age_days"] = f["coat_keeps_days"] * (1.1 + 1.2 * far)
        s.skin += 0.9 * far
    elif cause == c.FOGGED:
        if rng.random() < 0.6:
            f["stray_light_min"] = 4 + 25 * far
        else:
            f[rng.choice(["store_c", "temperature_c"])] = 42 + 12 * far
        s.skin, s.spread = s.skin + 0.9 * far, s.spread + 0.2 * far
    elif cause == c.FILM_LEAKS:
        f["film_density_uv"], f["film_density_visible"] = 2.2 - 0.9 * far, rng.uniform(1.6, 3.2)
        f["film_headroom"] = 1.0 - 0.5 * far
        s.skin += 0.9 * far
    elif cause == c.FILM_LACKS_DETAIL:
        f["film_has_detail"] = False
        s.no_detail += far
    elif cause == c.POOR_CONTACT:
        f["contact"], f["film_side"] = [("none", "coated"), ("none", "back"), ("glass", "back")][rng.integers(3)]
        s.spread += far
    elif cause == c.DEGREASER_LEFT:
        f["rinsed"] = False
        s.grip, s.craters = s.grip + 0.7 * far, s.craters + 0.7 * far
    elif cause == c.NOT_DEGREASED:
        f["degreased"] = False
        s.grip, s.craters, s.grain = s.grip + 0.6 * far, s.craters + 0.8 * far, s.grain + 0.4 * far
    elif cause == c.OLD_RESIDUE:
        f["mesh_inspected"] = False
        f["last_stencil_age_days"] = rng.uniform(10, 200)
        s.stain, s.craters, s.rest = s.stain + far, s.craters + 0.4 * far, s.rest + 0.4 * far
    elif cause == c.TOO_THIN:
        f["thickness_um"] = f["thickness_aim_um"] * (0.8 - 0.5 * far)
        s.thin += far
    elif cause == c.TOO_THICK:
        f["thickness_um"] = f["thickness_aim_um"] * (1.25 + far)
        s.cure, s.spread = s.cure + 0.6 * far, s.spread + 0.5 * far
    elif cause == c.BUBBLES:
        f["rested_min"] = 25 * (1 - far)
        s.grain += far
    elif cause in (c.EDGE_DIRTY, c.CHIPPED):
        f["coater"] = "dirty" if cause == c.EDGE_DIRTY else "chipped"
        s.lines += far
        s.ridges += 0.45 * far * (cause == c.CHIPPED)
    elif cause == c.OVERFILLED:
        f["fill"] = 0.78 + 0.22 * far
        s.ridges += far
    elif cause == c.OVER_WASHED:
        way = rng.integers(3)
        if way != 1:
            f["wash_s"] = f["wash_usual_s"] * (1.35 + far)
        if way != 0:
            f["pressure"] = "high"
        s.force += far
    elif cause == c.WASHED_TOO_LITTLE:
        way = rng.integers(3)
        if way != 1:
            f["wash_s"] = f["wash_usual_s"] * (0.75 - 0.4 * far)
        if way != 0:
            f["soak_s"] = 12 * (1 - far)
        s.rest += far
    elif cause == c.UNEVEN_LIGHT:
        f["field_lowest"] = 0.74 - 0.3 * far
        s.uneven += far
    elif cause == c.LAMP_WEAK:
        f["lamp_hours_since_test"] = f["lamp_hours_hold"] * (1.15 + far)
        _dim(s, far)
    elif cause == c.LAMP_COLD:
        f["warm_up_s"] = 60 * (1 - far)
        _dim(s, far)
    elif cause == c.WHITE_MESH:
        f["mesh_colour"], f["finest_um"] = "white", rng.uniform(80, 220)
        f["mesh_per_cm"], f["thread_um"] = 120, 34
        s.spread += 0.9 * far
    elif cause == c.REFLECTION:
        f["black_behind"] = False
        s.spread, s.skin = s.spread + 0.7 * far, s.skin + 0.3 * far
    elif cause == c.SPECKS:
        f["glass_clean"] = False
        s.grain += far
    elif cause == c.WRONG_FOR_INK:
        f["resists"] = [i for i in ("plastisol", "water", "solvent", "uv") if i != f["ink"]][:2]
        s.attack += far
    elif cause == c.NOT_HARDENED:
        f["hardener"], f["ink"], f["impressions"] = "none", "water", int(rng.uniform(500, 5000))
        f["resists"] = sorted({*f["resists"], "water"})
        s.attack += 0.9 * far
    elif cause == c.HARDENED_FOR_GOOD:
        f["hardener"] = "chemical"
        s.bound += far
    elif cause == c.DUST:
        s.grain += far
    elif cause == c.REMOVER_DRIED:
        f["remover_min"] = 8 + 20 * far
        s.bound, s.stain = s.bound + far, s.stain + 0.4 * far
    elif cause == c.MESH_COARSE:
        f["finest_um"] = (1e4 / f["mesh_per_cm"] + f["thread_um"]) * (0.95 - 0.5 * far)
        s.coarse += far
    elif cause == c.WRONGLY_MIXED:
        f["sensitised"] = f["emulsion_kind"] == "photopolymer"
        s.cure += 1.3 * far
    elif cause == c.INK_DRIED:
        f["ink_left_h"] = 3 + 20 * far
        s.stain, s.bound = s.stain + far, s.bound + 0.5 * far
    elif cause == c.SLACK:
        f["tension"] = 17 - 7 * far
        s.bent += far


def _seen(s: Stencil, rng) -> list[str]:
    """What a person names: each symptom where what makes it is strong enough, by a sharp edge that differs by case."""
    strength = {
        "all_washes_away": max(s.cure * 0.85, 0.6 * s.cure + 0.5 * s.grip),
        "lifts_in_sheets": 0.5 * s.cure + 0.7 * s.grip + 0.3 * s.force,
        "edges_peel": 0.5 * s.cure + 0.6 * s.grip + 0.8 * s.force,
        "image_will_not_open": 0.9 * s.skin,
        "opens_in_parts": 0.55 * s.skin + 0.8 * s.rest + 0.5 * s.uneven,
        "fine_openings_closed": 0.9 * s.spread + 0.45 * s.skin + 0.7 * s.rest + 0.9 * s.no_detail,
        "fine_lines_of_stencil_lost": 0.5 * s.cure + 0.9 * s.force + 0.8 * s.coarse + s.no_detail,
        "scum_in_openings": 0.75 * s.skin + 0.75 * s.rest,
        "saw_tooth_edges": 0.9 * s.thin + s.coarse,
        "soft_edges": 0.9 * s.spread + 0.25 * s.thin + 0.2 * s.force,
        "image_distorted": 1.1 * s.bent,
        "pinholes": 1.1 * s.grain + 0.6 * s.thin + 0.55 * s.craters + 0.2 * s.cure,
        "squeegee_side_slimy": 0.95 * s.cure,
        "breaks_down_on_press": 1.1 * s.attack + 0.45 * s.cure + 0.6 * s.thin + 0.3 * s.grip,
        "light_lines_in_coat": 1.2 * s.lines,
        "beads_at_sides": 1.1 * s.ridges,
        "one_corner_wrong": 1.1 * s.uneven,
        "hard_to_reclaim": 1.1 * s.bound + 0.15 * s.skin,
        "ghost_left": 0.95 * s.stain,
        "fisheyes": 0.9 * s.craters,
    }  # fmt: skip
    seen = [name for name, far in strength.items() if far > rng.uniform(0.25, 0.75) and rng.random() < _NAMED]
    seen += [name for name in strength if rng.random() < _BY_MISTAKE]
    return seen or [max(strength, key=strength.get)]


def make_case(rng) -> tuple[dict, Cause]:
    """A case as it is written down, and its main cause."""
    causes = list(Cause)
    main = causes[rng.integers(len(causes))]
    stencil = Stencil(facts=_usual(rng))
    if rng.random() < _SECOND_CAUSE:
        _spoil(stencil, causes[rng.integers(len(causes))], rng.uniform(0.2, 0.4), rng)
    _spoil(stencil, main, rng.uniform(0.6, 1.0), rng)
    seen = _seen(stencil, rng)
    if rng.random() < _MISLEADING:
        # A record out of order that did no harm.
        _spoil(Stencil(facts=stencil.facts), causes[rng.integers(len(causes))], 0.1, rng)
        _spoil(Stencil(facts=stencil.facts), main, rng.uniform(0.6, 1.0), rng)
    missing = rng.choice([0.05, 0.2, 0.4])
    facts = {name: _plain(value) for name, value in stencil.facts.items() if rng.random() > missing}
    return {"symptoms": seen, "facts": facts}, main


def _plain(value):
    return value.item() if isinstance(value, np.generic) else value


def measure(cases: int = _CASES, seed: int = _SEED, trace=None) -> dict:
    """Shares of cases with the true cause first and among the first three, and the Brier score, 0..1."""
    rng = np.random.default_rng(seed)
    first, among, score = 0, 0, 0.0
    for _ in range(cases):
        written, main = make_case(rng)
        case = read_case(written)
        found = diagnose(case.symptoms, case.facts)
        order = [r.cause for r in found.causes]
        first, among = first + (order[0] == main), among + (main in order[:3])
        wrong = sum((r.probability - (r.cause == main)) ** 2 for r in found.causes) + found.none_of_these**2
        score += wrong / 2
        if trace:
            trace(written, main, found)
    return {"first": first / cases, "among_three": among / cases, "brier": score / cases}


def figures(settings) -> str:
    found = measure()
    return (
        f"stencils gone wrong, {_CASES} cases: the true cause first in {found['first']:.1%}, among three in "
        f"{found['among_three']:.1%}; Brier score {found['brier']:.3f}"
    )
