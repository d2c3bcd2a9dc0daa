"""Work that was refused, with the money it stood for."""

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum


class Refusal(StrEnum):
    """Why work was not taken."""

    OVERSIZE = "oversize"
    TOO_FINE = "too_fine"
    NO_TIME = "no_time"
    NO_MATERIAL = "no_material"
    OTHER = "other"


REFUSAL_WORDS = {
    Refusal.OVERSIZE: "larger than any frame here",
    Refusal.TOO_FINE: "finer than film, mesh or coat here hold",
    Refusal.NO_TIME: "no time before its day",
    Refusal.NO_MATERIAL: "no ink, mesh or emulsion for it",
    Refusal.OTHER: "another reason",
}


@dataclass(frozen=True)
class Refused:
    """One piece of work: why, what it would have brought, None where nobody knows, and the size of its image, mm."""

    reason: Refusal
    money: float | None = None
    size_mm: tuple[float, float] | None = None


@dataclass(frozen=True)
class RefusedSum:
    """All work refused for one reason: how many, the money of those that have it, and how many have none.

    `would_take` is the image that a frame has to take so that none of them were refused for their size.
    """

    reason: Refusal
    number: int
    money: float
    without_money: int
    would_take: tuple[float, float] | None


def by_reason(refused: Iterable[Refused]) -> list[RefusedSum]:
    """Sums by reason, the dearest first."""
    groups: dict[Refusal, list[Refused]] = defaultdict(list)
    for one in refused:
        groups[one.reason].append(one)
    return sorted((_sum(reason, own) for reason, own in groups.items()), key=lambda s: (-s.money, -s.number, s.reason))


def _sum(reason: Refusal, own: list[Refused]) -> RefusedSum:
    money = [one.money for one in own if one.money is not None]
    sizes = [sorted(one.size_mm) for one in own if one.size_mm is not None]
    largest = None
    if sizes and reason is Refusal.OVERSIZE:
        # A frame may be turned: the shorter sides against the shorter, the longer against the longer.
        largest = (max(short for short, _ in sizes), max(long for _, long in sizes))
    return RefusedSum(reason, len(own), sum(money), len(own) - len(money), largest)
