"""Some screens of a day as constraints, the others standing as they are: for a solver that proves what it finds."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field

from ortools.sat.python import cp_model

from frimble.core.planning.day import ScreenWork
from frimble.core.planning.dayplan import Task
from frimble.core.planning.search.occupied import Room, Spot, Work, occupied, runs, starts, tasks_of
from frimble.core.planning.standing import FREE, UNNOTICED_MIN, Standing

Literal = cp_model.IntVar
Linear = cp_model.LinearExpr
# The solver counts in whole numbers of 64 bits; the sum of ends and the moves of screens are far less than half of them.
_LARGEST = 2**62
# First and last minute.
Span = tuple[int, int]


@dataclass
class _Step:
    """One step's variables: its start, whether it takes a person and a place itself, and who does it.

    Attributes:
        begun: when it starts as the plan stands, where it takes them itself there.
    """

    start: cp_model.IntVar
    leads: cp_model.IntVar
    begun: int | None
    by: dict[int, cp_model.IntVar] = field(default_factory=dict)


class PartModel:
    """The best places for some screens of a plan, all others fixed.

    Every variable is told what it is in the plan as it stands: the solver begins from there, and never ends worse.
    """

    def __init__(
        self,
        room: Room,
        tasks: Sequence[Task],
        free: set[str],
        window: int | None = None,
        standing: Standing = FREE,
    ) -> None:
        self.room = room
        self.model = cp_model.CpModel()
        self._window = window
        self._standing = standing
        self._taken = occupied(room, [t for t in tasks if t.screen not in free])
        self._now = {(t.screen, t.step): t for t in tasks if t.screen in free}
        self._at_place: dict[int, list[cp_model.IntervalVar]] = defaultdict(list)
        self._of_person: dict[int, list[cp_model.IntervalVar]] = defaultdict(list)
        self._loads: dict[str, list[_Step]] = defaultdict(list)
        self._planned: dict[int, Literal] = {}
        self._steps: dict[int, list[_Step]] = {}
        self._cost: list[cp_model.LinearExpr] = []
        self._dearest = 0
        # A minute late counts more than all that the sum of ends can gain.
        self._late_first = 1 + len(free) * max(room.day.left_out_end, room.day.horizon)
        for number, screen in enumerate(room.day.screens):
            if screen.code in free:
                self._add_screen(number, screen)
        self._hold()
        self.model.minimize(sum(self._cost))

    def solve(self, seconds: float, seed: int = 0) -> tuple[list[Task], bool] | None:
        """The free screens' tasks, and whether none are better.

        Returns:
            None where there was no time to find any, or where what a plan costs may go beyond the solver's numbers.
        """
        if self._dearest > _LARGEST:
            return None
        solver = cp_model.CpSolver()
        parameters = solver.parameters
        parameters.num_workers = 1
        parameters.max_time_in_seconds = seconds
        parameters.random_seed = seed
        # Small models, many of them: what prepares for a long search costs more than it saves.
        parameters.cp_model_presolve = False
        parameters.linearization_level = 0
        parameters.symmetry_level = 0
        parameters.use_dynamic_precedence_in_disjunctive = True
        parameters.use_dynamic_precedence_in_cumulative = True
        status = solver.solve(self.model)
        if status == cp_model.MODEL_INVALID:
            raise AssertionError(f"The part is no model: {self.model.validate()}")
        if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
            return None
        return self._tasks(solver), status == cp_model.OPTIMAL

    def _add_screen(self, number: int, screen: ScreenWork) -> None:
        # One that is under way is planned: a variable of its own, since no hint may be given twice for one.
        planned = self.model.new_int_var(1, 1, "") if screen.running else self.model.new_bool_var("")
        self.model.add_hint(planned, screen.running or (screen.code, 0) in self._now)
        self._planned[number] = planned
        self._steps[number] = own = []
        earliest = screen.ready
        latest = self.room.latest[number] - sum(step.minutes for step in screen.steps)
        ended: Linear = self.model.new_constant(0)
        for k, work in enumerate(self.room.work[number]):
            step = self._add_step(work, planned, self._now.get((screen.code, k)), (earliest, latest))
            self._follow(step.start, work.start_within, ended, planned)
            own.append(step)
            ended = step.start + work.minutes
            earliest, latest = earliest + work.minutes, latest + work.minutes
        last = self._now.get((screen.code, len(own) - 1))
        self._count(screen, planned, ended, last.end if last else self.room.day.left_out_end)
        self._count_move(screen.code, own, planned)

    def _add_step(self, work: Work, planned: Literal, now: Task | None, between: Span) -> _Step:
        between = self._within_window(now, between)
        alone, by = self._possible(work, between)
        joins = (
            [at for at in self._taken.loads.get(work.load, ()) if between[0] <= at <= between[1]] if work.load else []
        )
        possible = alone
        for at in joins:
            possible |= 1 << at
        if not possible:
            self.model.add(planned == 0)
            possible = 1
        start = self._start(possible, now)
        step = _Step(start, planned, now.start if now else None)
        if work.load:
            step = self._of_load(start, planned, joins, self._loads[work.load], step.begun)
            self._loads[work.load].append(step)
            self._only(start, alone, step.leads)
        if work.able is not None:
            self._add_people(step, work, by, None if now is None or step.begun is None else now.person)
        if work.place >= 0:
            self._at_place[work.place].append(self._interval(start, work, step.leads))
        return step

    def _add_people(self, step: _Step, work: Work, by: dict[int, int], does_now: str | None) -> None:
        """One of those who can does the step, where it takes somebody itself."""
        for who, there in by.items():
            step.by[who] = does = self.model.new_bool_var("")
            self.model.add_hint(does, self.room.people[who] == does_now)
            self._only(step.start, there, does)
            self._of_person[who].append(self._interval(step.start, work, does))
        self.model.add(sum(step.by.values()) == step.leads)

    def _within_window(self, now: Task | None, between: Span) -> Span:
        if self._window is None or now is None:
            return between
        return max(between[0], now.start - self._window), min(between[1], now.start + self._window)

    def _possible(self, work: Work, between: Span) -> tuple[int, dict[int, int]]:
        """The minutes at which the step can start by itself, at all and by each person."""
        earliest, latest = between
        there = self.room.whole if work.place < 0 else self._taken.place(work.place)
        allowed = starts(there, work.minutes) >> earliest << earliest & ((1 << max(latest + 1, 0)) - 1)
        if work.able is None:
            return allowed, {}
        free = {who: allowed & may & starts(self._taken.people[who], work.minutes) for who, may in work.able}
        free = {who: these for who, these in free.items() if these}
        anybody = 0
        for these in free.values():
            anybody |= these
        return anybody, free

    def _of_load(
        self, start: cp_model.IntVar, planned: Literal, joins: list[int], others: list[_Step], begun: int | None
    ) -> _Step:
        """A step of a load takes a person and a place itself, or starts with one that does.

        Args:
            begun: when it starts now.
        """
        leads = self.model.new_bool_var("")
        follows = []
        for at in joins:
            follows.append(self.model.new_bool_var(""))
            self.model.add(start == at).only_enforce_if(follows[-1])
            self.model.add_hint(follows[-1], at == begun)
        for other in others:
            follows.append(self.model.new_bool_var(""))
            self.model.add_implication(follows[-1], other.leads)
            self.model.add(start == other.start).only_enforce_if(follows[-1])
            self.model.add_hint(follows[-1], begun is not None and other.begun == begun)
        joined = begun in joins or any(other.begun == begun for other in others)
        self.model.add(leads + sum(follows) == planned)
        self.model.add_hint(leads, begun is not None and not joined)
        return _Step(start, leads, None if joined else begun)

    def _follow(self, start: cp_model.IntVar, within: int | None, ended: Linear, planned: Literal) -> None:
        self.model.add(start >= ended).only_enforce_if(planned)
        if within is not None:
            self.model.add(start <= ended + within).only_enforce_if(planned)

    def _count(self, screen: ScreenWork, planned: Literal, ended: Linear, ends: int) -> None:
        left_out = self.room.day.left_out_end
        end = self.model.new_int_var(0, max(left_out, self.room.day.horizon), "")
        self.model.add(end >= ended).only_enforce_if(planned)
        self.model.add(end >= left_out).only_enforce_if(planned.negated())
        self.model.add_hint(end, ends)
        self._cost.append(end)
        weight = round(screen.weight * self.room.day.weight_unit)
        if screen.due is not None and weight:
            # What it is late already when the day starts no plan can change.
            due = max(screen.due, 0)
            most = max(0, left_out - due, self.room.day.horizon - due)
            late = self.model.new_int_var(0, most, "")
            self.model.add(late >= end - due)
            self.model.add_hint(late, max(0, ends - due))
            self._cost.append(self._late_first * weight * late)
            self._dearest += self._late_first * weight * most

    def _count_move(self, code: str, own: list[_Step], planned: Literal) -> None:
        """What it costs that the screen stands otherwise than in an earlier plan."""
        before = self._standing.tasks.get(code)
        price = round(self._standing.change_min * self.room.day.weight_unit)
        if before is None or len(before) != len(own) or not price:
            return
        stays = self.model.new_bool_var("")
        now = [task for task in self._now.values() if task.screen == code]
        self.model.add_hint(stays, len(now) == len(own) and code not in self._standing.moved(now))
        self.model.add_implication(stays, planned)
        for step, task in zip(own, before, strict=True):
            near = (task.start, task.start + UNNOTICED_MIN)
            self.model.add_linear_constraint(step.start, *near).only_enforce_if(stays)
            for who, does in step.by.items():
                if self.room.people[who] != task.person:
                    self.model.add_implication(stays, does.negated())
        self._cost.append(self._late_first * price * (1 - stays))

    def _start(self, possible: int, now: Task | None) -> cp_model.IntVar:
        start = self.model.new_int_var_from_domain(cp_model.Domain.from_intervals(runs(possible)), "")
        self.model.add_hint(start, now.start if now else (possible & -possible).bit_length() - 1)
        return start

    def _only(self, start: cp_model.IntVar, possible: int, when: Literal) -> None:
        if not possible:
            self.model.add(when == 0)
            return
        self.model.add_linear_expression_in_domain(
            start, cp_model.Domain.from_intervals(runs(possible))
        ).only_enforce_if(when)

    def _interval(self, start: cp_model.IntVar, work: Work, present: Literal) -> cp_model.IntervalVar:
        return self.model.new_optional_fixed_size_interval_var(start, work.minutes, present, "")

    def _hold(self) -> None:
        """No workstation and no person takes more than they can, with what is fixed."""
        for number, intervals in self._at_place.items():
            levels = self._taken.places[number]
            if len(levels) == 1:
                self.model.add_no_overlap(intervals)
                continue
            fixed = [
                self.model.new_fixed_size_interval_var(first, last - first + 1, "")
                for free in levels
                for first, last in runs(self.room.whole & ~free)
            ]
            self.model.add_cumulative(intervals + fixed, [1] * (len(intervals) + len(fixed)), len(levels))
        for intervals in self._of_person.values():
            self.model.add_no_overlap(intervals)

    def _tasks(self, solver: cp_model.CpSolver) -> list[Task]:
        begun = {load: {start: whose for start, (whose, _) in at.items()} for load, at in self._taken.loads.items()}
        chosen = {
            number: [self._spot(solver, step, work) for step, work in zip(own, self.room.work[number], strict=True)]
            for number, own in self._steps.items()
            if solver.boolean_value(self._planned[number])
        }
        for number, spots in chosen.items():
            for (spot, leads), work in zip(spots, self.room.work[number], strict=True):
                if work.load and leads:
                    begun.setdefault(work.load, {}).setdefault(spot.start, spot.person)
        tasks = []
        for number, spots in chosen.items():
            settled = [
                Spot(spot.start, begun[work.load][spot.start]) if work.load else spot
                for (spot, _), work in zip(spots, self.room.work[number], strict=True)
            ]
            tasks += tasks_of(self.room, self.room.day.screens[number], settled)
        return tasks

    def _spot(self, solver: cp_model.CpSolver, step: _Step, work: Work) -> tuple[Spot, bool]:
        leads = solver.boolean_value(step.leads)
        who = next((who for who, does in step.by.items() if solver.boolean_value(does)), -1)
        return Spot(solver.value(step.start), who), leads
