"""The room's day as the planner takes it: who is there, how many places, and what each screen still goes through."""

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from math import ceil
from operator import itemgetter

from django.db.models import DateTimeField, Value
from django.utils import timezone

from frimble.coatings.drying import learning as drying_learning
from frimble.coatings.drying import queries as drying_queries
from frimble.coatings.models import Batch
from frimble.core.coating.formula import parse_formula
from frimble.core.conclusions import RuleViolation
from frimble.core.lifecycle import Line, State
from frimble.core.planning.day import Day, ScreenWork, Step
from frimble.core.planning.dayplan import DayPlan, ends_of
from frimble.core.planning.stages.way import (
    BENCH,
    BOOTH,
    CABINET,
    FILM,
    LAMP,
    PRINTER,
    SINK,
    SKILLS,
    can_go_on,
    film_step,
    has_way,
    wants_film,
    way,
)
from frimble.exposures.models import Lamp
from frimble.jobs.choosing.queries import on_its_way, open_needs
from frimble.jobs.day.due import due_at
from frimble.jobs.day.hours.queries import next_day
from frimble.jobs.day.unplanned import too_many, unplanned
from frimble.jobs.models import PlannedDay, ScreenNeed
from frimble.screens.models import Screen, ScreenEvent

# When steps were recorded, by screen and kind: a coat of two layers is recorded twice.
Done = Mapping[tuple[str, str], Sequence[datetime]]

# More screens than this no room makes in a day; the first due are planned.
_MOST_SCREENS = 60
# Emulsion under way without a job is finished too, but nobody waits for it.
_IDLE = 0.1
# Late screens for which another mesh is thought of.
_OTHER_MESHES = 3
_UNCOATED = (State.BARE, State.DEGREASED)


@dataclass(frozen=True)
class RoomDay:
    """A day to plan, and for which job each screen is made.

    Attributes:
        start: its first moment, with its zone. jobs, numbers: what each screen is held for, and of which job, by its code.
        films: of the screens that want one made. settings: that it was worked out with. unplanned: what jobs want
            that cannot be planned, and why.
    """

    day: Day
    start: datetime
    jobs: dict[str, str]
    numbers: dict[str, str]
    films: dict[str, Step]
    settings: Mapping
    unplanned: list[dict[str, str]]


def room_day(settings, now: datetime) -> RoomDay:
    """Today from now on; from the end of the day on, the next one on which somebody is there.

    Raises:
        RuleViolation: there is nothing to plan, or nobody who could work.
    """
    start, end, shifts = next_day(settings, timezone.localtime(now))
    minutes = int((end - start).total_seconds() // 60)
    wanted = list(open_needs().select_related("frame__screen__installation__mesh"))
    needs = [need for need in wanted if need.frame]
    dries = _LayersToCome(settings)
    works = {w.code: w for w in (_held(need, settings, start, dries) for need in needs) if w is not None}
    for screen in Screen.objects.for_lists().at_work().exclude(frame__code__in=works).order_by("since"):
        if can_go_on(screen.state) and not screen.is_test:
            works[screen.code] = ScreenWork(screen.code, way(on_its_way(screen, start), settings), weight=_IDLE)
    beside = unplanned(wanted, works, end, settings)
    stuck = [row for row in beside if row["screen"]]
    if not works and stuck:
        raise RuleViolation(f"Nothing can be planned. {stuck[0]['job']}: {stuck[0]['words']}.")
    if not works:
        raise RuleViolation("No screen is under way and none is held for a job: choose the jobs' screens first.")
    by_due = sorted(works.values(), key=lambda w: (w.due is None, w.due or 0, w.code))
    keys = {need.frame.code: need.key for need in needs}
    beside += too_many([w.code for w in by_due[_MOST_SCREENS:]], keys, _MOST_SCREENS)
    naive = start.replace(tzinfo=None)
    return RoomDay(
        Day(naive, minutes, tuple(shifts), places(settings), tuple(by_due[:_MOST_SCREENS])),
        start,
        keys,
        {need.frame.code: need.job.number for need in needs},
        {need.frame.code: film_step(settings) for need in needs if _wants_film(need, start)},
        settings,
        beside,
    )


def _wants_film(need: ScreenNeed, start: datetime) -> bool:
    """A colour that is named has a film of its own."""
    return bool(need.colour) and need.film_id is None and wants_film(on_its_way(need.frame.screen, start))


def places(settings) -> dict[str, int]:
    """How many screens each workstation takes at once."""
    return {
        SINK: int(settings["day.sinks"]),
        CABINET: int(settings["day.cabinet_places"]),
        BENCH: 1,
        LAMP: max(1, Lamp.objects.exclude(kind=Lamp.SUN).count()),
        BOOTH: int(settings["day.booths"]),
        PRINTER: 1,
    }


def _held(need, settings, start, dries: "_LayersToCome") -> ScreenWork | None:
    screen = need.frame.screen
    if not has_way(State(screen.state)) or screen.is_test or screen.installation.line != Line.PHOTO:
        return None
    formula = parse_formula(need.formula, settings)
    stands = on_its_way(screen, start, len(formula.layers), *dries.minutes(need.mesh, formula))
    due = due_at(need, settings)
    minutes = None if due is None else int((due - start).total_seconds() // 60)
    return ScreenWork(screen.code, way(stands, settings), minutes)


class _LayersToCome:
    """How long layers that are still to be laid dry, by what is known here, from the batch in use and the air now."""

    def __init__(self, settings) -> None:
        self._settings = settings
        self._batch = Batch.objects.in_use().first()
        self._air = drying_queries.air_now(settings)

    def minutes(self, mesh, formula) -> tuple[int | None, int | None]:
        """Of a first layer, and at most; None where no emulsion is open or the air dries nothing."""
        if self._batch is None:
            return None, None
        found = drying_learning.expected(mesh, formula, 1, self._batch.emulsion, self._air, self._settings)
        if found.value is None:
            return None, None
        return round(found.value), None if found.high is None else ceil(found.high)


def other_meshes(found: RoomDay, plan: DayPlan) -> Iterator[tuple[str, Day]]:
    """The day with a late, uncoated screen on the next finer mesh that is at hand, where a layer dries sooner."""
    ends = ends_of(plan.tasks)
    late = {s.code for s in found.day.screens if s.minutes_late(ends.get(s.code, found.day.left_out_end))}
    dries = _LayersToCome(found.settings)
    needs = open_needs().filter(frame__code__in=late).select_related("frame__screen__installation__mesh")
    for need in needs.filter(frame__screen__state__in=_UNCOATED)[:_OTHER_MESHES]:
        other = _finer_at_hand(need.mesh)
        if other is None:
            continue
        need.mesh = other.installation.mesh
        work = _held(need, found.settings, found.start, dries)
        screens = tuple(work if s.code == work.code else s for s in found.day.screens)
        yield f"{need.key} on {need.mesh} ({other.code}), with less ink", replace(found.day, screens=screens)


def _finer_at_hand(mesh) -> Screen | None:
    """A free, uncoated screen of the next finer mesh."""
    free = Screen.objects.for_lists().filter(
        installation__mesh__count_per_cm__gt=mesh.count_per_cm, installation__mesh__thermal=False, state__in=_UNCOATED
    )
    return free.filter(frame__held_for__isnull=True).order_by("installation__mesh__count_per_cm", "frame__code").first()


def last_plan() -> PlannedDay | None:
    return PlannedDay.objects.select_related("by").last()


def done_in(kept: PlannedDay) -> Done:
    """When a plan's steps were recorded since it was made; one taken back does not count."""
    codes = {row["screen"] for row in kept.plan["tasks"]}
    steps = ScreenEvent.objects.filter(
        installation__frame__code__in=codes, kind__in=SKILLS, at__gte=kept.at, replaced_by__isnull=True
    )
    films = open_needs().filter(frame__code__in=codes, film__isnull=False).order_by()
    made = films.values_list("frame__code", Value(FILM), Value(kept.at, DateTimeField()))
    rows = steps.order_by().values_list("installation__frame__code", "kind", "at").union(made, all=True)
    done: dict[tuple[str, str], list[datetime]] = defaultdict(list)
    for code, kind, at in sorted(rows, key=itemgetter(2)):
        done[code, kind].append(at)
    return done
