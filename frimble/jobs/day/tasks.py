"""A kept plan's steps, as they stand now."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.urls import reverse
from django.utils import timezone
from django.utils.dateparse import parse_datetime
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


def planned_tasks(plan: Mapping[str, Any], done: Done) -> list[PlannedTask]:
    """A kept plan's steps by their start; of a kind that a screen goes through twice the first is done first."""
    left = {key: iter(moments) for key, moments in done.items()}
    rows = sorted(plan["tasks"], key=lambda row: moment_of(row["start"]))
    return [_task(row, plan, next(left.get((row["screen"], row["kind"]), iter(())), None)) for row in rows]


def _task(row, plan, done_at: datetime | None) -> PlannedTask:
    kind = row["kind"]
    job = plan["jobs"].get(row["screen"], "")
    return PlannedTask(
        moment_of(row["start"]),
        moment_of(row["end"]),
        row["screen"],
        kind,
        step_words(kind),
        row["place"],
        row["person"],
        job,
        done_at,
        plan["numbers"].get(row["screen"], ""),
    )


def moment_of(text: str) -> datetime:
    moment = parse_datetime(text)
    assert moment is not None
    return timezone.localtime(moment)
