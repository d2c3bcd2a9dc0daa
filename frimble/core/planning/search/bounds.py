"""What no plan can be better than, from the work and the hours alone."""

import math
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.optimize import linprog
from scipy.sparse import csr_matrix, vstack

from frimble.core.planning.day import Day
from frimble.core.planning.search.occupied import Occupied, Room

Array = npt.NDArray[np.float64]

# Ends are told apart by so many moments of the day; fewer are quicker and still a bound.
MOMENTS, FEW_MOMENTS = 48, 12
# What a linear programme's answer may be off by.
_TOLERANCE = 1e-6


@dataclass(frozen=True)
class _Resource:
    """Something that a day has only so many minutes of.

    Attributes:
        work: (screen, minutes, minutes from the step's end to the screen's). hours: (start, end, how many at once).
    """

    work: list[tuple[int, float, int]]
    hours: list[tuple[int, int, int]]

    def there(self, moment: int) -> int:
        """Its minutes up to a moment."""
        return sum(number * max(0, min(moment, end) - start) for start, end, number in self.hours)


class Bounds:
    """Lower bounds of a day's cost: a linear programme in which work is divisible and people change at will.

    Every screen ends in one of the day's intervals, or is left out. Up to any moment no more of a workstation's
    and of people's minutes are worked than there are. Nothing that a real plan does is forbidden, so that no plan
    costs less.

    Source: time-indexed relaxations of machine scheduling, Dyer and Wolsey, Discrete Applied Mathematics 26 (1990).
    """

    def __init__(self, room: Room, moments: int = MOMENTS) -> None:
        self._day = day = room.day
        self._grid = math.ceil(day.horizon / moments)
        columns = [(k, end) for k in range(len(day.screens)) for end in self._ends(room, k)]
        self._screen = np.array([k for k, _ in columns])
        self._end = np.array([end for _, end in columns], dtype=float)
        late = [day.screens[k].weight * day.screens[k].minutes_late(end) for k, end in columns]
        self._late = np.array(late, dtype=float)
        self._limits, self._most = self._capacity(_resources(day))
        once = self._screen[None, :] == np.arange(len(day.screens))[:, None]
        self._once = csr_matrix(once.astype(float))

    def _ends(self, room: Room, k: int) -> Iterator[int]:
        """The first minute of every interval in which a screen can end, and when it counts as ended if left out."""
        spots = Occupied(room).put(k)
        if spots:
            earliest = spots[-1].start + self._day.screens[k].steps[-1].minutes
            yield from range(earliest, room.latest[k] + 1, self._grid)
        if not spots or not self._day.screens[k].running:
            yield self._day.left_out_end

    def late(self) -> float:
        """No plan has less weighted minutes late than this."""
        least = self._least(self._late, self._limits, self._most)
        slack = _TOLERANCE * (1 + least)
        return max(0.0, float(math.ceil(least - slack)) if self._day.weight_unit == 1 else least - slack)

    def sum_of_ends(self, late: float) -> int:
        """No plan as little late as this has a smaller sum of ends."""
        limits = vstack([self._limits, csr_matrix(self._late)])
        least = self._least(self._end, limits, [*self._most, late + _TOLERANCE * (1 + late)])
        return math.ceil(least - _TOLERANCE * (1 + least))

    def _least(self, costs: Array, limits: csr_matrix, most: list[float]) -> float:
        each = np.ones(len(self._day.screens))
        answer = linprog(costs, limits if most else None, most or None, self._once, each, method="highs")
        if answer.status == 0:
            return float(answer.fun)
        # Without an answer, what each screen costs at least by itself is still a bound.
        return sum(float(costs[self._screen == k].min()) for k in range(len(self._day.screens)))

    def _capacity(self, resources: list[_Resource]) -> tuple[csr_matrix, list[float]]:
        """Rows of minutes surely worked up to a moment, where they can be more than there are."""
        planned = self._end < self._day.left_out_end
        # By an interval's last minute, and by the last at which the screen may end.
        latest = np.array([self._day.latest_end(screen) for screen in self._day.screens])[self._screen]
        surely = np.where(planned, np.minimum(self._end + self._grid - 1, latest), np.inf)
        rows: list[Array] = []
        most: list[float] = []
        for resource in resources:
            for moment in (*range(self._grid, self._day.horizon, self._grid), self._day.horizon):
                worked = np.zeros(len(self._end))
                for screen, minutes, tail in resource.work:
                    worked[(self._screen == screen) & (surely - tail <= moment)] += minutes
                there = resource.there(moment)
                if sum(worked[self._screen == k].max(initial=0) for k in range(len(self._day.screens))) > there:
                    rows.append(worked)
                    most.append(there)
        return csr_matrix(np.array(rows) if rows else np.zeros((0, len(self._end)))), most


def _resources(day: Day) -> list[_Resource]:
    """Workstations, people together, and those with one skill where not everybody has it."""
    shared = Counter(step.load for screen in day.screens for step in screen.steps if step.load)
    work = []
    for k, screen in enumerate(day.screens):
        tail = 0
        for step in reversed(screen.steps):
            # Steps of a load may share: together they take at least one's minutes.
            work.append((step, (k, step.minutes / (shared[step.load] if step.load else 1), tail)))
            tail += step.minutes
    found = [
        _Resource([w for step, w in work if step.workstation == name], [(0, day.horizon, number)])
        for name, number in day.places.items()
    ]
    hands = [(step, w) for step, w in work if step.hands]
    kinds = {step.kind for step, _ in hands}
    for skills in [kinds, *({kind} for kind in sorted(kinds))]:
        hours = [(s.start, s.end, 1) for s in day.shifts if s.skills & skills]
        found.append(_Resource([w for step, w in hands if step.kind in skills], hours))
    return found
