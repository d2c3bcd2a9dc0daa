"""The least cost of a small day by another way: a time-indexed integer programme for a general solver."""

import numpy as np
from scipy.optimize import LinearConstraint, milp

from frimble.core.planning.day import Day
from frimble.core.planning.dayplan import Cost


def least_cost(day: Day) -> Cost:
    """Least `late`, then least `sum_of_ends`, of a day without loads, by scipy's integer programming (HiGHS)."""
    programme = _Programme(day)
    late = programme.least(programme.late)
    return Cost(round(late), round(programme.least(programme.ends, most_late=late)))


class _Programme:
    """One 0-1 variable for each step, start and person, and one for each screen left out."""

    def __init__(self, day: Day) -> None:
        self._day = day
        self._variables = [
            (s, k, start, person)
            for s, screen in enumerate(day.screens)
            for k, step in enumerate(screen.steps)
            for start in range(screen.ready, day.latest_end(screen) - step.minutes + 1)
            for person in (_who(day, step, start) if step.hands else [None])
        ]
        self._left_out = [len(self._variables) + s for s in range(len(day.screens))]
        self._count = len(self._variables) + len(day.screens)
        self._rows: list[tuple[np.ndarray, float, float]] = []
        self.late, self.ends = np.zeros(self._count), np.zeros(self._count)
        self._costs()
        for s, screen in enumerate(day.screens):
            self._screen(s, screen)
        self._resources()

    def least(self, costs, most_late=None) -> float:
        rows = [*self._rows]
        if most_late is not None:
            rows.append((self.late, -np.inf, most_late + 0.5))
        matrix, low, high = (np.array(part) for part in zip(*rows, strict=True))
        answer = milp(
            costs, constraints=LinearConstraint(matrix, low, high), integrality=np.ones(self._count), bounds=(0, 1)
        )
        return float(answer.fun)

    def _row(self, value) -> np.ndarray:
        return np.array([*(value(*v) for v in self._variables), *[0.0] * len(self._left_out)])

    def _costs(self):
        for i, (s, k, start, _) in enumerate(self._variables):
            screen = self._day.screens[s]
            if k == len(screen.steps) - 1:
                end = start + screen.steps[k].minutes
                self.late[i], self.ends[i] = screen.weight * screen.minutes_late(end), end
        for s, i in enumerate(self._left_out):
            screen = self._day.screens[s]
            self.late[i] = screen.weight * screen.minutes_late(self._day.left_out_end)
            self.ends[i] = self._day.left_out_end

    def _screen(self, s, screen):
        for k in range(len(screen.steps)):
            once = self._row(lambda s2, k2, *_, k=k: s2 == s and k2 == k)
            once[self._left_out[s]] = 1
            self._rows.append((once, 1, 1))
        if screen.running:
            self._rows.append((np.eye(self._count)[self._left_out[s]], 0, 0))
        for k, step in enumerate(screen.steps):
            waits = self._waits(s, k, screen)
            if step.start_within is not None:
                self._rows.append((waits, -np.inf, step.start_within))
            if k:
                self._rows.append((waits, 0, np.inf))

    def _waits(self, s, k, screen):
        """Minutes between the end of the step before and this one's start; 0 where the screen is left out."""

        def value(s2, k2, start, _):
            if s2 != s:
                return 0
            return start * (k2 == k) - (start + screen.steps[k2].minutes) * (k2 == k - 1)

        return self._row(value)

    def _resources(self):
        day = self._day
        step_of = {(s, k): step for s, screen in enumerate(day.screens) for k, step in enumerate(screen.steps)}
        for minute in range(day.horizon):

            def under_way(s, k, start, minute=minute):
                return start <= minute < start + step_of[s, k].minutes

            for name, places in day.places.items():
                row = self._row(lambda s, k, t, _, n=name: step_of[s, k].workstation == n and under_way(s, k, t))
                self._rows.append((row, -np.inf, places))
            for person in {shift.person for shift in day.shifts}:
                row = self._row(lambda s, k, t, who, p=person: who == p and under_way(s, k, t))
                self._rows.append((row, -np.inf, 1))


def _who(day, step, start):
    return sorted({s.person for s in day.able(step) if s.start <= start and start + step.minutes <= s.end})
