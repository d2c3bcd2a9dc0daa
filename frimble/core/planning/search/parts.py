"""The search for a day's plan: a plan at once, then better ones until the time is over."""

import random
import threading
import time
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import partial

from frimble.core.planning.day import Day
from frimble.core.planning.dayplan import Cost, Task, cost, ends_of
from frimble.core.planning.rules import broken_rules
from frimble.core.planning.search.apart import reinserted_apart
from frimble.core.planning.search.model import PartModel
from frimble.core.planning.search.occupied import Room
from frimble.core.planning.standing import FREE, Standing

_THREADS = 2
# Two searches go their own ways in this share of the time.
_APART_SHARE = 0.5
# In this share of the time screens are taken out and put in again; then parts are solved.
_REINSERT_SHARE = 0.25
_FEW = 7
# Parts are solved in longer time where nothing has got better for so many of them.
_STUCK, _LONGER, _LONGEST_S, _LEAST_S = 25, 1.5, 1.5, 0.05
# How many screens are free grows where the best was proven, and shrinks where not.
_GROW, _SHRINK = 1.03, 0.9
_FEWEST, _MOST = 2, 40


@dataclass(frozen=True)
class _Kind:
    """A kind of part: few screens that may go anywhere, or many whose steps stay near their places.

    Attributes:
        share: of all parts. screens: free at first. window: minutes that a step may move, None for anywhere.
        seconds: to solve it in. adapts: the number of screens follows what can be proven.
    """

    share: float
    screens: float
    window: int | None
    seconds: float
    adapts: bool = True


_KINDS = (_Kind(0.5, _FEW, None, 0.3), _Kind(0.46, 12, 60, 0.4), _Kind(0.04, 20, 25, 0.8, adapts=False))
# A part is chosen around a screen that is late in this share, anywhere in the rest.
_LATE_SHARE = 0.6
_ANYWHERE_SHARE = 0.15
_BLUR_MIN = 20
_LEFT_OUT_SHARE = 0.8


Done = Callable[[Cost], bool]


class Search:
    """The best plan known of a day, and the search for a better one.

    Attributes:
        tasks, cost: of the best plan so far, with what it costs to move an earlier one. optimal: none is better, proven.
    """

    def __init__(self, room: Room, tasks: Sequence[Task], done: Done, seed: int, standing: Standing) -> None:
        self.room = room
        self.tasks = list(tasks)
        self._standing = standing
        self.cost = self._cost(tasks)
        self.optimal = False
        moved = set(standing.moved(tasks))
        self._pinned = {code for code in standing.frozen if code in standing.tasks and code not in moved}
        self._done = done
        self._seed = seed
        self._lock = threading.Lock()
        self._last_better = 0
        self._parts = 0

    @property
    def over(self) -> bool:
        """There is nothing to gain any more."""
        return self.optimal or self._done(self.cost)

    def reinsert(self, ends_at: float) -> None:
        """Take screens out and put them in again."""
        # Few screens are solved as one part; and where they are put says nothing of where an earlier plan stands.
        worth_it = len(self.room.day.screens) > _FEW and not self._standing.tasks
        if worth_it and not self.over and ends_at > time.monotonic():
            self._take(reinserted_apart(self.room, self.tasks, self._seed, ends_at))

    def parts(self, ends_at: float, thread: int = 0) -> None:
        """Solve part after part of the plan until the time is over or the plan is as good as can be."""
        rng = random.Random(self._seed * _THREADS + thread)
        number = {kind: kind.screens for kind in _KINDS}
        while (left := ends_at - time.monotonic()) > _LEAST_S and not self.over:
            (kind,) = rng.choices(_KINDS, [k.share for k in _KINDS])
            with self._lock:
                tasks = self.tasks
                stuck = (self._parts - self._last_better) // _STUCK
                self._parts += 1
            free = set(_part(self.room.day, tasks, round(number[kind]), rng)) - self._pinned
            seconds = min(kind.seconds * _LONGER**stuck, _LONGEST_S, left)
            model = PartModel(self.room, tasks, free, kind.window, self._standing)
            found = model.solve(seconds, rng.randrange(1 << 30))
            proven = found is not None and found[1]
            if kind.adapts:
                number[kind] = min(max(number[kind] * (_GROW if proven else _SHRINK), _FEWEST), _MOST)
            if found is not None:
                self._replace(free, found[0], tasks)
            everything = kind.window is None and len(free) == len(self.room.day.screens)
            if proven and everything and self.room.day.weights_exact:
                self.optimal = True

    def _replace(self, free: set[str], found: list[Task], before: list[Task]) -> None:
        with self._lock:
            others = [t for t in self.tasks if t.screen not in free]
            # Another thread may have moved the others meanwhile.
            if self.tasks is before or not broken_rules(self.room.day, [*others, *found]):
                self._take([*others, *found])

    def _take(self, tasks: list[Task]) -> None:
        """The new plan in place of the old one, where it is as good; as good a one leads on to others."""
        found = self._cost(tasks)
        if self.cost < found:
            return
        if found < self.cost:
            self._last_better = self._parts
        self.tasks, self.cost = list(tasks), found

    def _cost(self, tasks: Sequence[Task]) -> Cost:
        plain = cost(self.room.day, ends_of(tasks))
        return Cost(plain.late + self._standing.price(tasks), plain.sum_of_ends)


def search(
    room: Room, tasks: Sequence[Task], done: Done, ends_at: float, seed: int, standing: Standing = FREE
) -> Search:
    """The best plan found until a moment: two searches apart, for plans unlike each other, then both on the better one.

    Args:
        tasks: a plan to begin with. done: whether a plan of this cost cannot get better.
        ends_at: as `time.monotonic` counts. standing: an earlier plan, whose frozen screens stay as they are in `tasks`.
    """
    begun = time.monotonic()
    apart_until = begun + (ends_at - begun) * _APART_SHARE
    reinsert_until = begun + (ends_at - begun) * _REINSERT_SHARE
    apart = [Search(room, tasks, done, seed * _THREADS + k, standing) for k in range(_THREADS)]

    def alone(one: Search) -> None:
        one.reinsert(reinsert_until)
        one.parts(apart_until)

    _together([partial(alone, one) for one in apart])
    best = min(apart, key=lambda one: one.cost)
    _together([partial(best.parts, ends_at, k) for k in range(_THREADS)])
    return best


def _together(tasks: Sequence[Callable[[], None]]) -> None:
    """Each in a thread of its own, until all have ended; what one raises is raised."""
    with ThreadPoolExecutor(_THREADS) as pool:
        for future in [pool.submit(task) for task in tasks]:
            future.result()


def _part(day: Day, tasks: Sequence[Task], number: int, rng: random.Random) -> list[str]:
    """Screens whose places depend on one another: those with work near one moment, or any."""
    codes = [screen.code for screen in day.screens]
    if number >= len(codes):
        return codes
    if rng.random() < _ANYWHERE_SHARE:
        return rng.sample(codes, number)
    ends = ends_of(tasks)
    late = [s.code for s in day.screens if s.weight * s.minutes_late(ends.get(s.code, day.left_out_end)) > 0]
    around = rng.choice(late if late and rng.random() < _LATE_SHARE else codes)
    own = [task.start for task in tasks if task.screen == around]
    moment = rng.choice(own) if own else rng.randrange(day.end)
    near: dict[str, float] = {}
    left_out = [code for code in codes if code not in ends and code != around]
    if left_out and rng.random() < _LEFT_OUT_SHARE:
        # What is left out competes with what is planned, wherever that stands.
        near = dict.fromkeys(rng.sample(left_out, min(2, len(left_out))), -1.0)
    for task in tasks:
        if task.person is not None and task.screen != around:
            apart = abs(task.start - moment) + rng.random() * _BLUR_MIN
            near[task.screen] = min(apart, near.get(task.screen, apart))
    return [around, *sorted(near, key=near.__getitem__)[: number - 1]]
