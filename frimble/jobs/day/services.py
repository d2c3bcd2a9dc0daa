"""A plan of the day is made, at once and then better, and kept."""

import logging
from datetime import timedelta

from django.db import transaction
from django.utils import timezone
from django_tasks import task

from frimble.core.conclusions import RuleViolation
from frimble.jobs.day import queries
from frimble.jobs.models import PlannedDay
from frimble.people import settings as house_settings

logger = logging.getLogger(__name__)

# Seconds of search behind the page, and for each change that might help.
_SEARCH_S, _HELP_S = 12.0, 2.0


def plan_now(person) -> PlannedDay:
    """A plan by rules at once; a better one follows by itself.

    Raises:
        RuleViolation: there is nothing to plan, or nobody who could work.
    """
    from frimble.core.planning.planning import first_plan

    found = queries.room_day(house_settings.current(), timezone.now())
    with transaction.atomic():
        kept = PlannedDay.objects.create(plan=plain(found, first_plan(found.day)), at=timezone.now(), by=person)
        transaction.on_commit(lambda: improve.enqueue(kept.pk))
    return kept


@task
def improve(pk: int) -> None:
    """Search for a better plan than one that was made at once, and for what would help where it ends late."""
    from frimble.core.planning.helping import what_would_help
    from frimble.core.planning.planning import plan_day

    first = PlannedDay.objects.get(pk=pk)
    if PlannedDay.objects.filter(pk__gt=pk).exists():
        return
    now = timezone.now()
    try:
        found = queries.room_day(house_settings.current(), now)
    except RuleViolation:
        # All was done meanwhile: the first plan stands, and nobody waits for a better one.
        PlannedDay.objects.create(plan=first.plan, better_than=first, at=first.at, by=first.by)
        return
    better = plan_day(found.day, _SEARCH_S)
    helps = what_would_help(found.day, better, _HELP_S) if better.cost.late > 0 else []
    PlannedDay.objects.create(plan=plain(found, better, helps), better_than=first, at=now, by=first.by)


def plain(found: queries.RoomDay, plan, helps=()) -> dict:
    """A plan as plain values, its moments with their zone."""
    steps = {screen.code: screen.steps for screen in found.day.screens}

    def at(minute):
        return (found.start + timedelta(minutes=minute)).isoformat()

    return {
        "start": at(0),
        "end": at(found.day.end),
        "tasks": [
            {
                "screen": task.screen,
                "kind": steps[task.screen][task.step].kind,
                "place": steps[task.screen][task.step].workstation or "",
                "start": at(task.start),
                "end": at(task.end),
                "person": task.person or "",
            }
            for task in plan.tasks
        ],
        "jobs": found.jobs,
        "due": {s.code: at(s.due) for s in found.day.screens if s.due is not None},
        "status": plan.status,
        "late": plan.cost.late,
        "bound": plan.bound,
        "left_out": list(plan.left_out),
        "why": dict(plan.why),
        "helps": [{"words": h.words, "late": h.late, "left_out": h.left_out} for h in helps],
    }
