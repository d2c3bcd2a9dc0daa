"""The order of work at the reclaim sink."""

import random

from frimble.core.conclusions import Settings
from frimble.core.training.drill import Asks, Drill, Question

# In their order; the last ones only where they are wanted. Common practice.
_ORDER = (
    ("gear", "gloves, goggles, apron; fan on"),
    ("ink", "scrape and wipe the ink out"),
    ("tape", "take tape and filler off"),
    ("wash", "ink remover, both sides, rinsed off"),
    ("remover", "emulsion remover, both sides, brushed in"),
    ("wait", "let it work, never let it dry"),
    ("rinse", "rinse from the bottom up, then from the top, with pressure"),
    ("look", "look through it against the light"),
    ("haze", "haze remover where a ghost is left, its own time, rinsed"),
    ("degrease", "degrease and rinse until the water sheets off"),
)
_ASKED = {1: 5, 2: 6, 3: 7, 4: 8, 5: 10}


def make(level: int, rng: random.Random, settings: Settings) -> Drill:
    picked = sorted(rng.sample(range(len(_ORDER)), _ASKED[level]))
    right = tuple(_ORDER[k][0] for k in picked)
    shown = [_ORDER[k] for k in picked]
    rng.shuffle(shown)
    return Drill(
        "A printed screen stands at the sink. Put the work in its order.",
        (Question("order", "In which order", Asks.ORDER, right, tuple(shown)),),
        "In this order: "
        + "; ".join(_ORDER[k][1] for k in picked)
        + ". Each step's rest keeps the next one from working; gear "
        "comes before the first splash. The labels of the removers and local rules come first.",
    )
