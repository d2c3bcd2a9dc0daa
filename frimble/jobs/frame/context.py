"""What every page's frame shows: the line, running timers, light and units."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from django.urls import reverse

from frimble.coatings.batches import queries as batch_queries
from frimble.core.lifecycle import State
from frimble.jobs import live
from frimble.jobs.frame.floor import floor_of
from frimble.jobs.frame.line import Stop, side_stops, stops
from frimble.people import settings as house_settings
from frimble.people.models import Person
from frimble.ui import decimals


@dataclass(frozen=True)
class Timer:
    """Something that runs: what it is, where it is seen to, and when it ends; None while a lamp is on."""

    words: str
    url: str
    until: datetime | None = None


@dataclass(frozen=True)
class PageFrame:
    """What stands round every page of somebody who is signed in."""

    line: Sequence[Stop]
    side_line: Sequence[Stop]
    timers: Sequence[Timer]
    find_url: str
    light_url: str
    units_url: str
    own_url: str
    sign_out_url: str
    made_up: bool
    changes_url: str
    help_url: str
    version: str
    now: datetime
    comma: bool


def line(request):
    """Template context for signed-in pages; empty at the door."""
    person = getattr(request, "user", None)
    if person is None or not person.is_authenticated:
        return _light(Person.Light.DAY)
    floor = floor_of(request)
    frame = PageFrame(
        stops(floor),
        side_stops(),
        _timers(floor),
        find_url=reverse("jobs:slate"),
        light_url=reverse("people:set-preference", args=["light"]),
        units_url=reverse("people:set-preference", args=["units"]),
        own_url=reverse("people:own"),
        sign_out_url=reverse("people:sign-out"),
        made_up=house_settings.is_made_up(),
        changes_url=reverse("jobs:changes"),
        help_url=reverse("handbook:here"),
        version=live.version_for_page(),
        now=floor.now,
        comma=decimals.is_comma(),
    )
    return {"frame": frame, "inch": person.units == Person.Units.INCH, **_light(person.light)}


def _light(light: str) -> dict[str, object]:
    """How pages and the pictures in them are drawn in this light."""
    safelight = light == Person.Light.SAFELIGHT
    return {"light": light, "safelight": safelight, "dark_picture": int(safelight)}


# A rinsed mesh dries; a coat is held until hardly one of its kind is still wet.
_WAITS = defaultdict(lambda: "held", {State.DEGREASED: "dry"})


def _timers(floor) -> list[Timer]:
    """Open lamp timers, batches that come from the cold, and the screens that are dry first."""
    now_running = floor.running
    lamps = [Timer(f"{code} timer open", reverse("exposures:run", args=[pk])) for pk, code in now_running.timers]
    warming = [
        Timer(f"{b.code} warm", reverse("coatings:batch", args=[b.code]), b.warm_at)
        for b in batch_queries.warming(now_running.moved, floor.now)
    ]
    wet = [
        Timer(f"{code} {_WAITS[state]}", reverse("screens:passport", args=[code]), until)
        for code, state, until in now_running.drying[: 2 - len(lamps)]
    ]
    return [*lamps, *warming, *wet]
