"""The line at the left of every page: its stops, how many screens stand at each, and what is due."""

from dataclasses import dataclass
from datetime import datetime
from functools import cache

from django.db.models import Case, Count, DateTimeField, F, Min, Q, QuerySet, Value, When, Window
from django.db.models.functions import Coalesce, RowNumber
from django.urls import reverse
from django.utils import timezone

from frimble.coatings.batches import queries as batch_queries
from frimble.core import lifecycle, stations
from frimble.core.units import show_minutes
from frimble.exposures.models import Run
from frimble.jobs.prepared import Prepared
from frimble.screens.models import Screen

# Rows that every page may ask for: two timers and two screens are shown, and batches stand before them.
_MOST_RUNNING = 20
# Where a page stands does not change while the program runs.
_address = cache(reverse)


@dataclass(frozen=True)
class Stop:
    """One stop: name, address, what stands under the name, whether something there is due, its key."""

    name: str
    url: str
    words: str = ""
    due: bool = False
    key: str = ""


def _states(now: datetime) -> QuerySet:
    """How many screens are in each state, have a slot and are wet, and when the first of these is dry: a row a state."""
    # The few that may be wet are told first; and nothing is counted that the index does not hold.
    wet = Q(wet_until__gt=now) & Q(state__in=stations.DRIES)
    return (
        Screen.objects.order_by()
        .values("state")
        .annotate(
            number=Count("*"),
            in_slots=Count("slot"),
            wet=Count("wet_until", filter=wet),
            first_dry=Min("wet_until", filter=wet),
        )
        .values_list("state", "number", "in_slots", "wet", "first_dry")
    )


_STATES = Prepared(_states)


@dataclass(frozen=True)
class StationCounts:
    """How many screens stand at each station and ask for a hand there; counted, not read."""

    now: object
    by_state: dict[str, int]
    counts: dict[str, int]
    asking: dict[str, int]
    first_dry_at: object
    racked: int
    total: int

    @classmethod
    def read(cls):
        now = timezone.now()
        at_rest, counts, asking = dict.fromkeys(lifecycle.State, 0), {}, {}
        drying, racked, first_dry = 0, 0, []
        for state, number, in_slots, wet_ones, first in _STATES.rows(now):
            at_rest[state] = number - wet_ones
            drying, racked = drying + wet_ones, racked + in_slots
            first_dry += [first] if first else []
        for station in stations.STATIONS:
            counts[station.name] = drying if station.wet else sum(at_rest[s] for s in station.states)
            asking[station.name] = sum(at_rest[s] for s in station.states if s not in stations.RESTS)
        total = drying + sum(at_rest.values())
        return cls(now, at_rest, counts, asking, min(first_dry, default=None), racked, total)

    def screens(self, name):
        """The screens at a station."""
        return Screen.objects.for_lists().at_station(name, self.now)

    def first_screens(self, number):
        """The first few screens of each station, by its name, in one query."""
        place = Window(RowNumber(), partition_by="station", order_by=Coalesce("coated_at", "since").asc())
        station = _station_case(self.now)
        waiting = Screen.objects.at_work().annotate(station=station).exclude(station="")
        # Ranked by their numbers alone: what a sign needs is read only for those that are shown.
        first = waiting.annotate(place=place).filter(place__lte=number).values("pk")
        by_name = {s.name: [] for s in stations.STATIONS}
        for screen in Screen.objects.for_lists().annotate(station=station).filter(pk__in=first):
            by_name[screen.station].append(screen)
        return by_name

    def next_dry_min(self):
        """Minutes until the first wet screen is dry, or None."""
        return (self.first_dry_at - self.now).total_seconds() / 60 if self.first_dry_at else None


def _station_case(now):
    """The station of each screen, as the database can tell it."""
    dries = Q(state__in=stations.DRIES, wet_until__gt=now)
    wet = [When(dries, then=Value(s.name)) for s in stations.STATIONS if s.wet]
    rest = [When(state__in=s.states, then=Value(s.name)) for s in stations.STATIONS if not s.wet]
    return Case(*wet, *rest, default=Value(""))


def floor_of(request) -> StationCounts:
    """The floor, read once for a request."""
    if not hasattr(request, "frimble_floor"):
        request.frimble_floor = StationCounts.read()
    return request.frimble_floor


def open_runs() -> list[Run]:
    """The timers that are open with their screens' signs, for a page that shows these."""
    runs = Run.objects.filter(status=Run.Status.OPEN)
    return list(runs.select_related("screen__frame", "screen__installation__mesh")[:2])


@dataclass(frozen=True)
class Running:
    """What every page counts down: (run, screen) of open timers, (screen, state, until) of what dries first, moved batches.

    Attributes:
        moved: keys of the batches that were lately moved, from the cold perhaps.
    """

    timers: list[tuple[int, str]]
    drying: list[tuple[str, str, datetime]]
    moved: list[int]


def _runs_and_dries(now: datetime, lately: datetime) -> QuerySet:
    """Open timers, screens that dry and batches that were lately moved, without the fifty columns of a list."""
    never, columns = Value(None, output_field=DateTimeField()), ("what", "pk", "screen_code", "sign", "until")
    runs = Run.objects.filter(status=Run.Status.OPEN).order_by()
    lamps = runs.annotate(what=Value("lamp"), screen_code=F("screen__frame__code"), sign=Value(""), until=never)
    dry = Screen.objects.at_station("dry", now).order_by()
    wet = dry.annotate(what=Value("wet"), screen_code=F("frame__code"), sign=F("state"), until=F("wet_until"))
    moves = batch_queries.moved_since(lately).annotate(what=Value("batch"), until=never)
    moved = moves.values_list("what", "batch", Value(""), Value(""), "until").distinct()
    rows = lamps.values_list(*columns).union(wet.values_list(*columns), moved, all=True).order_by("what", "until")
    return rows[:_MOST_RUNNING]


_RUNS_AND_DRIES = Prepared(_runs_and_dries)


def running(floor: StationCounts) -> Running:
    """What runs now, in one query: every page asks for it."""
    found = _RUNS_AND_DRIES.rows(floor.now, batch_queries.warming_since(floor.now))
    return Running(
        [(pk, code) for what, pk, code, *_ in found if what == "lamp"][:2],
        [(code, state, until) for what, _, code, state, until in found if what == "wet"][:2],
        [pk for what, pk, *_ in found if what == "batch"],
    )


def stops(floor: StationCounts) -> list[Stop]:
    """The stops in the order the work goes."""
    due_all = sum(floor.asking.values())
    line = [
        Stop("Today", _address("jobs:today"), f"{due_all} due" if due_all else "", bool(due_all), "1"),
        Stop("Film", _address("films:films"), "", False, "2"),
        Stop("Mesh", _address("screens:meshes"), "", False, "3"),
    ]
    for s in stations.STATIONS:
        url = _address(s.page) if s.page else _address("screens:station", args=(s.name,))
        line.append(Stop(s.title, url, _words(floor, s), bool(floor.asking[s.name]), s.key))
    line.append(Stop("Rack", _address("screens:rack"), f"{floor.racked} of {floor.total}", False, "0"))
    return line


def _words(floor, station):
    count = floor.counts[station.name]
    if not count:
        return ""
    if station.wet:
        return f"{count}, first {show_minutes(floor.next_dry_min())}"
    return f"{count} {station.waiting}"


# What later places put at the end of the side line: name and page.
_LATER: dict[str, str] = {}


def add_side_stop(name: str, page: str) -> None:
    """A later place names its own stop when it is ready."""
    _LATER[name] = page


def side_stops() -> list[Stop]:
    return [
        Stop("Screens", _address("screens:search")),
        Stop("Jobs", _address("jobs:jobs")),
        Stop("Chart", _address("exposures:chart")),
        Stop("Batches", _address("coatings:batches")),
        Stop("People", _address("people:people")),
        Stop("Settings", _address("people:settings")),
        Stop("How to", _address("handbook:topics")),
        *(Stop(name, _address(page)) for name, page in _LATER.items()),
    ]
