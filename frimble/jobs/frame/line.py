"""The line at the left of every page: its stops, how many screens stand at each, and what is due."""

from dataclasses import dataclass
from functools import cache

from django.urls import reverse

from frimble.core import stations
from frimble.core.units import show_minutes
from frimble.jobs.frame.floor import Floor

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


def stops(floor: Floor) -> list[Stop]:
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
