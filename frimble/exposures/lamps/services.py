"""A lamp entered or changed, and what was read off or done to it."""

from django.db import IntegrityError, transaction
from django.utils import timezone

from frimble.core.conclusions import InvalidInput, require_between
from frimble.core.exposure.light import source as light_source
from frimble.exposures.models import Lamp, LampRecord
from frimble.exposures.room import LightRoom
from frimble.people import settings as house_settings
from frimble.people.room_time import day_words

FIELDS = ("name", "kind", "geometry", "contact", "distance_mm", "warm_up_s", "start_lag_s", "units_a_second")


def save(lamp: Lamp, data) -> Lamp:
    """Enter or change a lamp; `data` holds its `FIELDS`.

    Raises:
        InvalidInput: a distance of nothing, a negative time or number, or a name that another lamp has.
    """
    distance = data["distance_mm"]
    if data["kind"] != Lamp.SUN and (distance is None or distance <= 0):
        raise InvalidInput("How far the lamp stands from the glass must be more than 0.", "distance_mm")
    for name in ("warm_up_s", "start_lag_s", "units_a_second"):
        if data[name] is not None and data[name] < 0:
            raise InvalidInput("Less than nothing cannot be.", name)
    changed = _changed(lamp, data) if lamp.pk else ""
    if changed:
        lamp.changed_at, lamp.changed = timezone.now(), changed[:160]
    for name in FIELDS:
        setattr(lamp, name, data[name])
    try:
        with transaction.atomic():
            lamp.save()
    except IntegrityError:
        raise InvalidInput(f"Another light source is called {data['name']}.", "name") from None
    return lamp


def _changed(lamp: Lamp, data) -> str:
    """What moves the light under a lamp, as it was and as it is to be; empty where nothing does."""
    now = Lamp(**{name: data[name] for name in FIELDS})
    told = {
        "kind": lambda at: at.get_kind_display(),
        "geometry": lambda at: at.get_geometry_display(),
        "contact": lambda at: at.get_contact_display(),
        "distance_mm": lambda at: f"{at.distance_mm:g} mm" if at.distance_mm else "no distance",
    }
    moved = [say for name, say in told.items() if getattr(lamp, name) != getattr(now, name)]
    return ", ".join(f"{say(lamp)} → {say(now)}" for say in moved)


def record(
    lamp: Lamp, person, *, kind, hours=None, light_mw_cm2=None, field=None, simulated=False, note=""
) -> LampRecord:
    """Record what was read off or done to a lamp.

    Raises:
        InvalidInput: nothing of that kind was given, hours that run backwards, or an absurd value.
    """
    settings = house_settings.current()
    room = LightRoom(settings)
    if kind == LampRecord.Kind.HOURS:
        known = lamp.newest(LampRecord.Kind.HOURS)
        replaced = lamp.newest(LampRecord.Kind.REPLACED)
        require_between(_given(hours, "hours"), 0, settings["lamp.most_hours"], "The lamp's hours", "hours")
        if known and not (replaced and replaced.at > known.at) and hours < known.hours:
            raise InvalidInput(
                f"It was at {known.hours:g} h on {day_words(known.at)}: hours never run back. A new bulb is written down as "
                "replaced.",
                "hours",
            )
    if kind == LampRecord.Kind.METER:
        require_between(_given(light_mw_cm2, "light_mw_cm2"), 0.001, 1e5, "The light, in mW/cm²,", "light_mw_cm2")
    if kind == LampRecord.Kind.FIELD:
        light_source.field_of(field or [], settings)
    if kind == LampRecord.Kind.REPLACED:
        hours = hours or 0.0
    return LampRecord.objects.create(
        lamp=lamp,
        kind=kind,
        hours=room.hours(lamp) or 0.0 if kind == LampRecord.Kind.METER else hours,
        light_mw_cm2=light_mw_cm2,
        field=field,
        simulated=simulated,
        note=note,
        at=timezone.now(),
        by=person,
    )


def _given(value, field: str) -> float:
    if value is None:
        raise InvalidInput("Type the reading.", field)
    return value
