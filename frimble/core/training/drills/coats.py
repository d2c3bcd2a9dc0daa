"""Planning a coat: which formula gives the emulsion over mesh that is wanted."""

import random

from frimble.core.coating.formula import parse_formula
from frimble.core.coating.thickness import CoatConditions, ordinary_um
from frimble.core.conclusions import Settings
from frimble.core.mesh.geometry import geometry
from frimble.core.training.drill import Asks, Drill, Question
from frimble.core.training.scene import Box, Scene, Shape, Tone, Words

_MESHES = ((32, 100), (43, 80), (62, 64), (77, 48), (120, 34))
_FORMULAS = ("P1 S1", "P1 S2", "P2 S1", "P2 S2", "P2 S3", "P1 S1 / P1r", "P1 S1 / P1r / P1r")
_SOLIDS = 0.4
_OFFERED = {1: 3, 2: 4, 3: 4, 4: 5, 5: 6}
_LEFT, _WIDE = 150.0, 460.0


def make(level: int, rng: random.Random, settings: Settings) -> Drill:
    count, thread = rng.choice(_MESHES)
    fabric = geometry(count, thread, settings).fabric_thickness_um
    lays = {
        text: ordinary_um(CoatConditions(parse_formula(text, settings), fabric, _SOLIDS), settings)
        for text in _FORMULAS
    }
    offered = rng.sample(_FORMULAS, _OFFERED[level])
    right = rng.choice(offered)
    aim = lays[right]
    # Another that comes as near is as right: it is not offered beside it.
    offered = [f for f in offered if f == right or abs(lays[f] - aim) > 0.12 * aim]
    offered.sort(key=lambda f: lays[f])
    near = {f: 0.5 for f in offered if f != right and abs(lays[f] - aim) <= 0.3 * aim}
    scale = _WIDE / max(lays.values())
    bars: list[Shape] = []
    for k, text in enumerate(offered):
        tone = Tone.RIGHT if text == right else Tone.COAT
        bars.append(Box(_LEFT, 52 + 30 * k, lays[text] * scale, 20, tone))
        bars.append(Words(_LEFT + lays[text] * scale + 8, 67 + 30 * k, f"{lays[text]:.0f} µm", Tone.INK, "start", 13))
    names: list[Shape] = [Words(_LEFT - 10, 67 + 30 * k, text, Tone.INK, "end", 14) for k, text in enumerate(offered)]
    title = Words(20, 24, f"{count:g}-{thread:g}: {fabric:.0f} µm of fabric", Tone.SOFT, "start", 14)
    scene = Scene(680, 70 + 30 * len(offered), (title, *names), "The formulas that may be laid, the thinnest first")
    return Drill(
        f"The stencil wants {aim:.0f} µm over a mesh of {count:g}-{thread:g}, with an emulsion of "
        f"{_SOLIDS:.0%} solids and a "
        "sharp coater.",
        (Question("formula", "Which formula", Asks.ONE, right, tuple((f, f) for f in offered), near=near),),
        f"{right} lays about {aim:.0f} µm. Strokes on the squeegee side push emulsion to the print side, where the stencil "
        "stands; a dried layer adds to what lies there.",
        scene,
        scene.with_more(*bars),
    )
