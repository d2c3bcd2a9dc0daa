"""Is it dry: from the air, the coat and the clock."""

import random

from frimble.core.coating import drying
from frimble.core.coating.formula import parse_formula
from frimble.core.conclusions import Settings
from frimble.core.mesh.geometry import geometry
from frimble.core.training.drill import Asks, Drill, Question
from frimble.core.training.scene import Box, Scene, Shape, Stroke, Tone, Words
from frimble.core.units import show_minutes

_MESHES = ((43, 80), (62, 64), (77, 48), (120, 34))
_FORMULAS = ("P1 S1", "P1 S2", "P2 S2")
_SOLIDS = 0.38
_HOLD = 1.5
_DO = (
    ("expose", "expose it now"),
    ("weigh", "weigh it or meter it: it may be dry"),
    ("wait", "wait: it is still wet inside"),
)
_LEFT, _WIDE = 60.0, 560.0


def make(level: int, rng: random.Random, settings: Settings) -> Drill:
    count, thread = rng.choice(_MESHES)
    formula = rng.choice(_FORMULAS)
    air = drying.Air(round(rng.uniform(18, 32)), round(rng.uniform(0.3, 0.7), 2), rng.choice(["off", "low"]))
    mesh = geometry(count, thread, settings)
    facts = drying.layer_facts(parse_formula(formula, settings), 1, mesh, _SOLIDS, air, settings, None)
    expected = drying.drying_minutes(facts, drying.prior(settings), settings).interval
    # A room that knows its drying holds a coat half as long again.
    hold = _HOLD * expected.value
    right = rng.choice(["expose", "weigh", "wait"])
    elapsed = {
        "expose": hold * rng.uniform(1.1, 1.9 - level * 0.15),
        "weigh": expected.value + (hold - expected.value) * rng.uniform(0.3, 0.8),
        "wait": expected.value * rng.uniform(0.35 + level * 0.06, 0.4 + level * 0.1),
    }[right]
    scene = _scene(count, thread, formula, air, elapsed)
    scale = _WIDE / max(hold * 1.3, elapsed * 1.05)
    marks: list[Shape] = [
        Box(_LEFT + expected.value * scale, 150, max(2.0, (hold - expected.value) * scale), 22, Tone.PALE),
        Box(_LEFT, 150, expected.value * scale, 22, Tone.COAT),
        Stroke(_LEFT + elapsed * scale, 142, _LEFT + elapsed * scale, 182, Tone.MARK, 4),
        Words(_LEFT + expected.value * scale, 196, f"usually {show_minutes(expected.value)}", Tone.RIGHT, "end", 13),
        Words(_LEFT + hold * scale, 214, f"held to {show_minutes(hold)}", Tone.RIGHT, "middle", 13),
    ]
    return Drill(
        "The coat feels dry to the fingertip. Live light is not for trying.",
        (
            Question("do", "What now", Asks.ONE, right, _DO, near={"weigh": 0.4} if right != "weigh" else {}),
            Question(
                "usual",
                "How long such a coat usually dries",
                Asks.NUMBER,
                expected.value,
                unit="min",
                tolerance=0.25,
                relative=True,
            ),
        ),
        f"Such a coat usually dries in {show_minutes(expected.value)}; without a scale or meter it is held to "
        f"{show_minutes(hold)}. A fingertip feels the surface alone, the inside follows. At {show_minutes(elapsed)} it is "
        f"{_SAID[right]}.",
        scene,
        scene.with_more(*marks),
    )


_SAID = {
    "expose": "past the hold: it may be exposed",
    "weigh": "between the two: only a scale or meter tells",
    "wait": "under the usual time: wet inside, whatever the finger says",
}


def _scene(count: float, thread: float, formula: str, air: drying.Air, elapsed: float) -> Scene:
    fan = {"off": "no fan", "low": "fan on low"}[air.fan]
    lines = (
        (f"{count:g}-{thread:g}", "mesh"),
        (formula, "coat, first layer"),
        (f"{air.air_c:g} °C", "air"),
        (f"{air.humidity:.0%}", "humidity"),
        (fan, "cabinet"),
        (show_minutes(elapsed), "since it was coated"),
    )
    shapes: list[Shape] = []
    for k, (value, name) in enumerate(lines):
        x, y = 110 + 210 * (k % 3), 44 + 62 * (k // 3)
        shapes += [Words(x, y, value, Tone.INK, size=20), Words(x, y + 20, name, Tone.SOFT, size=12)]
    return Scene(680, 226, tuple(shapes), "The coat, the air of the cabinet and the clock")
