"""What went wrong: a stencil drawn by the simulated screen from a hidden cause."""

import random

import numpy as np

from frimble.core.conclusions import Settings
from frimble.core.training.drill import Asks, Drill, Question
from frimble.core.training.drills.against_light import OPENING_UM, against_light

_PX_MM, _SIDE_MM = 40.0, 12.0
_CAUSES = (
    ("right", "nothing: it is as the film"),
    ("under", "too little light"),
    ("over", "too much light"),
    ("leak", "the film's black lets light through"),
    ("gap", "film and emulsion did not touch"),
)
_NEXT = {
    "right": "print",
    "under": "longer",
    "over": "shorter",
    "leak": "film",
    "gap": "press",
}
_DO = (
    ("print", "print with it"),
    ("longer", "remake it with a longer time, after a step test"),
    ("shorter", "remake it with a shorter time, after a step test"),
    ("film", "make the film again, darker"),
    ("press", "clean the glass and press film and screen together"),
)
_COAT = {
    "thickness_um": 75.0,
    "over_mesh_um": 12.0,
    "full_s": 50.0,
    "gel_s": 10.0,
    "dmax": 3.3,
    "dmin": 0.05,
    "spread_um": 26.0,
}


def make(level: int, rng: random.Random, settings: Settings) -> Drill:
    from frimble.core.simulation.screen.light import exposure
    from frimble.core.simulation.screen.standing import stencil

    cause = rng.choice([name for name, _ in _CAUSES])
    # The harder, the less the cause is overdone.
    much = 1.0 - (level - 1) * 0.13
    changed: dict[str, float] = {
        "right": {"time_s": 58.0},
        "under": {"time_s": 50 * (1 - 0.66 * much)},
        "over": {"time_s": 50 * (1 + 6.0 * much)},
        "leak": {"time_s": 58.0, "dmax": 0.62 + 0.08 * (1 - much)},
        "gap": {"time_s": 58.0, "spread_um": 26 * (1 + 3.4 * much)},
    }[cause]
    light = exposure(**{**_COAT, **changed})
    black = _film()
    stands = stencil(black, _PX_MM, light, OPENING_UM)
    scum = cause == "leak" and light.leak < light.gel_share
    photo = against_light(stands.open_.astype(bool), _PX_MM, rng, black & scum, cause == "under")
    return Drill(
        "A stencil is held against the light, at full detail: bright is open, dark is stencil. The "
        "film asked for bars of 1.2, "
        "0.6, 0.3 and 0.15 mm, a word, and clear lines of 0.3 and 0.15 mm in a block.",
        (
            Question(
                "cause", "What went wrong", Asks.ONE, cause, _CAUSES, near={"over": 0.4} if cause == "gap" else {}
            ),
            Question("do", "What to do", Asks.ONE, _NEXT[cause], _DO),
        ),
        _WHY[cause],
        photo=photo,
        photo_words="The stencil against the light",
    )


_WHY = {
    "right": "Bars are open, lines stand, nothing closes or frays.",
    "under": "Fine stencil is gone, and what stands is thin and frays: too little light reached the threads.",
    "over": "Fine bars are closed and all openings narrower, with clean edges: light crept under the film.",
    "leak": "Closed or filmed over where black should be open, broad bars too: light came through the black.",
    "gap": "Fine bars are closed and corners round although the time was right: light spread under a film "
    "that did not touch.",
}


def _film() -> np.ndarray:
    side = round(_SIDE_MM * _PX_MM)
    black = np.zeros((side, side), bool)

    def box(x: float, y: float, wide: float, high: float, value: bool = True) -> None:
        black[round(y * _PX_MM) : round((y + high) * _PX_MM), round(x * _PX_MM) : round((x + wide) * _PX_MM)] = value

    x = 0.8
    for wide in (1.2, 0.6, 0.6, 0.3, 0.3, 0.3, 0.15, 0.15, 0.15):
        box(x, 0.8, wide, 4.6)
        x += wide + 0.55
    box(0.8, 6.4, 6.6, 4.8)
    for k, wide in enumerate((0.3, 0.3, 0.15, 0.15)):
        box(1.6 + 1.4 * k, 6.4, wide, 4.8, False)
    for k in range(12):
        for row in range(12):
            box(8.0 + 0.3 * k, 6.6 + 0.38 * row, 0.14, 0.14)
    return black
