"""An earlier plan that people go by: what of it still stands, and what it costs to move it."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from frimble.core.planning.day import Day, ScreenWork, Step
from frimble.core.planning.dayplan import Task, ends_of
from frimble.core.planning.rules import broken_rules

# A step that comes later by no more than this is noticed by nobody; nobody is called earlier than was said.
UNNOTICED_MIN = 5


@dataclass(frozen=True)
class PlannedBefore:
    """A step as it was planned: its kind, minutes after the start of the day that is planned now, and by whom."""

    kind: str
    start: int
    end: int
    person: str | None


@dataclass(frozen=True)
class Standing:
    """What an earlier plan says of a day.

    Attributes:
        tasks: of each screen with the same steps as before, by its code. frozen: screens that stay where they can.
        change_min: a screen moved counts as so many weighted minutes late.
    """

    tasks: Mapping[str, tuple[Task, ...]]
    frozen: frozenset[str] = frozenset()
    change_min: float = 0

    def moved(self, tasks: Iterable[Task]) -> list[str]:
        """Screens whose steps start earlier or noticeably later than before, are somebody else's, or are gone."""
        there = {(t.screen, t.step): t for t in tasks}
        return [
            code
            for code, own in self.tasks.items()
            if any(not _same(task, there.get((code, task.step))) for task in own)
        ]

    def price(self, tasks: Iterable[Task]) -> float:
        return self.change_min * len(self.moved(tasks)) if self.change_min else 0.0

    def kept(self, day: Day) -> list[Task]:
        """Of the earlier plan all that breaks no rule of the day: frozen screens first, then those that begin first.

        A screen that only holds its place today, by fewer steps than were planned, is not among them.
        """
        screens = {screen.code: screen for screen in day.screens}
        order = sorted(
            (code for code, own in self.tasks.items() if code in screens and len(own) == len(screens[code].steps)),
            key=lambda code: (not screens[code].running, code not in self.frozen, self.tasks[code][0].start, code),
        )
        kept: list[Task] = []
        for code in order:
            together = [*kept, *self.tasks[code]]
            of_them = tuple(screens[c] for c in ends_of(together))
            if not broken_rules(replace(day, screens=of_them), together):
                kept = together
        return kept


# No earlier plan.
FREE = Standing({})


def _same(before: Task, now: Task | None) -> bool:
    return now is not None and 0 <= now.start - before.start <= UNNOTICED_MIN and now.person == before.person


def under_way(day: Day, before: Mapping[str, Sequence[PlannedBefore]]) -> Day:
    """The day with the steps of hands that should be half done by now as running, until they were to end."""
    return replace(day, screens=tuple(_going_on(screen, _last(screen, before)) for screen in day.screens))


def standing_of(
    day: Day, before: Mapping[str, Sequence[PlannedBefore]], frozen: Iterable[str], change_min: float
) -> Standing:
    """What of an earlier plan can be told of this day; a step that runs stands where it is.

    Args:
        before: by screen in their order, with what is done by now. change_min: weighted minutes that a move must save.
    """
    tasks = {screen.code: _tasks(screen, last) for screen in day.screens if (last := _last(screen, before)) is not None}
    return Standing(tasks, frozenset(frozen), change_min)


def _last(screen: ScreenWork, before: Mapping[str, Sequence[PlannedBefore]]) -> Sequence[PlannedBefore] | None:
    """The earlier plan's steps that are still to be done; None where the screen's way is another now."""
    last = list(before.get(screen.code, ()))[-len(screen.steps) :]
    return last if [p.kind for p in last] == [step.kind for step in screen.steps] else None


def _going_on(screen: ScreenWork, last: Sequence[PlannedBefore] | None) -> ScreenWork:
    first = screen.steps[0]
    if last is None or not first.hands or not last[0].start < 0 < last[0].end:
        return screen
    running = replace(first, minutes=last[0].end, start_within=0)
    return replace(screen, steps=(running, *screen.steps[1:]))


def _tasks(screen: ScreenWork, last: Sequence[PlannedBefore]) -> tuple[Task, ...]:
    return tuple(
        _task(screen.code, k, step, planned) for k, (step, planned) in enumerate(zip(screen.steps, last, strict=True))
    )


def _task(code: str, k: int, step: Step, planned: PlannedBefore) -> Task:
    start = 0 if step.start_within == 0 and k == 0 else planned.start
    return Task(code, k, start, start + step.minutes, planned.person if step.hands else None)
