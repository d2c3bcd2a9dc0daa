"""Light sources as records: hours, metered light, field maps, replacements, and what each says now."""

import random

from django.utils import timezone

from frimble.core.conclusion import OutOfRange, require_between
from frimble.core.exposure import light
from frimble.core.instruments.light_meter import read_field, read_light
from frimble.exposures import calibration
from frimble.exposures.lightroom import LightRoom
from frimble.exposures.models import Lamp, LampRecord
from frimble.people import standards

_SHOWN = 40


def record(
    lamp: Lamp, person, *, kind, hours=None, light_mw_cm2=None, field=None, simulated=False, note=""
) -> LampRecord:
    """Write down what was read off or done to a lamp.

    Raises:
        OutOfRange: nothing of that kind was given, hours that run backwards, or an absurd value.
    """
    in_force = standards.current()
    room = LightRoom(in_force)
    if kind == LampRecord.Kind.HOURS:
        known = lamp.newest(LampRecord.Kind.HOURS)
        replaced = lamp.newest(LampRecord.Kind.REPLACED)
        require_between(_given(hours, "hours"), 0, in_force["lamp.most_hours"], "The lamp's hours", "hours")
        if known and not (replaced and replaced.at > known.at) and hours < known.hours:
            raise OutOfRange(
                f"It was at {known.hours:g} h on {known.at:%d %B}: hours never run back. A new bulb is written down as "
                "replaced.", "hours",
            )  # fmt: skip
    if kind == LampRecord.Kind.METER:
        require_between(_given(light_mw_cm2, "light_mw_cm2"), 0.001, 1e5, "The light, in mW/cm²,", "light_mw_cm2")
    if kind == LampRecord.Kind.FIELD:
        light.field_of(field or [], in_force)
    if kind == LampRecord.Kind.REPLACED:
        hours = hours or 0.0
    return LampRecord.objects.create(
        lamp=lamp, kind=kind, hours=room.hours(lamp) or 0.0 if kind == LampRecord.Kind.METER else hours,
        light_mw_cm2=light_mw_cm2, field=field, simulated=simulated, note=note, at=timezone.now(), by=person,
    )  # fmt: skip


def _given(value, field: str) -> float:
    if value is None:
        raise OutOfRange("Type the reading.", field)
    return value


def state(lamp: Lamp, room: LightRoom) -> dict:
    """What a lamp's page says: hours, light left, its field, what wants doing."""
    in_force, hours, replaced = room.in_force, room.hours(lamp), room.replaced(lamp)
    metered = lamp.records.filter(kind=LampRecord.Kind.METER, hours__isnull=False)
    if replaced:
        metered = metered.filter(at__gte=replaced.at)
    readings = [(r.hours, r.light_mw_cm2) for r in metered.order_by("at")[:200]]
    mapped = lamp.newest(LampRecord.Kind.FIELD)
    field = light.field_of(mapped.field, in_force) if mapped else None
    return {
        "lamp": lamp, "hours": hours, "replaced": replaced, "mapped": mapped, "field": field,
        "fading": None if lamp.is_sun or hours is None else light.fading(readings, hours, in_force),
        "retest": _retest(lamp, hours, replaced, in_force),
        "contact": light.contact_caution(lamp.contact, lamp.geometry), "wants": _wants(lamp, hours, mapped, in_force),
        "records": lamp.records.select_related("by")[:_SHOWN],
    }  # fmt: skip


def _retest(lamp, hours, replaced, in_force):
    """When the oldest calibrated time under a lamp wants another test by its hours; None where that cannot be told."""
    entries = [e for e in calibration.entries_in_force() if e.lamp_id == lamp.pk and e.facts]
    if replaced:
        entries = [e for e in entries if e.accepted_at > replaced.at]
    if lamp.is_sun or hours is None or not entries:
        return None
    tested = min(e.facts["hours"] for e in entries)
    return light.retest_due(tested, hours, _hours_a_day(lamp, replaced), in_force)


def _hours_a_day(lamp, replaced) -> float | None:
    """How fast its counter runs, from the first and the last time it was read since the bulb is in it."""
    read = lamp.records.filter(kind=LampRecord.Kind.HOURS).order_by("at")
    if replaced:
        read = read.filter(at__gte=replaced.at)
    first, last = read.first(), read.last()
    days = (last.at - first.at).total_seconds() / 86400 if first else 0
    return (last.hours - first.hours) / days if days >= 1 else None


def _wants(lamp, hours, mapped, in_force) -> list[str]:
    wants = []
    if not lamp.is_sun and hours is None:
        wants.append("Read its hours: without them nobody can say how far it has faded.")
    if not lamp.is_sun and mapped is None:
        wants.append("Map its field: nine readings tell where fine work may lie.")
    elif mapped and (timezone.now() - mapped.at).days > in_force["lamp.wants_map_days"]:
        wants.append(f"Its field was mapped {(timezone.now() - mapped.at).days} days ago: map it again.")
    if lamp.contact == "blocking":
        wants.append("Its glass holds back UV: change it.")
    return wants


def metered(lamp: Lamp) -> float:
    """What the simulated light meter shows under a lamp, mW/cm²."""
    hours = LightRoom(standards.current()).hours(lamp) or 0.0
    return read_light(random.getrandbits(30), lamp.geometry, lamp.distance_mm, hours)


def field_metered(lamp: Lamp) -> list[list[float]]:
    """Nine places under a lamp by the simulated light meter."""
    return read_field(random.getrandbits(30), lamp.geometry, lamp.distance_mm)
