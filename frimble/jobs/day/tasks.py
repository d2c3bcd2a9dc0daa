"""A kept plan's steps, as they stand now."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.urls import reverse
from django.utils import timezone
from django.utils.http import urlencode

from frimble.core.planning.stages.way import FILM
from frimble.jobs.day.queries import Done
from frimble.jobs.day.words import step_words
from frimble.screens.links import step_url


@dataclass(frozen=True)
class PlannedTask:
    """One step of the plan: when, what, on which screen, by whom; when it was done, None while it is not."""

    start: datetime
    end: datetime
    screen: str
    kind: str
    words: str
    place: str
    person: str
    job: str
    done_at: datetime | None
    number: str

    @property
    def url(self) -> str:
        if self.kind == FILM:
            return f"{reverse('films:add-film')}?{urlencode({'job': self.number})}"
        return step_url(self.kind, self.screen)


def rows_in_order(plan: Mapping[str, Any], done: Done) -> list[tuple[dict[str, str], datetime | None]]:
    """A kept plan's steps as they are written, by their start, and when each was done.

    Of a kind that a screen goes through twice the first is done first.
    """
    left = {key: iter(moments) for key, moments in done.items()}
    rows = sorted(plan["tasks"], key=lambda row: datetime.fromisoformat(row["start"]))
    return [(row, next(left.get((row["screen"], row["kind"]), iter(())), None)) for row in rows]


def planned_tasks(plan: Mapping[str, Any], done: Done) -> list[PlannedTask]:
    """All of a kept plan's steps by their start."""
    return [task_of(row, plan, done_at) for row, done_at in rows_in_order(plan, done)]


def task_of(row: Mapping[str, str], plan: Mapping[str, Any], done_at: datetime | None = None) -> PlannedTask:
    """One step of a plan, from how it is written."""
    start, end = (moment_of(row[key]) for key in ("start", "end"))
    kind = row["kind"]
    job, number = (plan[key].get(row["screen"], "") for key in ("jobs", "numbers"))
    return PlannedTask(
        start, end, row["screen"], kind, step_words(kind), row["place"], row["person"], job, done_at, number
    )


def moment_of(text: str) -> datetime:
    return timezone.localtime(datetime.fromisoformat(text))
