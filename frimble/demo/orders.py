"""The made-up shop's past orders: which screens went to press together, for which design, and when it came again."""

import random
from collections.abc import Hashable, Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

# Screens of one order go to press within so long; a design is ordered again after so long at the earliest.
_TOGETHER, _AGAIN = timedelta(days=2.5), timedelta(days=75)
_BIRDS = ("Heron", "Curlew", "Avocet", "Dunlin", "Redshank", "Tern", "Eider", "Plover", "Teal", "Wigeon")
# product, what it asks for, colours, coarsest and finest mesh per cm that serve it
_PRODUCTS = (
    ("pennants", "3 colours, heavy white on sailcloth", 3, 30, 90), ("burgees", "2 colours on bunting", 2, 40, 100),
    ("tea towels", "simulated process, 45 lines per inch", 4, 70, 140), ("jerseys", "5 colours on knit", 5, 40, 140),
    ("clock faces", "fine lines on enamelled tin", 1, 100, 140), ("kit bags", "2 colours on canvas", 2, 10, 65),
)  # fmt: skip


@dataclass(frozen=True)
class Design:
    """What is printed again and again: its colours are its screens."""

    name: str
    what: str
    colours: int
    coarsest_per_cm: float
    finest_per_cm: float


@dataclass(frozen=True)
class Visit:
    """A screen that goes to press; `key` is its owner's."""

    key: Hashable
    screen: str
    at: datetime
    count_per_cm: float


@dataclass(frozen=True)
class Order:
    design: Design
    visits: tuple[Visit, ...]


# Of the shop's open jobs: they are about to be printed again.
_OPEN = (
    Design("Lugger Week pennants", "3 colours, heavy white on navy sailcloth", 3, 30, 90),
    Design("Tide clock faces", "fine lines on enamelled tin", 1, 100, 140),
    Design("Eelgrass tea towels", "simulated process, 45 lines per inch", 4, 70, 140),
    Design("Deck chevrons", "one heavy coat", 1, 30, 45),
    Design("Oyster sacks", "coarse, one stamp", 1, 5, 35),
)
_OTHERS = tuple(Design(f"{bird} {product}", *rest) for product, *rest in _PRODUCTS for bird in _BIRDS)


def past_orders(visits: Sequence[Visit], seed: int) -> Iterator[Order]:
    """The orders that these visits were, in the order of time; every visit belongs to one.

    Each has as many screens as its design has colours, all of different frames and at press within days of each other; a
    design comes again months later, those that are open now among them.
    """
    rng, left = random.Random(seed), sorted(visits, key=lambda visit: visit.at)
    last: dict[str, datetime] = {}
    end, samples = left[-1].at if left else None, 0
    while left:
        first = left[0]
        near = _near(left)
        known = _OTHERS if end - first.at < _AGAIN else _OPEN + _OTHERS
        free = [d for d in known if d.name not in last or first.at - last[d.name] >= _AGAIN]
        fitting = [(d, taken) for d in free if (taken := _screens_for(d, first, near))]
        if fitting:
            design, taken = rng.choice(fitting)
        else:
            samples += 1
            design, taken = Design(f"Sample print {samples}", "one colour, once", 1, 5, 140), (first,)
        last[design.name] = taken[-1].at
        keys = {visit.key for visit in taken}
        left = [visit for visit in left if visit.key not in keys]
        yield Order(design, taken)


def _near(left: Sequence[Visit]) -> list[Visit]:
    """Those that go to press with the first, one of each frame."""
    frames: dict[str, Visit] = {}
    for visit in left:
        if visit.at - left[0].at > _TOGETHER:
            break
        frames.setdefault(visit.screen, visit)
    return list(frames.values())


def _screens_for(design: Design, first: Visit, near: Sequence[Visit]) -> tuple[Visit, ...]:
    """As many as it has colours, the first among them; none where too few serve it."""
    serve = [v for v in near if design.coarsest_per_cm <= v.count_per_cm <= design.finest_per_cm]
    if first not in serve or len(serve) < design.colours:
        return ()
    return tuple(serve[: design.colours])
