"""The line at the left of every page: its stops, how many screens stand at each, and what is due."""

from dataclasses import dataclass

from django.urls import reverse
from django.utils import timezone

from frimble.core import lifecycle
from frimble.core.units import show_minutes
from frimble.screens.models import Screen


@dataclass(frozen=True)
class Stop:
    """One stop: name, address, what stands under the name, whether something there is due, its key."""

    name: str
    url: str
    words: str = ""
    due: bool = False
    key: str = ""


@dataclass
class Floor:
    """Every screen that is at work, sorted by station, read in one query."""

    now: object
    stations: dict
    racked: int
    total: int

    @classmethod
    def read(cls):
        now = timezone.now()
        stations = {name: [] for name in lifecycle.STATIONS}
        for screen in Screen.objects.for_lists().at_work():
            name = lifecycle.station(screen.life, now)
            if name:
                stations[name].append(screen)
        total = Screen.objects.count()
        racked = Screen.objects.filter(slot__isnull=False).count()
        return cls(now, stations, racked, total)

    def due(self, name):
        return [s for s in self.stations[name] if lifecycle.waits_for_hand(s.life, self.now)]

    def next_dry_min(self):
        """Minutes until the first wet screen is dry, or None."""
        waits = [(s.wet_until - self.now).total_seconds() / 60 for s in self.stations["dry"]]
        return min(waits) if waits else None


def floor_of(request) -> Floor:
    """The floor, read once for a request."""
    if not hasattr(request, "frimble_floor"):
        request.frimble_floor = Floor.read()
    return request.frimble_floor


_WORDS = {"coat": "to coat", "expose": "ready", "wash": "at booth", "press": "for press", "reclaim": "to clear"}


def stops(floor: Floor) -> list[Stop]:
    """The stops in the order the work goes."""
    due_all = sum(len(floor.due(name)) for name in lifecycle.STATIONS)
    line = [
        Stop("Today", reverse("jobs:today"), f"{due_all} due" if due_all else "", bool(due_all), "1"),
        Stop("Film", reverse("films:positives"), "", False, "2"),
        Stop("Mesh", reverse("screens:meshes"), "", False, "3"),
    ]
    for key, name in zip("456789", lifecycle.STATIONS, strict=True):
        line.append(
            Stop(
                name.capitalize(),
                reverse("screens:station", args=[name]),
                _words(floor, name),
                bool(floor.due(name)),
                key,
            )
        )
    line.append(Stop("Rack", reverse("screens:rack"), f"{floor.racked} of {floor.total}", False, "0"))
    return line


def _words(floor, name):
    count = len(floor.stations[name])
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
        Stop("Standards", reverse("people:standards")),
    ]
