"""By when a screen is ready at the latest: the plan gone through with every drying as slow as it may be."""

from collections import defaultdict
from collections.abc import Mapping, Sequence

from frimble.core.planning.day import Day, ScreenWork
from frimble.core.planning.dayplan import Task
from frimble.core.planning.rules import loads


def latest_ends(day: Day, tasks: Sequence[Task]) -> dict[str, int | None]:
    """The end of each planned screen, minutes after the day's start, if all of its and the others' drying is slow.

    Everybody keeps the plan's order, nobody begins earlier than planned, and what is late makes the next ones late.

    Returns:
        None where a step would then find nobody there any more.
    """
    screens = {screen.code: screen for screen in day.screens}
    ends: dict[str, int | None] = {task.screen: 0 for task in tasks}
    person_free: dict[str, int] = defaultdict(int)
    held: dict[str, list[int]] = defaultdict(list)
    for load in sorted(loads(screens, tasks), key=lambda load: (load[0].start, load[0].step, load[0].screen)):
        own_ends = [ends[task.screen] for task in load]
        first = load[0]
        step = screens[first.screen].steps[first.step]
        minutes = max(step.minutes, step.minutes_at_most or 0)
        start = None
        if None not in own_ends:
            start = max([first.start, *(end for end in own_ends if end is not None)])
            if step.workstation is not None:
                start = max(start, _place_free(held[step.workstation], day.places[step.workstation]))
            if first.person is not None:
                start = _when_there(day, screens, first, max(start, person_free[first.person]))
        end = None if start is None else start + minutes
        for task in load:
            ends[task.screen] = end
        if end is not None and first.person is not None:
            person_free[first.person] = end
        if end is not None and step.workstation is not None:
            held[step.workstation].append(end)
    return ends


def _place_free(ends: list[int], places: int) -> int:
    """When one of a workstation's places is free again, with what was put there before."""
    return sorted(ends)[-places] if len(ends) >= places else 0


def _when_there(day: Day, screens: Mapping[str, ScreenWork], task: Task, start: int) -> int | None:
    """The first minute from `start` on at which the person's hours leave room for the step."""
    step = screens[task.screen].steps[task.step]
    able = [s for s in day.able(step) if s.person == task.person and s.end - step.minutes >= start]
    return min((max(start, s.start) for s in able), default=None)
