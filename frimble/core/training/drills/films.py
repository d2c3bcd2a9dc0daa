"""A film on the light table: which faults it has, and what to do with it."""

import random

from frimble.core.conclusions import Settings
from frimble.core.training.drill import Asks, Drill, Question
from frimble.core.training.scene import Box, Disc, Scene, Shape, Stroke, Tone, Words

_WIDE, _HIGH = 640.0, 300.0
_FAULTS = {
    "pinholes": "pinholes in the black",
    "scratch": "a scratch",
    "weak": "black that light comes through",
    "thin": "a line too thin to hold",
    "marks": "a register mark is missing",
}
_MENDED = ("pinholes", "scratch")
_DO = (("use", "use it"), ("mend", "mend it with opaque, then use it"), ("again", "make it again"))
# Sizes at the easiest level, and how much smaller each level makes them.
_SMALLER = 0.78


def make(level: int, rng: random.Random, settings: Settings) -> Drill:
    number = rng.choice([0, 1, 1, 2, 2] if level < 3 else [0, 1, 2, 2, 3])
    there = sorted(rng.sample(sorted(_FAULTS), number))
    size = _SMALLER ** (level - 1)
    do = "use" if not there else "mend" if set(there) <= set(_MENDED) else "again"
    shapes, found = _film(there, size, rng)
    scene = Scene(_WIDE, _HIGH, tuple(shapes), "A film against the light: black shapes, lines and register marks")
    rings: list[Shape] = [Disc(x, y, 20, Tone.RIGHT, outline=True) for x, y in found]
    return Drill(
        "A film lies on the light table, emulsion side up. Its finest line is to be 150 µm, its black even.",
        (
            Question("faults", "What is wrong with it", Asks.MANY, frozenset(there), tuple(_FAULTS.items())),
            Question("do", "What to do", Asks.ONE, do, _DO, near={"again": 0.5} if do == "mend" else {}),
        ),
        _why(there),
        scene,
        scene.with_more(*rings),
    )


def _why(there: list[str]) -> str:
    if not there:
        return "Nothing is wrong with it: black is even, lines are whole, all four marks are there."
    said = ", ".join(_FAULTS[name] for name in there)
    if set(there) <= set(_MENDED):
        return f"It has {said}: opaque mends that in a minute."
    return f"It has {said}: no pen mends weak black, thin lines or a missing mark, so it is made again."


def _film(there: list[str], size: float, rng: random.Random) -> tuple[list[Shape], list[tuple[float, float]]]:
    weak = "weak" in there
    block = Box(60, 60, 220, 160, Tone.BLACK)
    shapes: list[Shape] = [Box(0, 0, _WIDE, _HIGH, Tone.OPEN), block, Disc(420, 140, 82, Tone.BLACK)]
    found: list[tuple[float, float]] = []
    if weak:
        x, y = rng.uniform(80, 180), rng.uniform(80, 150)
        shapes.append(Box(x, y, 30 + 60 * size, 24 + 40 * size, Tone.GREY))
        found.append((x + 15 + 30 * size, y + 12 + 20 * size))
    for k in range(6):
        wide = 7.0 if not ("thin" in there and k == 3) else max(0.8, 2.4 * size)
        x = 540 + 14 * k
        shapes.append(Box(x, 60, wide, 150, Tone.BLACK))
        if "thin" in there and k == 3:
            found.append((x + wide / 2, 140))
    if "pinholes" in there:
        for _ in range(rng.randint(2, 4)):
            x, y = rng.uniform(75, 265), rng.uniform(75, 205)
            shapes.append(Disc(x, y, max(0.9, 3.2 * size), Tone.OPEN))
            found.append((x, y))
    if "scratch" in there:
        x, y = rng.uniform(360, 400), rng.uniform(95, 120)
        shapes.append(Stroke(x, y, x + 60, y + 50, Tone.OPEN, max(0.8, 2.6 * size)))
        found.append((x + 30, y + 25))
    corners = [(24.0, 24.0), (_WIDE - 24, 24.0), (24.0, _HIGH - 24), (_WIDE - 24, _HIGH - 24)]
    gone = rng.choice(corners) if "marks" in there else None
    for x, y in corners:
        if (x, y) == gone:
            found.append((x, y))
            continue
        shapes += [Stroke(x - 10, y, x + 10, y, Tone.BLACK, 2), Stroke(x, y - 10, x, y + 10, Tone.BLACK, 2)]
    shapes.append(Words(420, 262, "PENNANT", Tone.BLACK, size=22))
    return shapes, found
