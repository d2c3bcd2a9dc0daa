"""A day's plan, with what is proven of it and what late screens wait for."""

import time
from dataclasses import replace

from frimble.core.planning.day import Day
from frimble.core.planning.dayplan import Cost, DayPlan, Status, Task, cost, ends_of
from frimble.core.planning.rules import broken_rules
from frimble.core.planning.search.bounds import FEW_MOMENTS, MOMENTS, Bounds
from frimble.core.planning.search.dispatch import around, best_dispatched, by_due_time
from frimble.core.planning.search.occupied import Room
from frimble.core.planning.search.parts import Search, search
from frimble.core.planning.search.running import whole, with_held_places
from frimble.core.planning.standing import FREE, Standing
from frimble.core.planning.why import why

# With less time than this the bounds are rough.
_IN_HASTE_S = 4.0
_AS_LONG_AGAIN = 1.3


def plan_day(day: Day, seconds: float, seed: int = 0, standing: Standing = FREE) -> DayPlan:
    """The plan of a day with the least `late`, then the least `sum_of_ends`, that is found in so many seconds.

    With an earlier plan the least `late` with what its moves cost.

    Args:
        day: what is to be planned. seconds: wall time, with building all models; 0 for the first plan alone.
        seed: of the search, which draws by chance. standing: an earlier plan of the day.
    """
    begun = time.monotonic()
    plan = _planned(day, begun + seconds, seed, standing)
    return replace(plan, seconds=time.monotonic() - begun)


def _planned(day: Day, ends_at: float, seed: int, standing: Standing) -> DayPlan:
    settled = with_held_places(day)
    if settled is None:
        return _cannot_go_on(day)
    searched, held = settled
    room = Room(searched)
    in_haste = ends_at - time.monotonic() < _IN_HASTE_S
    bounds = Bounds(room, FEW_MOMENTS if in_haste else MOMENTS)
    least = bounds.late()
    begun = time.monotonic()
    nothing_to_gain = Cost(least, bounds.sum_of_ends(least))
    # The same is worked out once more for the plan that is found.
    ends_at -= _AS_LONG_AGAIN * (time.monotonic() - begun)
    first = _first(room, standing.kept(searched))
    # An earlier plan is left alone where nothing is late by it: people go by it.
    enough = Cost(least, day.left_out_end * len(day.screens)) if standing.tasks else nothing_to_gain
    found = search(room, first, lambda cost: not enough < cost, ends_at, seed, standing)
    return _concluded(day, found, bounds, least, held, standing)


def first_plan(day: Day, standing: Standing = FREE) -> DayPlan:
    """A plan at once: by the best of the dispatch rules, or around what stands of an earlier plan."""
    return plan_day(day, 0, standing=standing)


def _first(room: Room, stays: list[Task]) -> list[Task]:
    tasks = around(room, stays, by_due_time) if stays else best_dispatched(room)
    under_way = [screen for screen in room.day.screens if screen.running]
    if {s.code for s in under_way} <= ends_of(tasks).keys():
        return tasks
    kept = whole(Room(replace(room.day, screens=tuple(under_way))))
    return around(room, kept or [], by_due_time)


def _concluded(
    day: Day, searched: Search, bounds: Bounds, least: float, held: tuple[str, ...], standing: Standing
) -> DayPlan:
    tasks = sorted((t for t in searched.tasks if t.screen not in held), key=lambda t: (t.start, t.screen, t.step))
    broken = broken_rules(searched.room.day, searched.tasks)
    if broken:
        raise AssertionError(f"The plan breaks a rule: {broken[0]}")
    found = cost(day, ends_of(tasks))
    of_searched = cost(searched.room.day, ends_of(searched.tasks))
    # What is left out whatever is planned costs the same in every plan.
    apart = Cost(found.late - of_searched.late, found.sum_of_ends - of_searched.sum_of_ends)
    # With an earlier plan another cost was the least.
    proven = searched.optimal and not standing.tasks
    bound = of_searched.late if proven else least
    bound_sum = of_searched.sum_of_ends if proven else bounds.sum_of_ends(of_searched.late)
    optimal = bound >= of_searched.late and bound_sum >= of_searched.sum_of_ends
    return DayPlan(
        Status.OPTIMAL if optimal else Status.FEASIBLE,
        found,
        min(bound, of_searched.late) + apart.late,
        min(bound_sum, of_searched.sum_of_ends) + apart.sum_of_ends,
        tuple(tasks),
        _left_out(day, tasks),
        why(Room(day), tasks),
        tuple(standing.moved(tasks)),
    )


def _left_out(day: Day, tasks: list[Task]) -> tuple[str, ...]:
    there = {task.screen for task in tasks}
    return tuple(screen.code for screen in day.screens if screen.code not in there)


def _cannot_go_on(day: Day) -> DayPlan:
    codes = tuple(screen.code for screen in day.screens)
    under_way = {s.code: "its running step cannot go on" for s in day.screens if s.running}
    found = cost(day, {})
    return DayPlan(Status.INFEASIBLE, found, found.late, None, (), codes, under_way)
