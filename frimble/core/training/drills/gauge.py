"""Reading a tension gauge and judging the five places of a screen."""

import math
import random

from frimble.core.conclusions import Settings
from frimble.core.training.drill import Asks, Drill, Question
from frimble.core.training.scene import Disc, Scene, Shape, Stroke, Tone, Words

_MOST = 40.0
_DIAL = (150.0, 160.0, 120.0)
# N/cm between two ticks, by level: finer ones are harder to count.
_TICKS = {1: 1.0, 2: 1.0, 3: 0.5, 4: 0.5, 5: 0.25}
_PLACES = ("top left", "top right", "bottom left", "bottom right")
_VERDICTS = (
    ("good", "good: taut and even"),
    ("corner", "one corner is slack: look at the frame and the joint"),
    ("uneven", "warp and weft differ: it prints out of register"),
    ("slack", "slack everywhere: take it off or stretch it again"),
)


def make(level: int, rng: random.Random, settings: Settings) -> Drill:
    poor = settings["tension.poor_below"]
    state = rng.choice([name for name, _ in _VERDICTS])
    middle, others = _places(state, level, poor, rng)
    tick = _TICKS[level]
    reading = round(middle / tick) * tick
    shapes = _dial(reading, tick)
    spots = [(420, 70), (580, 70), (420, 250), (580, 250)]
    words: list[Shape] = [Words(500, 160, "?", Tone.INK, size=22), Words(500, 182, "the needle's", Tone.SOFT, size=12)]
    for (x, y), value, name in zip(spots, others, _PLACES, strict=True):
        words += [Words(x, y, f"{value:.1f}", Tone.INK, size=20), Words(x, y + 18, name, Tone.SOFT, size=12)]
    scene = Scene(680, 300, (*shapes, *words), "A round gauge with a needle over a scale to 40 N/cm, and four readings")
    return Drill(
        f"The gauge stands in the middle of the mesh; the corners were read before. Under {poor:g} N/cm is poor here.",
        (
            Question(
                "reading", "What the needle shows", Asks.NUMBER, reading, unit="N/cm", tolerance=max(tick / 2, 0.3)
            ),
            Question("verdict", "So the screen is", Asks.ONE, state, _VERDICTS),
        ),
        f"The needle shows {reading:g} N/cm. {_WHY[state]}",
        scene,
        scene.with_more(Words(500, 136, f"{reading:g}", Tone.RIGHT, size=22)),
    )


_WHY = {
    "good": "All five lie near together and above the limit.",
    "corner": "One corner lies far under the others: the mean hides it, the print does not.",
    "uneven": "Opposite corners differ pair by pair: one direction is tighter than the other.",
    "slack": "All five lie under the limit: no squeegee setting makes up for that.",
}


def _places(state: str, level: int, poor: float, rng: random.Random) -> tuple[float, list[float]]:
    base = rng.uniform(poor + 6, poor + 13)
    # The harder, the smaller the difference that tells.
    apart = 9.0 - level * 0.9
    if state == "slack":
        base = rng.uniform(poor - 5, poor - 1.5)
    others = [base + rng.uniform(-0.7, 0.7) for _ in _PLACES]
    if state == "corner":
        others[rng.randrange(4)] -= apart
    if state == "uneven":
        for k in (0, 3):
            others[k] += apart / 2
        for k in (1, 2):
            others[k] -= apart / 2
    return base + rng.uniform(-0.6, 0.6), [max(1.0, o) for o in others]


def _dial(value: float, tick: float) -> list[Shape]:
    x, y, radius = _DIAL
    shapes: list[Shape] = [Disc(x, y, radius, Tone.PAPER), Disc(x, y, radius, Tone.INK, outline=True)]
    for k in range(round(_MOST / tick) + 1):
        at = k * tick
        long = at % 5 == 0
        inner = radius - (20 if long else 12 if at % 1 == 0 else 7)
        shapes.append(Stroke(*_on(at, radius - 3), *_on(at, inner), Tone.INK, 2 if long else 1))
        if at % 10 == 0:
            shapes.append(Words(*_on(at, radius - 34), f"{at:g}", Tone.INK, size=14))
    return [*shapes, Stroke(x, y, *_on(value, radius - 14), Tone.MARK, 3), Disc(x, y, 6, Tone.INK)]


def _on(value: float, radius: float) -> tuple[float, float]:
    """A point of the dial; 0 stands at the lower left, the scale goes round over the top."""
    angle = math.radians(225 - 270 * value / _MOST)
    return _DIAL[0] + radius * math.cos(angle), _DIAL[1] - radius * math.sin(angle)
