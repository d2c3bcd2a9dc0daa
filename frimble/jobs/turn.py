"""What the day plan asks of somebody now, and what it leaves to others."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta

from django.utils import timezone

from frimble.core import lifecycle
from frimble.core.planning.stages.way import FILM
from frimble.jobs.day import queries
from frimble.jobs.day.tasks import PlannedTask, moment_of, rows_in_order, task_of
from frimble.screens.models import Screen

# A step may be begun so long before its time; so long past its end it is nobody's any more.
_SOON, _GIVEN_UP = timedelta(minutes=10), timedelta(minutes=10)
# Of one's own steps that are due so many are looked at for one that can be done.
_LOOKED_AT = 6
# And so many are read, for those that follow it.
_READ = _LOOKED_AT + 3


@dataclass(frozen=True)
class Turn:
    """Somebody's part in the day plan as it stands now.

    Attributes:
        now: the step whose time has come and that can be done, with its screen; None where there is none.
        screen: of it.
        ahead: the first of one's own steps beside it, by their time.
        others: of screens that wait for somebody else the step that is planned, by the screen's code.
        kept: screens with a step of one's own to come.
    """

    now: PlannedTask | None = None
    screen: Screen | None = None
    ahead: Sequence[PlannedTask] = ()
    others: Mapping[str, PlannedTask] = field(default_factory=dict)
    kept: frozenset[str] = frozenset()


# Where no day is planned.
NO_PLAN = Turn()


def turn_of(person, now: datetime, settings) -> Turn:
    """What today's plan says to whoever looks; at a shared tablet to everybody."""
    kept = queries.last_plan()
    if kept is None or moment_of(kept.plan["start"]).date() != timezone.localtime(now).date():
        return NO_PLAN
    names = {str(person), f"{person} ({person.username})"}
    own, others = [], {}
    for row, done_at in rows_in_order(kept.plan, queries.done_in(kept)):
        if done_at or not row["person"]:
            continue
        if person.is_station or row["person"] in names:
            own.append(row)
        elif now < datetime.fromisoformat(row["end"]) + _GIVEN_UP:
            others.setdefault(row["screen"], row)
    # A day has hundreds of steps: only those that can be shown are made into more than rows.
    first = [task_of(row, kept.plan) for row in own[:_READ]]
    due, screen = _due(first, now, settings)
    return Turn(
        due,
        screen,
        [task for task in first if task is not due],
        {code: task_of(row, kept.plan) for code, row in others.items()},
        frozenset(row["screen"] for row in own),
    )


def _due(own: Iterable[PlannedTask], now: datetime, settings) -> tuple[PlannedTask | None, Screen | None]:
    """The first step whose time has come and that its screen is ready for."""
    due = [task for task in own if task.start <= now + _SOON][:_LOOKED_AT]
    if not due:
        return None, None
    screens = {s.code: s for s in Screen.objects.for_lists().filter(frame__code__in={task.screen for task in due})}
    for task in due:
        screen = screens.get(task.screen)
        if screen and (task.kind == FILM or lifecycle.verdict(screen.life, task.kind, now, settings).allowed):
            return task, screen
    return None, None
