"""Whether a plan keeps every rule of its day, without the bookkeeping of the search that it is held against."""

from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping, Sequence
from itertools import pairwise

from frimble.core.planning.day import Day, ScreenWork
from frimble.core.planning.dayplan import Task


def broken_rules(day: Day, tasks: Sequence[Task]) -> list[str]:
    """Every rule of the day that this plan breaks, in words; empty for a plan that can be carried out."""
    screens = {screen.code: screen for screen in day.screens}
    by_screen = defaultdict(list)
    for task in tasks:
        by_screen[task.screen].append(task)
    if strangers := sorted(by_screen.keys() - screens.keys()):
        return [f"{code} is not of this day" for code in strangers]
    planned = {
        code: sorted(by_screen.get(code, ()), key=lambda t: t.step)
        for code, screen in screens.items()
        if code in by_screen or screen.running
    }
    if parts := [code for code, own in planned.items() if [t.step for t in own] != _steps_of(screens[code])]:
        return [f"{code} is not planned whole" for code in parts]
    broken = [rule for code, own in planned.items() for rule in _of_screen(day, screens[code], own)]
    return broken + _of_places(day, screens, tasks) + _of_people(screens, tasks)


def _steps_of(screen: ScreenWork) -> list[int]:
    return list(range(len(screen.steps)))


def _of_screen(day: Day, screen: ScreenWork, own: list[Task]) -> list[str]:
    broken = []
    if own[0].start < max(screen.ready, 0):
        broken.append(f"{screen.code} starts before it is ready")
    if own[-1].end > day.latest_end(screen):
        broken.append(f"{screen.code} runs past the day's end")
    first = screen.steps[0].start_within
    if first is not None and own[0].start > first:
        broken.append(f"{screen.code} starts too late")
    for before, after in pairwise(own):
        within = screen.steps[after.step].start_within
        if after.start < before.end:
            broken.append(f"{screen.code} step {after.step} starts before step {before.step} has ended")
        if within is not None and after.start > before.end + within:
            broken.append(f"{screen.code} step {after.step} starts too long after step {before.step}")
    for task in own:
        broken += _of_task(day, screen, task)
    return broken


def _of_task(day: Day, screen: ScreenWork, task: Task) -> list[str]:
    step = screen.steps[task.step]
    broken = []
    if task.end - task.start != step.minutes:
        broken.append(f"{screen.code} step {task.step} does not take its minutes")
    if step.hands != (task.person is not None):
        broken.append(f"{screen.code} step {task.step} has a person without need, or none")
    if (
        step.hands
        and task.person is not None
        and not any(s.person == task.person and s.start <= task.start and task.end <= s.end for s in day.able(step))
    ):
        broken.append(f"{screen.code} step {task.step}: {task.person} is not there or cannot do it")
    return broken


def loads(screens: Mapping[str, ScreenWork], tasks: Iterable[Task]) -> list[list[Task]]:
    """Tasks by what is done together: a load that starts at one moment is one."""
    together = defaultdict(list)
    for task in tasks:
        load = screens[task.screen].steps[task.step].load
        together[(load, task.start) if load else (task.screen, task.step)].append(task)
    return list(together.values())


def _of_places(day: Day, screens: Mapping[str, ScreenWork], tasks: Sequence[Task]) -> list[str]:
    changes: dict[str, Counter[int]] = defaultdict(Counter)
    for first, *_ in loads(screens, tasks):
        name = screens[first.screen].steps[first.step].workstation
        if name is not None and first.end > first.start:
            changes[name][first.start] += 1
            changes[name][first.end] -= 1
    broken = []
    for name, change in changes.items():
        held = 0
        for minute in sorted(change):
            held += change[minute]
            if held > day.places[name]:
                broken.append(f"{name} holds {held} at minute {minute}")
    return broken


def _of_people(screens: Mapping[str, ScreenWork], tasks: Sequence[Task]) -> list[str]:
    work = defaultdict(list)
    broken = []
    for load in loads(screens, (t for t in tasks if t.person is not None)):
        if len({t.person for t in load}) > 1:
            broken.append(f"{load[0].screen} and what is done with it have two people")
        work[load[0].person].append(load[0])
    for person, own in work.items():
        own.sort(key=lambda t: (t.start, t.end))
        broken += [f"{person} does two steps at minute {b.start}" for a, b in pairwise(own) if b.start < a.end]
    return broken
