"""A plan of the day is made, at once and then better, and kept; screens are frozen where they stand in it."""

import logging
from dataclasses import dataclass

from django.db import transaction
from django.utils import timezone

from frimble.core.conclusions import RuleViolation
from frimble.core.planning.dayplan import Status
from frimble.core.planning.stages.going_on import with_what_goes_on
from frimble.core.planning.standing import Standing, standing_of, under_way
from frimble.jobs.day import earlier, queries
from frimble.jobs.day.durations import with_learned
from frimble.jobs.models import PlannedDay
from frimble.people import settings as house_settings
from frimble.people.room_time import task

logger = logging.getLogger(__name__)

# Seconds of search behind the page: for the plan, for one that takes no heed of an earlier one, for each help.
_SEARCH_S, _ANEW_S, _HELP_S = 12.0, 4.0, 2.0


@dataclass(frozen=True)
class _Asked:
    """A day to plan, with the plan that people go by; `before` is its steps."""

    found: queries.RoomDay
    kept: PlannedDay | None
    before: dict
    change_min: float

    @property
    def frozen(self) -> list[str]:
        return self.kept.plan["frozen"] if self.kept else []

    def plan(self, seconds: float):
        """The plan with its films, and where it stands against the earlier one."""
        made = self._planned(under_way(self.found.day, self.before), seconds)
        if made.plan.status is Status.INFEASIBLE:
            # Whoever had begun it is gone, or its place is: nobody goes on with it where it was left.
            made = self._planned(self.found.day, seconds)
        return made, self.standing(made.day)

    def _planned(self, day, seconds: float):
        from frimble.core.planning.planning import plan_day
        from frimble.core.planning.stages.films import plan_with_films

        return plan_with_films(
            with_what_goes_on(day),
            self.found.films,
            lambda day: plan_day(day, seconds, standing=self.standing(day)),
        )

    def standing(self, day) -> Standing:
        return standing_of(day, self.before, self.frozen, self.change_min)


def plan_now(person, *, anew: bool = False) -> PlannedDay:
    """A plan at once; a better one follows by itself. A plan of the same day stands where that is worth it.

    Args:
        anew: no heed is taken of an earlier plan.

    Raises:
        RuleViolation: there is nothing to plan, or nobody who could work.
    """
    asked = _asked(None if anew else queries.last_plan())
    plan, standing = asked.plan(0)
    with transaction.atomic():
        kept = _keep(asked, plan, standing, person)
        transaction.on_commit(lambda: improve.enqueue(kept.pk))
    return kept


@task
def improve(pk: int) -> None:
    """Search for a better plan than one that was made at once, and for what would help where it ends late."""
    from frimble.core.planning.helping import what_would_help

    first, newest = PlannedDay.objects.get(pk=pk), queries.last_plan()
    if newest != first and newest.better_than_id != pk:
        return
    # Whoever has frozen a screen meanwhile has frozen it where the first plan put it.
    goes_by = PlannedDay.objects.filter(pk=first.plan["earlier"]).first() if newest == first else newest
    try:
        asked = _asked(goes_by)
    except RuleViolation:
        # All was done meanwhile: the first plan stands, and nobody waits for a better one.
        plan = newest.plan | {"searched": True}
        PlannedDay.objects.create(plan=plan, better_than=first, at=first.at, by=first.by)
        return
    plan, standing = asked.plan(_SEARCH_S)
    helps, anew = [], None
    if plan.plan.cost.late > 0:
        free = _asked(None)
        other, _ = free.plan(_ANEW_S)
        helps = what_would_help(free.found.day, other.plan, _HELP_S, queries.other_meshes(free.found, plan.plan))
        if asked.kept and other.plan.cost.late < plan.plan.cost.late:
            anew = {"late": other.plan.cost.late, "moved": len(standing.moved(other.plan.tasks))}
    _keep(asked, plan, standing, first.by, better_than=first, helps=helps, anew=anew)


def freeze(code: str, person, *, frozen: bool) -> PlannedDay:
    """A screen's steps stay where they are in the plan when the day is planned again, or are free again.

    Raises:
        RuleViolation: no day is planned, or the screen is not in its plan.
    """
    with transaction.atomic():
        kept = PlannedDay.objects.select_for_update().last()
        if kept is None or code not in {row["screen"] for row in kept.plan["tasks"]}:
            raise RuleViolation(f"{code} is in no plan of this day.")
        codes = {*kept.plan["frozen"], code} if frozen else {*kept.plan["frozen"]} - {code}
        plan = kept.plan | {"frozen": sorted(codes)}
        # All of one plan name its first, so that whoever searches for a better one finds the newest.
        return PlannedDay.objects.create(plan=plan, better_than=kept.better_than or kept, at=kept.at, by=person)


def _asked(kept: PlannedDay | None) -> _Asked:
    settings = house_settings.current()
    found = queries.room_day(with_learned(settings), timezone.now())
    if not earlier.still_goes(kept, found):
        kept = None
    before = earlier.planned_before(kept, found) if kept else {}
    return _Asked(found, kept, before, settings["day.change_min"])


def _keep(asked: _Asked, plan, standing: Standing, person, *, better_than=None, helps=(), anew=None) -> PlannedDay:
    from frimble.jobs.day.written import written

    plain = written(
        asked.found,
        plan,
        standing,
        helps,
        anew=anew,
        earlier=asked.kept.pk if asked.kept else None,
        searched=better_than is not None,
    )
    return PlannedDay.objects.create(plan=plain, better_than=better_than, at=timezone.now(), by=person)
