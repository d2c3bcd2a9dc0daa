"""What was read off or done to a lamp, written down."""

from django.utils import timezone

from frimble.core.conclusions import InvalidInput, require_between
from frimble.core.exposure.light import source as light_source
from frimble.exposures.models import Lamp, LampRecord
from frimble.exposures.room import LightRoom
from frimble.people import settings as house_settings


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
                f"It was at {known.hours:g} h on {known.at:%d %B}: hours never run back. A new bulb is written down as "
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
