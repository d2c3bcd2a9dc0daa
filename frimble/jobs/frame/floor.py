"""What stands and runs in the room now, read for every page in one query: screens at each station, timers, what dries."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db.models import (
    Case,
    CharField,
    Count,
    DateTimeField,
    F,
    IntegerField,
    Min,
    Q,
    QuerySet,
    Value,
    When,
    Window,
)
from django.db.models.functions import Cast, Coalesce, RowNumber
from django.utils import timezone

from frimble.coatings.batches import queries as batch_queries
from frimble.core import lifecycle, stations
from frimble.exposures.models import Run
from frimble.people.cached import Prepared
from frimble.screens.models import Screen

# Rows beside those of the states: two timers and two screens are shown, and batches stand before them.
_MOST_RUNNING = 20
# Screens of a station that a page shows.
SHOWN = 6
# What a row of the one query is; states come first, of which there are few.
_STATE, _BATCH, _LAMP, _WET = range(4)


@dataclass(frozen=True)
class Running:
    """What every page counts down: (run, screen) of open timers, (screen, state, until) of what dries first, moved batches.

    Attributes:
        moved: keys of the batches that were lately moved, from the cold perhaps.
    """

    timers: list[tuple[int, str]]
    drying: list[tuple[str, str, datetime]]
    moved: list[int]


@dataclass(frozen=True)
class Floor:
    """How many screens stand at each station and ask for a hand there, counted, not read; and what runs."""

    now: datetime
    by_state: dict[str, int]
    counts: dict[str, int]
    asking: dict[str, int]
    first_dry_at: datetime | None
    racked: int
    total: int
    running: Running

    @classmethod
    def read(cls) -> "Floor":
        now = timezone.now()
        rows = _FLOOR.rows(now, batch_queries.warming_since(now))
        at_rest, counts, asking = dict.fromkeys(lifecycle.State, 0), {}, {}
        drying, racked, first_dry = 0, 0, []
        for what, number, state, _, in_slots, wet, first in rows:
            if what == _STATE:
                at_rest[state] = number - wet
                drying, racked = drying + wet, racked + in_slots
                first_dry += [first] if first else []
        for station in stations.STATIONS:
            counts[station.name] = drying if station.wet else sum(at_rest[s] for s in station.states)
            asking[station.name] = sum(at_rest[s] for s in station.states if s not in stations.RESTS)
        total = drying + sum(at_rest.values())
        return cls(now, at_rest, counts, asking, min(first_dry, default=None), racked, total, _running(rows))

    def screens(self, name):
        """The screens at a station."""
        return Screen.objects.for_lists().at_station(name, self.now)

    def first_screens(self) -> dict[str, list[Screen]]:
        """The first screens of each station, by its name: as many as are shown."""
        # Ranked by their numbers alone: what a sign needs is read only for those that are shown.
        station_of = dict(_FIRST.rows(self.now))
        by_name: dict[str, list[Screen]] = {s.name: [] for s in stations.STATIONS}
        for screen in Screen.objects.for_lists().filter(pk__in=station_of):
            by_name[station_of[screen.pk]].append(screen)
        return by_name

    def next_dry_min(self):
        """Minutes until the first wet screen is dry, or None."""
        return (self.first_dry_at - self.now).total_seconds() / 60 if self.first_dry_at else None


def floor_of(request) -> Floor:
    """The floor, read once for a request."""
    if not hasattr(request, "frimble_floor"):
        request.frimble_floor = Floor.read()
    return request.frimble_floor


def _running(rows: list[tuple[Any, ...]]) -> Running:
    return Running(
        [(pk, code) for what, pk, code, *_ in rows if what == _LAMP][:2],
        [(code, state, until) for what, _, code, state, *_, until in rows if what == _WET][:2],
        [pk for what, pk, *_ in rows if what == _BATCH],
    )


def _rows(now: datetime, lately: datetime) -> QuerySet:
    """A row a state (how many, its name, how many have a slot and are wet, when the first is dry); then moved batches,
    open timers and screens that dry: key, screen, state, until."""
    # The few that may be wet are told first, and nothing is counted that the index does not hold.
    wet = Q(wet_until__gt=now) & Q(state__in=stations.DRIES)
    states = Screen.objects.order_by().values("state").annotate(
        what=Value(_STATE, IntegerField()),
        number=Count("*"),
        sign=Value("", CharField()),
        in_slots=Count("slot"),
        wet=Count("wet_until", filter=wet),
        until=Min("wet_until", filter=wet),
    )  # fmt: skip
    running = [
        batch_queries.moved_since(lately).annotate(**_row(_BATCH, F("batch"))).distinct(),
        Run.objects.filter(status=Run.Status.OPEN).order_by().annotate(**_row(_LAMP, F("pk"), F("screen__frame__code"))),
        Screen.objects.at_station("dry", now).order_by().annotate(
            **_row(_WET, F("pk"), F("frame__code"), F("state"), F("wet_until"))
        ),
    ]  # fmt: skip
    columns = ("what", "number", "code", "sign", "in_slots", "wet", "until")
    first = states.values_list("what", "number", "state", *columns[3:])
    both = first.union(*(rows.values_list(*columns) for rows in running), all=True)
    return both.order_by("what", "until")[: _MOST_RUNNING + len(lifecycle.State)]


def _row(what: int, number, code=None, sign=None, until=None) -> dict[str, Any]:
    """The columns of a row of what runs; of a batch its key alone."""
    nothing, none = Value("", CharField()), Value(0, IntegerField())
    return {
        "what": Value(what, IntegerField()),
        "number": number,
        "code": code or nothing,
        "sign": sign or nothing,
        "in_slots": none,
        "wet": none,
        # Cast: a nothing of no type is a text to PostgreSQL.
        "until": until or Cast(Value(None), DateTimeField()),
    }


_FLOOR = Prepared(_rows)


def _first_rows(now: datetime) -> QuerySet:
    """(key, station) of the first screens at each station."""
    place = Window(RowNumber(), partition_by="station", order_by=Coalesce("coated_at", "since").asc())
    # By their states first: most screens rest, and an index tells which.
    states = [state for station in stations.STATIONS for state in station.states]
    waiting = Screen.objects.filter(state__in=states).annotate(station=_station_case(now))
    return waiting.annotate(place=place).filter(place__lte=SHOWN).order_by().values_list("pk", "station")


def _station_case(now):
    """The station of each screen, as the database can tell it."""
    dries = Q(state__in=stations.DRIES, wet_until__gt=now)
    wet = [When(dries, then=Value(s.name)) for s in stations.STATIONS if s.wet]
    rest = [When(state__in=s.states, then=Value(s.name)) for s in stations.STATIONS if not s.wet]
    return Case(*wet, *rest, default=Value(""))


_FIRST = Prepared(_first_rows)
