"""A plan at once: screens one after the other, each put where it fits first."""

from collections.abc import Callable, Iterable, Sequence

from frimble.core.planning.day import ScreenWork
from frimble.core.planning.dayplan import Task, cost, ends_of
from frimble.core.planning.search.occupied import Occupied, Room, occupied, tasks_of

Rule = Callable[[ScreenWork], tuple[float, ...]]

_NEVER = float("inf")


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
