"""Placing a film on a screen: inside its margins, off what would print."""

import math
import random

from frimble.core.conclusions import Settings
from frimble.core.training.drill import Asks, Drill, Question
from frimble.core.training.scene import Box, Scene, Shape, Tone, Words

_FRAME = (580.0, 790.0)
_SCALE, _NAMES = 0.38, "ABCD"
_MM = 10.0


def make(level: int, rng: random.Random, settings: Settings) -> Drill:
    profile, side = settings["placement.profile_mm"], settings["placement.side_margin_mm"]
    ends = settings["placement.ink_margin_mm"]
    area = (profile + side, ends, _FRAME[0] - profile - side, _FRAME[1] - ends)
    image = (rng.uniform(150, 230), rng.uniform(160, 250))
    ghost = _box_in(area, (rng.uniform(50, 110), rng.uniform(50, 110)), rng)
    # The harder, the less a wrong place is wrong.
    slip = 60.0 - level * 9
    wrong = [_over_edge(area, image, slip, rng), _over_end(area, image, slip, rng), _on(ghost, image, slip)]
    right = _free(area, image, ghost, rng)
    places = [right, *wrong]
    order = list(range(4))
    rng.shuffle(order)
    named = {_NAMES[k]: places[i] for k, i in enumerate(order)}
    answer = next(name for name, place in named.items() if place is right)
    # Coordinates are shown, so that nobody measures off a screen.
    scene = _scene(area, ghost, named, image)
    x, y = right
    return Drill(
        f"A film of {image[0]:.0f} × {image[1]:.0f} mm goes on a screen of {_FRAME[0]:.0f} × "
        f"{_FRAME[1]:.0f} mm with a ghost that "
        f"prints. Squeegee and ink want {side:.0f} mm inside the bars of {profile:.0f} mm at the "
        f"sides and {ends:.0f} mm from "
        "the outer ends.",
        (
            Question(
                "place",
                "Where it goes",
                Asks.ONE,
                answer,
                tuple((name, f"{name}: its corner at {px:.0f}, {py:.0f} mm") for name, (px, py) in named.items()),
            ),
        ),
        f"{answer} lies inside the margins and off the ghost. The others reach into the room of "
        "squeegee or ink, or lie on the "
        "ghost, which would print through.",
        scene,
        scene.with_more(Box(x * _SCALE, y * _SCALE, image[0] * _SCALE, image[1] * _SCALE, Tone.RIGHT, outline=True)),
    )


Place = tuple[float, float]
Area = tuple[float, float, float, float]


def _scene(area: Area, ghost: tuple[float, float, float, float], named: dict[str, Place], image: Place) -> Scene:
    s = _SCALE
    ghost_word = Words((ghost[0] + ghost[2] / 2) * s, (ghost[1] + ghost[3] / 2) * s, "ghost", Tone.INK, size=12)
    shapes: list[Shape] = [
        Box(0, 0, _FRAME[0] * s, _FRAME[1] * s, Tone.PAPER),
        Box(0, 0, _FRAME[0] * s, _FRAME[1] * s, Tone.INK, outline=True),
        Box(area[0] * s, area[1] * s, (area[2] - area[0]) * s, (area[3] - area[1]) * s, Tone.SOFT, outline=True),
        Box(ghost[0] * s, ghost[1] * s, ghost[2] * s, ghost[3] * s, Tone.PALE),
        ghost_word,
    ]
    words = [ghost_word]
    for name, (x, y) in named.items():
        box = Box(x * s, y * s, image[0] * s, image[1] * s, Tone.COAT, outline=True)
        words.append(_in_a_corner(name, box, words))
        shapes += [box, words[-1]]
    return Scene(
        _FRAME[0] * s, _FRAME[1] * s, tuple(shapes), "A frame with its margins, a ghost and four places for the film"
    )


def _in_a_corner(name: str, box: Box, others: list[Words]) -> Words:
    """A place's letter in the corner that is farthest from all other words: places may lie on each other."""
    corners = [(box.x + across, box.y + down) for down in (18, box.high - 6) for across in (12, box.wide - 12)]
    inside = [(x, y) for x, y in corners if 8 < x < _FRAME[0] * _SCALE - 8 and 18 <= y < _FRAME[1] * _SCALE]
    x, y = max(inside, key=lambda at: min(math.dist(at, (other.x, other.y)) for other in others))
    return Words(x, y, name, Tone.INK, size=16)


def _box_in(area: Area, size: Place, rng: random.Random) -> tuple[float, float, float, float]:
    x = rng.uniform(area[0] + 20, area[2] - size[0] - 20)
    y = rng.uniform(area[1] + 20, area[3] - size[1] - 20)
    return x, y, *size


def _over_edge(area: Area, image: Place, slip: float, rng: random.Random) -> Place:
    x = area[0] - slip if rng.random() < 0.5 else area[2] - image[0] + slip
    return x, rng.uniform(area[1], area[3] - image[1])


def _over_end(area: Area, image: Place, slip: float, rng: random.Random) -> Place:
    y = area[1] - slip if rng.random() < 0.5 else area[3] - image[1] + slip
    return rng.uniform(area[0], area[2] - image[0]), y


def _on(ghost: tuple[float, float, float, float], image: Place, slip: float) -> Place:
    """Over the ghost's corner by so much."""
    return ghost[0] + ghost[2] - slip, ghost[1] + ghost[3] - slip


def _free(area: Area, image: Place, ghost: tuple[float, float, float, float], rng: random.Random) -> Place:
    """Inside the area and off the ghost; in the emptiest corner where chance finds none."""
    for _ in range(400):
        x, y = rng.uniform(area[0], area[2] - image[0]), rng.uniform(area[1], area[3] - image[1])
        apart = (
            x + image[0] + _MM < ghost[0]
            or x > ghost[0] + ghost[2] + _MM
            or y + image[1] + _MM < ghost[1]
            or y > ghost[1] + ghost[3] + _MM
        )
        if apart:
            return x, y
    return area[0], area[1] if ghost[1] > (area[1] + area[3]) / 2 else area[3] - image[1]
