"""A step exposure against the clock: the card moves at the right moment, in safelight."""

import random

from frimble.core.conclusions import Settings
from frimble.core.training.drill import Asks, Drill, Question
from frimble.core.training.scene import Scene, Stroke, Tone, Words

_STRIPS = {1: 4, 2: 5, 3: 6, 4: 7, 5: 8}
_LATE_S = {1: 0.8, 2: 0.6, 3: 0.5, 4: 0.4, 5: 0.3}
_WHOLE_S = 24.0
_LEFT, _WIDE = 30.0, 620.0


def make(level: int, rng: random.Random, settings: Settings) -> Drill:
    number = _STRIPS[level]
    ratio = rng.choice([1.41, 1.5])
    first = _WHOLE_S / ratio ** (number - 1) * rng.uniform(0.85, 1.1)
    moments = tuple(round(first * ratio**k, 1) for k in range(number))
    scale = _WIDE / moments[-1]
    shapes = [Stroke(_LEFT, 60, _LEFT + _WIDE, 60, Tone.INK, 2)]
    words = []
    for k, at in enumerate(moments):
        shapes.append(Stroke(_LEFT + at * scale, 44, _LEFT + at * scale, 76, Tone.INK, 2))
        words.append(Words(_LEFT + at * scale, 32 if k % 2 else 96, f"{at:g} s", Tone.INK, size=13))
    scene = Scene(680, 116, (*shapes, *words), "A line of time with the moments at which the card moves")
    said = ", ".join(f"{m:g}" for m in moments)
    return Drill(
        f"The light is on from the first tap. Move the card, tap by tap, at {said} s.",
        (Question("taps", "Tap when the card moves", Asks.TAPS, moments, tolerance=_LATE_S[level]),),
        f"The card moves at {said} s; {_LATE_S[level]:g} s early or late are within what a step forgives at this level.",
        scene,
        scene,
    )
