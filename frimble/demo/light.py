"""The made-up lamp room: hours, metered light, field maps, control strips, and what each calibrated time rested on."""

import random
from datetime import timedelta

from django.utils import timezone

from frimble.coatings.models import Coat
from frimble.core.instruments.light_meter import read_field, read_light
from frimble.demo import scenario
from frimble.exposures.chart import prediction
from frimble.exposures.models import ChartEntry, ControlStrip, Exposure, LampRecord

_STRIPS = 24
_HOURS_A_WEEK = 4.0


def load_lamps(lamps, person, now) -> None:
    """Half a year of hours and metered light for each lamp, and one field map."""
    made = []
    for name, hours in scenario.LAMP_HOURS.items():
        lamp = lamps[name]
        for week in range(26, -1, -4):
            at, then = now - timedelta(weeks=week, hours=2), hours - _HOURS_A_WEEK * week
            lit = read_light(scenario.SEED + week, lamp.geometry, lamp.distance_mm, then * scenario.LAMP_FADES[name])
            made.append(LampRecord(lamp=lamp, kind="hours", hours=then, at=at, by=person))
            made.append(
                LampRecord(lamp=lamp, kind="meter", hours=then, light_mw_cm2=lit, simulated=True, at=at, by=person)
            )
        field = read_field(scenario.SEED, lamp.geometry, lamp.distance_mm)
        made.append(
            LampRecord(lamp=lamp, kind="field", field=field, simulated=True, at=now - timedelta(days=70), by=person)
        )
    LampRecord.objects.bulk_create(made)


def ends(found) -> dict:
    """Between what the ends of a reading's window lie, as a chart's entry stores them."""
    columns = {}
    for name, edge in (("cured", found.window.cured), ("closes", found.window.closes)):
        columns |= {f"{name}_low_s": edge.low if edge else None, f"{name}_high_s": edge.high if edge else None}
    return columns


def lay_out_light(person, settings) -> None:
    """What each time rested on, and the control strips of the newest screens."""
    for entry in ChartEntry.objects.select_related("reading__step_test"):
        facts = prediction.as_stored(entry.reading.step_test, settings)
        facts["hours"] = max(0.0, facts["hours"] - 30)
        # Made up after the fact: past what append-only rows allow.
        ChartEntry._base_manager.filter(pk=entry.pk).update(facts=facts)
    rng = random.Random(scenario.SEED + 9)
    coats = {c.event.cycle_id: c.batch.emulsion for c in Coat.objects.select_related("event", "batch__emulsion")}
    for lamp, slope in scenario.STRIP_DRIFT.items():
        given = Exposure.objects.filter(lamp__name=lamp, run=None, event__facts__is_test=False).order_by("-event__at")
        newest = list(given.select_related("event", "lamp")[:_STRIPS])[::-1]
        ControlStrip.objects.bulk_create(
            ControlStrip(
                exposure=e,
                lamp=e.lamp,
                emulsion=coats[e.event.cycle_id],
                by=person,
                at=min(e.event.at + timedelta(hours=1), timezone.now()),
                step=round(2 * (7 + slope * k + rng.gauss(0, 0.3))) / 2,
            )
            for k, e in enumerate(newest)
        )
