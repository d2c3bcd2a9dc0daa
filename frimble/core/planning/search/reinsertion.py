"""A few screens taken out of a plan and put in again in another order, over and over: much is tried, nothing is proven."""

import math
import random
from collections.abc import Callable, Iterable, Iterator, Sequence

from frimble.core.planning.dayplan import Task
from frimble.core.planning.search.occupied import Room, Spot, occupied, spot_of, tasks_of

# One minute late counts as much as so many minutes in the sum of ends.
_LATE_COUNTS = 1000
# A plan that is worse by this share of the cost is taken at first, and hardly any at the end.
_WARM, _COLD = 0.006, 0.00002
# At most so many screens are taken out at once.
_MOST = 9
# They are chosen around one that is late in this share, and anywhere in that.
_LATE_SHARE, _ANYWHERE_SHARE = 0.5, 0.15
# What is left out is among them in this share; minutes by which chance blurs what is near.
_LEFT_OUT_SHARE, _BLUR_MIN, _DUE_BLUR_MIN = 0.2, 40, 120

Key = Callable[[int], float]


class Arrangement:
    """Where the steps of every screen stand, what they take, and what it costs.

    Attributes:
        spots: of each screen by its number, None where it is left out. costs: of each. total: their sum.
    """

    def __init__(self, room: Room, tasks: Iterable[Task] = ()) -> None:
        self.room = room
        in_order = sorted(tasks, key=lambda task: task.step)
        self.taken = occupied(room, in_order)
        self.spots: list[Sequence[Spot] | None] = [None] * len(room.day.screens)
        self.costs = [self._cost(number) for number in range(len(self.spots))]
        self.total = sum(self.costs)
        numbers = {screen.code: k for k, screen in enumerate(room.day.screens)}
        of_screen: dict[int, list[Spot]] = {}
        for task in in_order:
            of_screen.setdefault(numbers[task.screen], []).append(spot_of(room, task))
        for number, spots in of_screen.items():
            self._set(number, spots)

    def without(self, numbers: Iterable[int]) -> "Arrangement":
        """Another one, in which these screens are left out."""
        other = Arrangement.__new__(Arrangement)
        other.room, other.taken, other.total = self.room, self.taken.copy(), self.total
        other.spots, other.costs = self.spots[:], self.costs[:]
        for number in numbers:
            for work, spot in zip(self.room.work[number], self.spots[number] or (), strict=False):
                other.taken.give_back(work, spot)
            other._set(number, None)
        return other

    def put(self, number: int) -> None:
        """A screen that is left out, where it fits first."""
        self._set(number, self.taken.put(number))

    def tasks(self) -> list[Task]:
        put = [(screen, own) for screen, own in zip(self.room.day.screens, self.spots, strict=True) if own]
        return [task for screen, own in put for task in tasks_of(self.room, screen, own)]

    def _set(self, number: int, spots: Sequence[Spot] | None) -> None:
        self.spots[number] = spots
        self.total -= self.costs[number]
        self.costs[number] = self._cost(number)
        self.total += self.costs[number]

    def _cost(self, number: int) -> float:
        screen, spots = self.room.day.screens[number], self.spots[number]
        end = spots[-1].start + screen.steps[-1].minutes if spots else self.room.day.left_out_end
        return screen.weight * screen.minutes_late(end) * _LATE_COUNTS + end


def reinserted(room: Room, tasks: Sequence[Task], rng: random.Random, share_done: Iterator[float]) -> list[Task]:
    """The best plan found from this one; worse ones are gone on from too, fewer and fewer.

    Args:
        share_done: how much of the search's time is over, 0..1; it ends the search.

    Source: ruin and recreate, Schrimpf, Schneider, Stamm-Wilbrandt and Dueck, J. Comp. Phys. 159 (2000), with simulated
    annealing, Kirkpatrick, Gelatt and Vecchi, Science 220 (1983).
    """
    best = now = Arrangement(room, tasks)
    movable = [k for k, screen in enumerate(room.day.screens) if not screen.running]
    if not movable:
        return best.tasks()
    keys = _keys(room, rng)
    for share in share_done:
        heat = _WARM * max(best.total, 1) * (_COLD / _WARM) ** share
        most = now.total - heat * math.log(1 - rng.random())
        out = _near_one(now, movable, rng.randint(1, _MOST), rng)
        out.sort(key=rng.choice(keys))
        other = now.without(out)
        if _put_again(other, out, most):
            now = other
            if now.total < best.total:
                best = now
    return best.tasks()


def _put_again(arrangement: Arrangement, numbers: Sequence[int], most: float) -> bool:
    """All of them in their order, or False as soon as that costs too much."""
    # Each counts as left out until it is put.
    out = sum(arrangement.costs[number] for number in numbers)
    for number in numbers:
        out -= arrangement.costs[number]
        arrangement.put(number)
        if arrangement.total - out > most:
            return False
    return True


def _keys(room: Room, rng: random.Random) -> Sequence[Key]:
    """Orders in which screens are put in again, each with some chance in it."""
    screens = room.day.screens
    never = room.day.left_out_end
    dues = [never if screen.due is None else screen.due for screen in screens]
    work = [sum(step.minutes for step in screen.steps) / max(screen.weight, 0.01) for screen in screens]

    def by_chance(number: int) -> float:
        return rng.random()

    def by_due_time(number: int) -> float:
        return dues[number] + rng.random() * _DUE_BLUR_MIN

    def by_weight(number: int) -> float:
        return work[number] * (0.5 + rng.random())

    return by_chance, by_chance, by_due_time, by_due_time, by_weight


def _near_one(now: Arrangement, movable: Sequence[int], number: int, rng: random.Random) -> list[int]:
    """Screens whose places depend on one another: those with work near one moment, or any."""
    late = [k for k in movable if now.costs[k] > 2 * _LATE_COUNTS]
    around = rng.choice(late if late and rng.random() < _LATE_SHARE else movable)
    if rng.random() < _ANYWHERE_SHARE:
        return list({around, *rng.sample(movable, min(number, len(movable)))})
    own = now.spots[around]
    moment = rng.choice(own).start if own else rng.randrange(now.room.day.end)
    near = []
    for other in movable:
        spots = now.spots[other]
        if other == around:
            continue
        if spots is not None:
            apart = min([abs(spot.start - moment) for spot in spots])
            near.append((apart + rng.random() * _BLUR_MIN, other))
        elif rng.random() < _LEFT_OUT_SHARE:
            near.append((-1.0, other))
    near.sort()
    return [around, *(other for _, other in near[: number - 1])]
