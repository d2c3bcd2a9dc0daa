"""A plan at once: screens one after the other, each put where it fits first, and a search for a better order."""

import math
import random
from collections.abc import Callable, Iterable, Iterator, Sequence

from frimble.core.planning.day import ScreenWork
from frimble.core.planning.dayplan import Task, cost, ends_of
from frimble.core.planning.search.occupied import Occupied, Room, occupied, tasks_of

Rule = Callable[[ScreenWork], tuple[float, ...]]

_NEVER = float("inf")
# One minute late counts as much as so many minutes in the sum of ends while an order is looked for.
_LATE_COUNTS = 1000
# The search takes an order that is worse by this share of the cost at its start, and hardly any at its end.
_WARM, _COLD = 0.006, 0.00002
# How often a screen goes anywhere instead of near by, and how often two are exchanged instead of one moved.
_FAR, _EXCHANGE = 0.5, 0.5
_NEAR = (-3, -2, -1, 1, 2, 3)


def by_due_time(screen: ScreenWork) -> tuple[float, ...]:
    """What is due first goes first."""
    return (_NEVER if screen.due is None else screen.due, _work(screen))


def by_slack(screen: ScreenWork) -> tuple[float, ...]:
    """What has the least time to spare goes first."""
    return (_NEVER if screen.due is None else screen.due - screen.ready - _work(screen), _work(screen))


def by_weight(screen: ScreenWork) -> tuple[float, ...]:
    """What is dear to be late with and short goes first."""
    return (_work(screen) / max(screen.weight, 0.01), by_due_time(screen)[0])


def by_work(screen: ScreenWork) -> tuple[float, ...]:
    """What is short goes first."""
    return (_work(screen), by_due_time(screen)[0])


RULES: tuple[Rule, ...] = (by_due_time, by_slack, by_weight, by_work)


def _work(screen: ScreenWork) -> int:
    return sum(step.minutes for step in screen.steps)


def dispatched(room: Room, rule: Rule) -> list[Task]:
    """The plan in which screens go in a rule's order, those under way before all others."""
    return _plan(room, _ordered(room, rule))


def best_dispatched(room: Room) -> list[Task]:
    """The best plan that one of the rules makes."""
    return min((dispatched(room, rule) for rule in RULES), key=lambda tasks: cost(room.day, ends_of(tasks)))


def around(room: Room, tasks: Sequence[Task], rule: Rule) -> list[Task]:
    """The plan that keeps these tasks and puts all other screens around them in a rule's order."""
    taken = occupied(room, tasks)
    there = {task.screen for task in tasks}
    result = list(tasks)
    for number in _ordered(room, rule):
        screen = room.day.screens[number]
        if screen.code not in there and (spots := taken.put(number)):
            result += tasks_of(room, screen, spots)
    return result


def _ordered(room: Room, rule: Rule) -> list[int]:
    screens = room.day.screens
    return sorted(range(len(screens)), key=lambda k: (not screens[k].running, rule(screens[k])))


def _plan(room: Room, order: Iterable[int]) -> list[Task]:
    taken = Occupied(room)
    tasks: list[Task] = []
    for number in order:
        spots = taken.put(number)
        if spots is not None:
            tasks += tasks_of(room, room.day.screens[number], spots)
    return tasks


def annealed(room: Room, rng: random.Random, share_done: Iterator[float]) -> list[Task]:
    """The best plan found while screens change places in the order; worse orders are taken too, fewer and fewer.

    Args:
        share_done: how much of the search's time is over, 0..1; it ends the search.

    Source: simulated annealing, Kirkpatrick, Gelatt and Vecchi, Science 220 (1983).
    """
    best = min((_Order(room, _ordered(room, rule)) for rule in RULES), key=lambda order: order.total)
    order = best
    movable = sum(not screen.running for screen in room.day.screens)
    if movable < 2:
        return _plan(room, best.numbers)
    warm = _WARM * max(best.total, 1)
    for share in share_done:
        heat = warm * (_COLD / _WARM) ** share
        found = order.changed(rng, order.total - heat * math.log(1 - rng.random()))
        if found is not None:
            order = found
            if order.total < best.total:
                best = order
    return _plan(room, best.numbers)


class _Order:
    """An order of screens with what is taken, and what it costs, before each of them.

    Attributes:
        numbers: of the screens, in their order. total: cost of the plan that the order makes.
    """

    def __init__(self, room: Room, numbers: Sequence[int]) -> None:
        self.room = room
        self.numbers = numbers
        self._first_movable = sum(screen.running for screen in room.day.screens)
        self._taken: list[Occupied] = []
        self._costs: list[float] = []
        self.total = 0.0
        self._go_on(Occupied(room), _NEVER)

    def changed(self, rng: random.Random, most: float) -> "_Order | None":
        """One screen moved or two exchanged; None where nothing changes or that costs more than `most`."""
        length = len(self.numbers)
        i = rng.randrange(self._first_movable, length)
        far = rng.random() < _FAR
        j = rng.randrange(self._first_movable, length) if far else i + rng.choice(_NEAR)
        j = max(self._first_movable, min(length - 1, j))
        if i == j:
            return None
        numbers = list(self.numbers)
        if rng.random() < _EXCHANGE:
            numbers[i], numbers[j] = numbers[j], numbers[i]
        else:
            numbers.insert(j, numbers.pop(i))
        return self._from(min(i, j), numbers, most)

    def _from(self, same: int, numbers: list[int], most: float) -> "_Order | None":
        """The order that is as this one up to a place; what stands before that place is not put again."""
        other = _Order.__new__(_Order)
        other.room, other.numbers, other._first_movable = self.room, numbers, self._first_movable
        other._taken, other._costs = self._taken[:same], self._costs[:same]
        other.total = self._costs[same]
        return other if other._go_on(self._taken[same].copy(), most) else None

    def _go_on(self, taken: Occupied, most: float) -> bool:
        screens, end = self.room.day.screens, self.room.day.left_out_end
        for number in self.numbers[len(self._taken) :]:
            self._taken.append(taken.copy())
            self._costs.append(self.total)
            spots = taken.put(number)
            ended = spots[-1].start + screens[number].steps[-1].minutes if spots else end
            self.total += screens[number].weight * screens[number].minutes_late(ended) * _LATE_COUNTS + ended
            if self.total > most:
                return False
        return True
