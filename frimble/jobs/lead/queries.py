"""Lives of screens from their records, for lead times and for a week gone through again."""

import hashlib
import pickle
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, time, timedelta

from django.core.cache import cache
from django.db.models import F
from django.utils import timezone

from frimble.core.lifecycle import State
from frimble.core.numbers import counted
from frimble.core.planning.day import Day, ScreenWork
from frimble.core.planning.lead import Replay, replays
from frimble.core.planning.stages.way import OnItsWay, way
from frimble.jobs.day.hours.queries import Hours
from frimble.jobs.day.queries import places
from frimble.screens.models import Cycle, ScreenEvent

_WEEK_MIN = 7 * 1440
_MOST_SCREENS = 120
_REPLAY_KEPT_S = 3600
# A year of a small shop; the middle of so many is known to a few percent.
_MOST_LIVES = 1000


@dataclass(frozen=True)
class Lives:
    """For each cycle the minute of its last record of each kind; one in `every` of the cycles was looked at."""

    minutes: list[dict[str, float]]
    every: int


def lives_since(start: datetime, mesh=None) -> Lives:
    """Of the cycles begun since, so many that the time is told well; of more, evenly taken ones."""
    begun = Cycle.objects.filter(started_at__gte=start)
    if mesh is not None:
        begun = begun.filter(installation__mesh=mesh)
    every = max(1, round(begun.count() / _MOST_LIVES))
    taken = begun.order_by().annotate(turn=F("pk") % every).filter(turn=0)
    return Lives(list(taken.values_list("last_min", flat=True)), every)


@dataclass(frozen=True)
class LastWeek:
    """The last whole week as it came: screens from their degreasing on, the first of `came`, and people in their hours."""

    day: Day
    came: int

    @property
    def words(self) -> str:
        """How many screens, and of how many."""
        number = len(self.day.screens)
        return counted(number, "screen") if number == self.came else f"The first {number} of the {self.came} screens"


def last_week(settings, now: datetime) -> LastWeek | None:
    """None where no screen came, or nobody was there."""
    today = timezone.localtime(now).date()
    monday = today - timedelta(days=today.weekday() + 7)
    start = timezone.make_aware(datetime.combine(monday, time(0)))
    came = ScreenEvent.objects.standing().filter(kind="degrease", at__gte=start, at__lt=start + timedelta(days=7))
    rows = came.order_by("at").values_list("pk", "at", "installation__frame__code")[:_MOST_SCREENS]
    screens = tuple(
        ScreenWork(f"{code} {pk}", way(OnItsWay(State.BARE), settings), ready=int((at - start).total_seconds() // 60))
        for pk, at, code in rows
    )
    if not screens:
        return None
    hours = Hours(settings, monday, 7)
    shifts = tuple(
        replace(shift, start=day * 1440 + shift.start, end=day * 1440 + shift.end)
        for day in range(7)
        for shift in hours.shifts(monday + timedelta(days=day), 0)
    )
    if not shifts:
        return None
    return LastWeek(Day(start.replace(tzinfo=None), _WEEK_MIN, shifts, places(settings), screens), came.count())


def replayed(week: Day) -> Sequence[Replay]:
    """`replays` of a week, kept under all that the week holds: another week is another key."""
    key = f"week-replayed-{hashlib.sha256(pickle.dumps(week)).hexdigest()}"
    return cache.get_or_set(key, lambda: replays(week), _REPLAY_KEPT_S)
