"""What today asks for: the one next thing, the stations with something on them, and what wants a look."""

from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import timedelta
from itertools import chain

from django.db.models import Q
from django.db.models.functions import Coalesce
from django.urls import reverse

from frimble.coatings.coats.queries import current_coat
from frimble.coatings.models import Batch
from frimble.core import lifecycle, stations
from frimble.core.planning.stages.way import FILM
from frimble.core.units import show_minutes
from frimble.core.verdicts import BatchAge
from frimble.exposures.chart import queries as chart_queries
from frimble.exposures.chart.staleness import lamp_changed
from frimble.exposures.models import Run, StepTest
from frimble.exposures.room import LightRoom
from frimble.jobs.day.tasks import PlannedTask
from frimble.jobs.frame.floor import SHOWN
from frimble.jobs.turn import NO_PLAN, Turn
from frimble.screens.links import step_url
from frimble.screens.models import Screen
from frimble.screens.search.queries import slack_below

_LOOKED_AT = 4
# What one's next steps in the plan are called.
_THEN = ("Next", "Then")
# Trouble of a run of the lamp is told for so many days, and so many runs are read.
_TROUBLE_DAYS, _MOST_RUNS = 3, 50


@dataclass
class NextTask:
    """The largest thing on the page: a headline, a line under it, where it is done, and a time with its window.

    Attributes:
        then: what follows in the day plan, each with the word that calls it.
    """

    screen: object
    headline: str
    detail: str
    url: str
    button: str
    time: object = None
    then: Sequence[tuple[str, PlannedTask]] = ()


def next_thing(floor, settings, open_runs, turn: Turn = NO_PLAN) -> NextTask | None:
    """The one thing to do next, or None when nothing waits: by the day plan, or else what no plan speaks of."""
    running = next(iter(open_runs), None)
    if running:
        return NextTask(
            running.screen,
            f"The timer is open for {running.screen.code}",
            running.why,
            reverse("exposures:run", args=[running.pk]),
            "Go to the timer",
        )
    thing, then = _in_turn(floor, settings, turn)
    if thing:
        thing.then = list(zip(_THEN, then, strict=False))
        return thing
    # Whoever has no part in the plan sees what waits all the same, and whose it is.
    waiting = _waiting(floor, ())
    return _for(waiting, floor.now, settings, turn.others.get(waiting.code)) if waiting else None


def _in_turn(floor, settings, turn: Turn) -> tuple[NextTask | None, Sequence[PlannedTask]]:
    """What the plan asks for now, or what it does not speak of, or what it asks for later; and what comes then."""
    if turn.now:
        return _planned(turn.now, turn.screen, floor.now, settings), turn.ahead
    if waiting := _waiting(floor, turn.others.keys() | turn.kept):
        return _for(waiting, floor.now, settings), turn.ahead
    if turn.ahead:
        return _to_come(turn.ahead[0], floor.now, settings), turn.ahead[1:]
    return None, ()


def _waiting(floor, left_alone) -> Screen | None:
    """Of the screens that wait for a hand the one furthest along, and of those the oldest."""
    for station in stations.furthest_first():
        if floor.asking[station.name]:
            waiting = floor.screens(station.name).waiting_for_hand().exclude(frame__code__in=left_alone)
            if oldest := waiting.order_by(Coalesce("coated_at", "since")).first():
                return oldest
    return None


def _for(screen, now, settings, planned=None) -> NextTask:
    first = lifecycle.next_steps(screen.life, now, settings)[0]
    thing = _step(screen, first)
    if planned:
        thing.detail = f"{_by_plan(planned)} {thing.detail}"
    return thing


def _planned(task, screen, now, settings) -> NextTask:
    if task.kind == FILM:
        return NextTask(screen, f"{task.words} {task.screen}", _by_plan(task), task.url, "Add the film")
    thing = _step(screen, lifecycle.verdict(screen.life, task.kind, now, settings))
    thing.detail = f"{_by_plan(task)} {thing.detail}"
    return thing


def _to_come(task, now, settings) -> NextTask | None:
    """One's own next step in the plan, with what it waits for: its time, or something else."""
    screen = Screen.objects.for_lists().filter(frame__code=task.screen).first()
    if screen is None:
        return None
    words = _by_plan(task)
    if task.kind != FILM and task.start <= now:
        words += f" {lifecycle.verdict(screen.life, task.kind, now, settings).reason}"
    return NextTask(screen, f"{task.words} {task.screen} at {task.start:%H:%M}", words, task.url, task.words)


def _by_plan(task) -> str:
    """Whose step it is, when, and what for."""
    what_for = f", for {task.job}" if task.job else ""
    return f"By the day plan: {task.start:%H:%M}, {task.person}{what_for}."


def _step(screen, found) -> NextTask:
    """A step of a screen, by its verdict."""
    label = found.step.label
    thing = NextTask(screen, f"{label} {screen.code}", found.reason, step_url(found.step.kind, screen.code), label)
    if found.step.kind == "expose":
        _add_time(thing)
    elif screen.is_test and screen.state == lifecycle.State.WASHED:
        test = unread_test(screen)
        if test:
            thing.headline, thing.button = f"Read {test} on {screen.code}", "Read the test"
            thing.url, thing.detail = reverse("exposures:reading", args=[test.pk]), test.setup_words
    return thing


def _add_time(thing) -> None:
    """The calibrated time under the light this coat is usually given, or that there is none."""
    coat = current_coat(thing.screen)
    if coat is None:
        thing.detail = f"{thing.screen.mesh}. What lies on it is not on record: no time can be told."
        return
    thing.detail = f"{thing.screen.mesh}, {coat.formula}, {coat.batch}."
    entries = chart_queries.entries_in_force(mesh=thing.screen.mesh)
    light = chart_queries.usual_light(thing.screen, entries, coat)
    time, entry = chart_queries.time_for(thing.screen, *light, coat=coat, entries=entries) if light else (None, None)
    if entry:
        thing.time = time
        thing.detail += f" {entry.lamp}, {entry.film_process}."
    else:
        thing.detail += " No calibrated time exists for this coat: test first."


def unread_test(screen) -> StepTest | None:
    """The exposed test on this screen that nobody has read."""
    return StepTest.objects.filter(screen=screen, status=StepTest.Status.EXPOSED, readings__isnull=True).first()


def rows(floor, calibrated) -> list[dict]:
    """One row for each station with screens on it: name, screens, one line."""
    rows, first = [], floor.first_screens()
    for station in stations.STATIONS:
        if count := floor.counts[station.name]:
            screens = first[station.name]
            rows.append(
                {
                    "name": station.name,
                    "screens": screens,
                    "more": max(0, count - SHOWN),
                    "words": _row_words(station, screens, floor, calibrated),
                }
            )
    return rows


def _row_words(station, screens, floor, calibrated) -> str:
    if station.wet:
        return f"First may be let go in {show_minutes(floor.next_dry_min())}."
    if station.name == "expose":
        missing = chart_queries.uncalibrated(screens, calibrated)
        if missing:
            verb = "has" if len(missing) == 1 else "have"
            return f"{', '.join(missing[:3])} {verb} no calibrated time: test first."
    states = {lifecycle.STATE_WORDS[s]: floor.by_state[s] for s in station.states if floor.by_state[s]}
    return "; ".join(f"{count} {words}" for words, count in states.items()).capitalize() + "."


# What later places want to be looked at: each gives rows as below.
_LATER: list[Callable[[], list[dict]]] = []


def on_today(look: Callable[[], list[dict]]) -> Callable[[], list[dict]]:
    """Register what a later place wants to be looked at."""
    _LATER.append(look)
    return look


def lamp_runs(now) -> tuple[list[Run], list[Run]]:
    """Timers that are open, and those of the last days that had trouble, with their screens' signs."""
    lately = Q(status=Run.Status.DONE, made_at__gte=now - timedelta(days=_TROUBLE_DAYS)) & ~Q(trouble="")
    found = Run.objects.filter(Q(status=Run.Status.OPEN) | lately).order_by("-status", "pk")
    found = list(found.select_related("screen__frame", "screen__installation__mesh")[:_MOST_RUNS])
    return [r for r in found if r.status == Run.Status.OPEN], [r for r in found if r.status != Run.Status.OPEN]


def wants_a_look(floor, settings, calibrated, troubled) -> list[dict]:
    """Screens, batches, times and runs of the lamp that somebody should see to, each with its reason.

    Args:
        troubled: the second of `lamp_runs`.
    """
    looks = []
    keeps = settings["coat.keeps_days"]
    oldest = floor.screens("expose").filter(coated_at__lt=floor.now - timedelta(days=keeps + 1)).order_by("coated_at")
    for code, coated_at in oldest.values_list("frame__code", "coated_at")[:_LOOKED_AT]:
        days = (floor.now - coated_at).days
        looks.append(
            {
                "who": code,
                "words": f"was coated {days} days ago; coats keep {keeps:g}.",
                "url": reverse("screens:passport", args=[code]),
            }
        )
    poor = Screen.objects.filter(slack_below(settings)).order_by("tension_n_per_cm")
    for code, tension in poor.values_list("frame__code", "tension_n_per_cm")[:_LOOKED_AT]:
        looks.append(
            {
                "who": code,
                "words": f"is down to {tension:.1f} N/cm.",
                "url": reverse("screens:passport", args=[code]),
            }
        )
    for batch in Batch.objects.in_use():
        age = batch.age(floor.now, settings)
        if age.verdict != BatchAge.FRESH:
            looks.append(
                {
                    "who": str(batch),
                    "words": f"is {age.verdict}. {age.reason}",
                    "url": reverse("coatings:batch", args=[batch.code]),
                }
            )
    for last, _, strips in LightRoom(settings).drifts(calibrated):
        if strips.signal:
            looks.append(
                {
                    "who": f"{last.lamp}, {last.emulsion}",
                    "words": f"recalibrate. {strips.factor.reason}",
                    "url": reverse("exposures:lamp", args=[last.lamp_id]),
                }
            )
    looks += _changed_lamps(calibrated, settings)
    looks += chain.from_iterable(look() for look in _LATER)
    stale = settings["exposure.stale_days"]
    old = [t for t in calibrated if (floor.now - t.accepted_at).days > stale]
    if old:
        count = "1 calibrated time is" if len(old) == 1 else f"{len(old)} calibrated times are"
        looks.append(
            {"who": "Exposure chart", "words": f"{count} older than {stale:g} days.", "url": reverse("exposures:chart")}
        )
    for run in troubled:
        looks.append(
            {"who": run.screen.frame.code, "words": run.trouble, "url": reverse("exposures:run", args=[run.pk])}
        )
    return looks


def _changed_lamps(calibrated, settings) -> list[dict]:
    """Lamps that were moved or changed since times under them were accepted, each with how many times that spoils."""
    room, looks, under = LightRoom(settings), [], defaultdict(list)
    for time in calibrated:
        under[time.lamp].append(time)
    for lamp in sorted(under, key=lambda lamp: lamp.name):
        whys = [lamp_changed(lamp, t.accepted_at, t.lamp_distance_mm, room) for t in under[lamp]]
        if spoiled := [why for why in whys if why]:
            count = "1 calibrated time" if len(spoiled) == 1 else f"{len(spoiled)} calibrated times"
            words = f"no longer gives the light of {count}. {spoiled[-1]}"
            looks.append({"who": lamp.name, "words": words, "url": reverse("exposures:chart")})
    return looks
