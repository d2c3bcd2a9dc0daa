"""The line at the left of every page: its stops, how many screens stand at each, and what is due."""

from dataclasses import dataclass

from django.db.models import Case, Count, Min, Q, Value, When, Window
from django.db.models.functions import Coalesce, RowNumber
from django.urls import reverse
from django.utils import timezone

from frimble.core import lifecycle, stations
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
        wet = Q(state__in=stations.DRIES, wet_until__gt=now)
        numbers = Screen.objects.aggregate(
            total=Count("pk"),
            racked=Count("slot"),
            first=Min("wet_until", filter=wet),
            dry=Count("pk", filter=wet),
            **{f"{state}_": Count("pk", filter=Q(state=state) & ~wet) for state in lifecycle.State},
        )
        counts, asking = {}, {}
        for station in stations.STATIONS:
            counts[station.name] = numbers["dry"] if station.wet else sum(numbers[f"{s}_"] for s in station.states)
            asking[station.name] = sum(numbers[f"{s}_"] for s in station.states if s not in stations.RESTS)
        by_state = {state: numbers[f"{state}_"] for state in lifecycle.State}
        return cls(now, by_state, counts, asking, numbers["first"], numbers["racked"], numbers["total"])

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


def open_runs_of(request) -> list[Run]:
    """The timers that are open, read once for a request."""
    if not hasattr(request, "frimble_open_runs"):
        open_runs = Run.objects.filter(status=Run.Status.OPEN)
        request.frimble_open_runs = list(open_runs.select_related("screen__frame", "screen__installation__mesh")[:2])
    return request.frimble_open_runs


def stops(floor: StationCounts) -> list[Stop]:
    """The stops in the order the work goes."""
    due_all = sum(floor.asking.values())
    line = [
        Stop("Today", reverse("jobs:today"), f"{due_all} due" if due_all else "", bool(due_all), "1"),
        Stop("Film", reverse("films:films"), "", False, "2"),
        Stop("Mesh", reverse("screens:meshes"), "", False, "3"),
    ]
    for s in stations.STATIONS:
        url = reverse(s.page) if s.page else reverse("screens:station", args=[s.name])
        line.append(Stop(s.title, url, _words(floor, s), bool(floor.asking[s.name]), s.key))
    line.append(Stop("Rack", reverse("screens:rack"), f"{floor.racked} of {floor.total}", False, "0"))
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
        Stop("Screens", reverse("screens:search")),
        Stop("Jobs", reverse("jobs:jobs")),
        Stop("Chart", reverse("exposures:chart")),
        Stop("Batches", reverse("coatings:batches")),
        Stop("People", reverse("people:people")),
        Stop("Settings", reverse("people:settings")),
        *(Stop(name, reverse(page)) for name, page in _LATER.items()),
    ]
