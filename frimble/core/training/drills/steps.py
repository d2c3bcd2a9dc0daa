"""Reading a step test: which strip is cured through, which keeps its detail, and the time that follows; four kinds."""

import math
import random

from frimble.core.conclusions import Settings
from frimble.core.training.drill import Asks, Drill, PhotoMark, Question
from frimble.core.training.drills.strips import (
    HEAD_MM,
    HIGH_MM,
    PX_MM,
    ROW_MM,
    STRIP_MM,
    WIDTHS_UM,
    TestedCoat,
    washed_strips,
)
from frimble.core.training.scene import Box, Scene, Shape, Stroke, Tone, Words
from frimble.core.units import show_seconds

_WANTED_UM = 150
# Of the drawing: a strip's width, where the first begins, and the row that a thumb felt.
_STRIP, _LEFT, _TOP, _HIGH = 74.0, 70.0, 54.0, 54.0
# Steps grow closer with the level, and their number with it.
_RATIOS = {1: 1.6, 2: 1.5, 3: 1.41, 4: 1.32, 5: 1.26}
_SHADES_A_STEP = math.sqrt(2)
# Drops of slime for an e-th of the full time.
_DROPS = 14
_AIM_STEP = 7
_KINDS = ("card", "factor", "screens", "grey")

_MOVES = (("longer", "longer"), ("keep", "kept"), ("shorter", "shorter"))


def make(level: int, rng: random.Random, settings: Settings) -> Drill:
    kind = rng.choice(_KINDS)
    return _grey(level, rng) if kind == "grey" else _strips(kind, level, rng)


def _strips(kind: str, level: int, rng: random.Random) -> Drill:
    ratio, number = _RATIOS[level], 6 + (level + 1) // 2
    # Several steps lie between cured and closing at first, one or two at the last level.
    latitude = ratio ** rng.uniform(1.3, 1.8 if level > 3 else 2.8)
    first = rng.uniform(4, 30)
    times = [first * ratio**k for k in range(number)]
    cured_at = rng.randint(1, number - 4) if number > 5 else 1
    full = times[cured_at] / ratio ** rng.uniform(0.15, 0.85)
    coat = TestedCoat(full, latitude, _WANTED_UM)
    cured = next(k for k, t in enumerate(times) if t >= full)
    washed = washed_strips(times, coat, rng)
    open_to = max(k for k, opens in enumerate(washed.wanted_open) if opens or k == cured)
    right = math.sqrt(times[cured] * times[open_to])
    shapes: list[Shape] = []
    for k, time in enumerate(times):
        shapes += _strip(k, time / full, _over(kind, k, times))
    scene = Scene(
        _LEFT + _STRIP * number + 10,
        _TOP + _HIGH + 40,
        (Words(_LEFT - 8, _TOP + _HIGH / 2 + 4, "feel", Tone.SOFT, "end", 12), *shapes),
        f"The times of {number} strips, and how each feels on the squeegee side",
    )
    choices = tuple((str(k + 1), f"strip {k + 1}") for k in range(number))
    marks = [
        Words(_LEFT + _STRIP * (cured + 0.5), _TOP + _HIGH + 34, "cured", Tone.RIGHT),
        Words(_LEFT + _STRIP * (open_to + 0.5), _TOP - 40, f"{_WANTED_UM} µm open", Tone.RIGHT),
    ]
    return Drill(
        f"{_STORIES[kind]} {_WANTED_UM} µm must stay open.",
        (
            Question(
                "cured", "The first strip that is cured through", Asks.ONE, str(cured + 1), choices, near=_beside(cured)
            ),
            Question(
                "open",
                f"The last strip that keeps {_WANTED_UM} µm open",
                Asks.ONE,
                str(open_to + 1),
                choices,
                near=_beside(open_to),
            ),
            Question("time", "The time to take", Asks.NUMBER, right, unit="s", tolerance=0.1, relative=True),
            Question("why", "Because", Asks.ONE, "between", _REASONS, near={"cure": 0.3}),
        ),
        f"Strip {cured + 1} is the first without slime on the squeegee side; strip {open_to + 1} the "
        f"last with {_WANTED_UM} µm "
        f"open. The time lies in the middle between them: √({show_seconds(round(times[cured], 1))} × "
        f"{show_seconds(round(times[open_to], 1))}) = {show_seconds(round(right, 1))}. Under it the "
        "stencil breaks down in the "
        "run, over it detail closes.",
        scene,
        scene.with_more(*marks),
        washed.photo,
        f"{number} strips against the light, left to right; lines of {_widths()} µm from the top",
        (_mark(cured, "cured"), _mark(open_to, f"{_WANTED_UM} µm open", WIDTHS_UM.index(_WANTED_UM))),
    )


def _widths() -> str:
    return ", ".join(f"{um}" for um in WIDTHS_UM)


def _mark(k: int, words: str, row: int | None = None) -> PhotoMark:
    """A strip on the photo, or one row of its lines."""
    top, high = (0.0, HIGH_MM - 1.4) if row is None else (HEAD_MM + ROW_MM * row - 0.5, ROW_MM)
    return PhotoMark(k * STRIP_MM * PX_MM, top * PX_MM, STRIP_MM * PX_MM, high * PX_MM, words)


_STORIES = {
    "card": "A card was drawn back step by step: each strip has had the seconds that stand over it.",
    "factor": "A factor film lay on it for the longest time; over each column stands its factor and the time it comes to.",
    "screens": "Small screens of one batch were exposed one by one, each for the seconds that stand over it.",
}
_REASONS = (
    ("between", "it is cured through and its detail is open, with room to either side"),
    ("cure", "it is the shortest that is cured"),
    ("dark", "the colour is strongest"),
    ("detail", "all detail is open"),
)


def _over(kind: str, k: int, times: list[float]) -> list[str]:
    """What stands over a strip, the lowest line first."""
    factor = [f"{times[k] / times[-1]:.2f}"] if kind == "factor" else []
    return [show_seconds(round(times[k], 1)), *factor]


def _beside(k: int) -> dict[str, float]:
    return {str(k): 0.5, str(k + 2): 0.5}


def _strip(k: int, of_full: float, over: list[str]) -> list[Shape]:
    """A strip's number, what stands over it, and how it feels: drops of slime on the thumb, none once it is cured through.

    Args:
        of_full: its time, of that which cures it through.
    """
    x = _LEFT + _STRIP * k
    shapes: list[Shape] = [
        *(Words(x + _STRIP / 2, _TOP - 8 - 15 * line, words, Tone.INK, size=12.5) for line, words in enumerate(over)),
        Box(x + 3, _TOP, _STRIP - 6, _HIGH, Tone.COAT if of_full >= 1 else Tone.PALE),
        Words(x + _STRIP / 2, _TOP + _HIGH + 16, f"{k + 1}", Tone.SOFT, size=12),
    ]
    # As many as the squeegee side is soft.
    drops = 0 if of_full >= 1 else min(9, 1 + round(-math.log(of_full) * _DROPS))
    return shapes + [
        Box(x + 14 + 15 * (drop % 3), _TOP + 8 + 14 * (drop // 3), 8, 8, Tone.MARK) for drop in range(drops)
    ]


def _grey(level: int, rng: random.Random) -> Drill:
    solid = rng.choice([k for k in range(2, 13) if level > 2 or k != _AIM_STEP])
    time = rng.uniform(6, 60)
    right = time * _SHADES_A_STEP ** (_AIM_STEP - solid)
    # What goes away gradually beyond the last solid step is longer at higher levels.
    fades = 1 + level // 2
    shapes: list[Shape] = []
    for step in range(1, 15):
        x = 20 + 46 * (step - 1)
        shapes.append(Box(x, 40, 40, 90, Tone.SOFT, outline=True))
        if step <= solid:
            shapes.append(Box(x, 40, 40, 90, Tone.COAT))
        elif step <= solid + fades:
            stripes = 5 - round(4 * (step - solid) / (fades + 1))
            shapes += [
                Box(x, 42 + 18 * s, 40, 5 + 6 * (1 - (step - solid) / (fades + 1)), Tone.PALE) for s in range(stripes)
            ]
        shapes.append(Words(x + 20, 150, f"{step}", Tone.SOFT, size=12))
    scene = Scene(
        680, 170, tuple(shapes), "A washed grey scale of 14 steps, each letting through less light than the last"
    )
    move = "keep" if solid == _AIM_STEP else "longer" if solid < _AIM_STEP else "shorter"
    return Drill(
        f"A grey scale lay on the screen for {show_seconds(round(time, 1))}. The shop aims at a solid step {_AIM_STEP}.",
        (
            Question("solid", "The last step that is wholly solid", Asks.NUMBER, float(solid), tolerance=0.4),
            Question("move", "So the time is to be", Asks.ONE, move, _MOVES),
            Question("time", "The time to take", Asks.NUMBER, right, unit="s", tolerance=0.12, relative=True),
        ),
        f"Step {solid} is the last without a gap. Each step passes 1/√2 of the light of the one before it; "
        f"from {solid} to {_AIM_STEP} the time is {_SHADES_A_STEP ** (_AIM_STEP - solid):.2f} × as long: "
        f"{show_seconds(round(time, 1))} becomes {show_seconds(round(right, 1))}.",
        scene,
        scene.with_more(
            Stroke(20 + 46 * (solid - 1) - 3, 34, 20 + 46 * (solid - 1) + 43, 34, Tone.RIGHT, 4),
            Words(20 + 46 * (solid - 1) + 20, 26, "last solid", Tone.RIGHT, size=13),
        ),
    )
