"""The skills that are drilled, one row each."""

import random
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from frimble.core.conclusions import InvalidInput, Settings
from frimble.core.training.drill import LEVELS, Drill
from frimble.core.training.drills import (
    clock,
    coats,
    dryness,
    films,
    gauge,
    meshes,
    places,
    reclaim,
    stencils,
    steps,
)

Maker = Callable[[int, random.Random, Settings], Drill]


@dataclass(frozen=True)
class Skill:
    """A skill: its name on pages, the step of a screen's life that rests on it, and what makes its drills."""

    title: str
    step: str
    make: Maker


SKILLS: Mapping[str, Skill] = {
    "steps": Skill("Read a step test", "expose", steps.make),
    "films": Skill("Judge a film", "expose", films.make),
    "gauge": Skill("Read a tension gauge", "", gauge.make),
    "dryness": Skill("Is it dry?", "expose", dryness.make),
    "stencils": Skill("What went wrong?", "inspect", stencils.make),
    "meshes": Skill("Choose a mesh", "", meshes.make),
    "places": Skill("Place a film", "expose", places.make),
    "coats": Skill("Plan a coat", "coat", coats.make),
    "clock": Skill("Expose by the clock", "expose", clock.make),
    "reclaim": Skill("Reclaim in order", "reclaim", reclaim.make),
}


def drill(skill: str, level: int, seed: int, settings: Settings) -> Drill:
    """The drill of a skill and level; the same seed is the same drill.

    Raises:
        InvalidInput: an unknown skill or level.
    """
    if skill not in SKILLS:
        raise InvalidInput(f"There is no skill {skill}.", "skill")
    if level not in LEVELS:
        raise InvalidInput(f"Levels go from {LEVELS[0]} to {LEVELS[-1]}.", "level")
    return SKILLS[skill].make(level, random.Random(f"{skill} {level} {seed}"), settings)
