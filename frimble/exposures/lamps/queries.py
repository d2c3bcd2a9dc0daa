"""What a lamp says now, and what a light meter shows under it."""

import random

from django.utils import timezone

from frimble.core.exposure.light import source as light_source
from frimble.core.instruments.protocols import LightMeter
from frimble.exposures.models import Lamp, LampRecord
from frimble.exposures.room import LightRoom
from frimble.people import settings as house_settings

_SHOWN, _READINGS = 40, 200
# Where the simulated meter stands the sun, which has no distance.
_USUAL_MM = 1000.0


def state(lamp: Lamp, room: LightRoom, entries) -> dict:
    """What a lamp says now: hours, light left, its field, what wants doing.

    Args:
        entries: calibrated times in force, of all lamps.
    """
    settings, hours = room.settings, room.hours(lamp)
    metered = [(r.hours, r.light_mw_cm2) for r in room.records(lamp, LampRecord.Kind.METER) if r.hours is not None]
    maps = room.records(lamp, LampRecord.Kind.FIELD)
    mapped = maps[-1] if maps else None
    known = hours is not None and not lamp.is_sun
    return {
        "lamp": lamp,
        "hours": hours,
        "mapped": mapped,
        "field": light_source.field_of(mapped.field, settings) if mapped else None,
        "fading": light_source.fading(metered[-_READINGS:], hours, settings, lamp.kind) if known else None,
        "retest": _retest(lamp, hours, room, entries) if known else None,
        "contact": light_source.contact_caution(lamp.contact, lamp.geometry),
        "wants": _wants(lamp, hours, mapped, settings),
    }


def lately(lamp: Lamp):
    """What was read off or done to a lamp, newest first."""
    return lamp.records.select_related("by")[:_SHOWN]


def _retest(lamp, hours, room, entries):
    """When the oldest calibrated time under a lamp wants another test by its hours; None where that cannot be told."""
    replaced = room.replaced(lamp)
    tested = [
        e.facts["hours"]
        for e in entries
        if e.lamp_id == lamp.pk and e.facts and not (replaced and e.accepted_at <= replaced.at)
    ]
    return light_source.retest_due(min(tested), hours, _hours_a_day(lamp, room), room.settings) if tested else None


def _hours_a_day(lamp, room) -> float | None:
    """How fast its counter runs, from the first and the last time it was read since the bulb is in it."""
    read = room.records(lamp, LampRecord.Kind.HOURS)
    days = (read[-1].at - read[0].at).total_seconds() / 86400 if read else 0
    return (read[-1].hours - read[0].hours) / days if days >= 1 else None


def _wants(lamp, hours, mapped, settings) -> list[str]:
    wants = []
    if not lamp.is_sun and hours is None:
        wants.append("Read its hours: without them nobody can say how far it has faded.")
    if not lamp.is_sun and mapped is None:
        wants.append("Map its field: nine readings tell where fine work may lie.")
    elif mapped and (timezone.now() - mapped.at).days > settings["lamp.wants_map_days"]:
        wants.append(f"Its field was mapped {(timezone.now() - mapped.at).days} days ago: map it again.")
    if lamp.contact == "blocking":
        wants.append("Its glass holds back UV: change it.")
    return wants


def metered(meter: LightMeter, lamp: Lamp) -> dict:
    """What a light meter shows under a lamp, by form field: the middle in mW/cm², and nine places row by row."""
    hours = LightRoom(house_settings.current()).hours(lamp) or 0.0
    seed = random.getrandbits(30)
    field = meter.read_field(seed, lamp.geometry, lamp.distance_mm or _USUAL_MM)
    return {
        "light_mw_cm2": meter.read_light(seed, lamp.geometry, lamp.distance_mm or _USUAL_MM, hours),
    } | {f"field_{k}": f"{v:g}" for k, v in enumerate(value for row in field for value in row)}
