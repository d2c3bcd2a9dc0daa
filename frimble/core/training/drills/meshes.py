"""Choosing a mesh for what is to be printed."""

import random

from frimble.core.conclusions import Settings
from frimble.core.mesh.choice import MeshRequest, choose
from frimble.core.mesh.geometry import USUAL_MESHES, geometry
from frimble.core.mesh.practice import CUSTOMS
from frimble.core.training.drill import Asks, Drill, Question

_RULINGS = {"overprint": (35, 45), "simulated": (45, 55), "process": (55, 65)}
_OFFERED = {1: 3, 2: 4, 3: 4, 4: 5, 5: 6}
_SERVES = 0.5


def make(level: int, rng: random.Random, settings: Settings) -> Drill:
    cloths = [(f"{cm:g}-{um:g}", geometry(cm, um, settings)) for _, cm, um in USUAL_MESHES]
    role = rng.choice(sorted(CUSTOMS["role"]))
    ruling = rng.choice(_RULINGS[role]) if role in _RULINGS else None
    school = rng.choice(["opacity", "soft"]) if level > 2 else "opacity"
    wanted = MeshRequest(school, ruling_lpi=ruling, role=role)
    ranked = choose(cloths, wanted, settings)
    best = ranked[0]
    others = rng.sample(ranked[1 : 2 + level] if level > 3 else ranked[1:], min(_OFFERED[level] - 1, len(ranked) - 1))
    offered = sorted([best, *others], key=lambda c: c.geometry.count_per_cm)
    near = {c.name: _SERVES for c in others if c.serves and not c.departs}
    asked = f"{CUSTOMS['role'][role].words}" + (f", a halftone of {ruling} lines per inch" if ruling else "")
    liked = "the most opaque print" if school == "opacity" else "a soft hand"
    choices = tuple((c.name, f"{c.name} per cm and µm") for c in offered)
    return Drill(
        f"To be printed: {asked}. The house wants {liked}. These meshes hang free.",
        (Question("mesh", "Which mesh", Asks.ONE, best.name, choices, near=near),),
        f"{best.name}: {', '.join(best.reasons)}."
        + "".join(f" {c.name}: {', '.join(c.departs or c.reasons)}." for c in offered if c is not best),
    )
