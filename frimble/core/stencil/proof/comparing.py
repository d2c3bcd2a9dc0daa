"""How far proofs are to be trusted: openings said to close against those that a photo of the stencil shows closed."""

from collections.abc import Sequence
from dataclasses import dataclass

from frimble.core.statistics.interval import Interval
from frimble.core.statistics.proportion import proportion

# A photo tells a place so well, mm.
_NEAR_MM = 1.0

Box = tuple[float, float, float, float]


@dataclass(frozen=True)
class Held:
    """A proof against a photo: places it said would close, those of them that the photo shows closed, and others closed."""

    said: int
    came: int
    unsaid: int


@dataclass(frozen=True)
class Trust:
    """Over all comparisons: the share of what was said that came true, and of what came that was said; None without any."""

    said_came: Interval | None
    came_said: Interval | None
    number: int


def compare(said: Sequence[Box], closed: Sequence[Box]) -> Held:
    """Places of one stencil, mm of the film: x, y, width, height."""
    came = [box for box in said if any(_meet(box, other) for other in closed)]
    unsaid = [other for other in closed if not any(_meet(box, other) for box in said)]
    return Held(len(said), len(came), len(unsaid))


def _meet(one: Box, other: Box) -> bool:
    return all(
        one[k] - _NEAR_MM < other[k] + other[k + 2] and other[k] - _NEAR_MM < one[k] + one[k + 2] for k in (0, 1)
    )


def trust(compared: Sequence[Held]) -> Trust:
    said, came = sum(h.said for h in compared), sum(h.came for h in compared)
    closed = came + sum(h.unsaid for h in compared)
    return Trust(proportion(came, said) if said else None, proportion(came, closed) if closed else None, len(compared))
