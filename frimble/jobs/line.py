"""The line at the left of every page: its stops, how many screens stand at each, and what is due."""

from dataclasses import dataclass

from django.db.models import Case, Count, Min, Q, Value, When, Window
from django.db.models.functions import Coalesce, RowNumber
from django.urls import reverse
from django.utils import timezone

from frimble.core import lifecycle
from frimble.core.units import show_minutes
from frimble.exposures.models import Run
from frimble.screens.models import Screen


@dataclass(frozen=True)
class Stop:
    """One stop: name, address, what stands under the name, whether something there is due, its key."""

    name: str
    url: str
    words: str = ""
    due: bool = False
    key: str = ""


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
        wet = Q(state__in=lifecycle.DRIES, wet_until__gt=now)
        told = Screen.objects.aggregate(
            total=Count("pk"),
            racked=Count("slot"),
            first=Min("wet_until", filter=wet),
            dry=Count("pk", filter=wet),
            **{f"{state}_": Count("pk", filter=Q(state=state) & ~wet) for state in lifecycle.State},
        )
        counts, asking = {}, {"dry": 0}
        for name in lifecycle.STATIONS:
            states = lifecycle.states_at(name)
            counts[name] = told["dry"] if name == "dry" else sum(told[f"{s}_"] for s in states)
            if name != "dry":
                asking[name] = sum(told[f"{s}_"] for s in states if s not in lifecycle.RESTS)
        by_state = {state: told[f"{state}_"] for state in lifecycle.State}
        return cls(now, by_state, counts, asking, told["first"], told["racked"], told["total"])

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
        by_name = {name: [] for name in lifecycle.STATIONS}
        for screen in Screen.objects.for_lists().annotate(station=station).filter(pk__in=first):
            by_name[screen.station].append(screen)
        return by_name

    def next_dry_min(self):
        """Minutes until the first wet screen is dry, or None."""
        return (self.first_dry_at - self.now).total_seconds() / 60 if self.first_dry_at else None


def _station_case(now):
    """The station of each screen, as the database can tell it."""
    dries = Q(state__in=lifecycle.DRIES, wet_until__gt=now)
    whens = [
        When(state__in=lifecycle.states_at(name), then=Value(name)) for name in lifecycle.STATIONS if name != "dry"
    ]
    return Case(When(dries, then=Value("dry")), *whens, default=Value(""))


def floor_of(request) -> StationCounts:
    """The floor, read once for a request."""
    if not hasattr(request, "frimble_floor"):
        request.frimble_floor = StationCounts.read()
    return request.frimble_floor


def open_runs_of(request) -> list[Run]:
    """The timers that are open, read once for a request."""
    if not hasattr(request, "frimble_open_runs"):
        open_runs = Run.objects.filter(status=Run.Status.OPEN)
        request.frimble_open_runs = list(open_runs.select_related("screen__frame", "screen__installation__mesh")[:2])
    return request.frimble_open_runs


_WORDS = {"coat": "to coat", "expose": "ready", "wash": "at booth", "press": "for press", "reclaim": "to clear"}


def stops(floor: StationCounts) -> list[Stop]:
    """The stops in the order the work goes."""
    due_all = sum(floor.asking.values())
    line = [
        Stop("Today", reverse("jobs:today"), f"{due_all} due" if due_all else "", bool(due_all), "1"),
        Stop("Film", reverse("films:films"), "", False, "2"),
        Stop("Mesh", reverse("screens:meshes"), "", False, "3"),
    ]
    for key, name in zip("456789", lifecycle.STATIONS, strict=True):
        line.append(
            Stop(
                name.capitalize(),
                reverse("coatings:drying") if name == "dry" else reverse("screens:station", args=[name]),
                _words(floor, name),
                bool(floor.asking[name]),
                key,
            )
        )
    line.append(Stop("Rack", reverse("screens:rack"), f"{floor.racked} of {floor.total}", False, "0"))
    return line


def _words(floor, name):
    count = floor.counts[name]
    if not count:
        return ""
    if name == "dry":
        return f"{count}, first {show_minutes(floor.next_dry_min())}"
    return f"{count} {_WORDS[name]}"


def side_stops() -> list[Stop]:
    return [
        Stop("Screens", reverse("screens:search")),
        Stop("Jobs", reverse("jobs:jobs")),
        Stop("Chart", reverse("exposures:chart")),
        Stop("Batches", reverse("coatings:batches")),
        Stop("Settings", reverse("people:settings")),
    ]
