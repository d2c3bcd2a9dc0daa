"""Doses of the exposure log: what each exposure's light came to in mJ/cm², as far as it was metered."""

from datetime import datetime

from frimble.core.exposure.light.dose import dose_mj_cm2
from frimble.exposures.models import Exposure, LampRecord
from frimble.exposures.room import LightRoom


def dose_of(given: Exposure, room: LightRoom) -> float | None:
    """Dose in the middle of the glass, mJ/cm², by the meter at that exposure or last before it; None where none was read."""
    light = given.meter or _metered_before(given.lamp, given.event.at, room)
    return dose_mj_cm2(light, given.given_s) if light else None


def _metered_before(lamp, moment: datetime, room: LightRoom) -> float | None:
    """The sun is metered at each exposure or not at all; of a lamp the reading before holds while its bulb stays."""
    if lamp.is_sun:
        return None
    replaced = room.replaced(lamp)
    if replaced and replaced.at > moment:
        return None
    before = [r.light_mw_cm2 for r in room.records(lamp, LampRecord.Kind.METER) if r.at <= moment]
    return before[-1] if before else None
