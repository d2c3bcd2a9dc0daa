"""Measuring tension."""

from collections.abc import Sequence

from django.db import transaction

from frimble.core import lifecycle
from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.core.tension import measurement as tension_measurement
from frimble.people import moments
from frimble.people import settings as house_settings
from frimble.screens import ledger
from frimble.screens.models import TensionMeasurement, TensionValue


@transaction.atomic
def record_tension(
    code,
    readings: Sequence[tension_measurement.TensionReading],
    person,
    *,
    simulated=False,
    revision=None,
    note="",
    sure=False,
    stage="",
) -> TensionMeasurement:
    """Store a measurement with its statistics.

    Args:
        sure: the person has seen that it is far from the last one. stage: which reading after stretching it is, if any.

    Raises:
        InvalidInput: a reading is absurd, or far from the last measurement and nobody said it is sure.
        RuleViolation: there is no mesh, or a wet coat on it.
    """
    settings = house_settings.current()
    screen = ledger.lock(code, revision)
    summary = tension_measurement.summarise(readings, settings, screen.frame.material)
    if not sure and (far := tension_measurement.far_from_last(summary.mean, screen.tension_n_per_cm, settings)):
        raise InvalidInput(far, "sure")
    if reason := lifecycle.tension_refused(screen.life, moments.now()):
        raise RuleViolation(reason)
    event = ledger.record(
        code,
        "tension",
        person,
        revision=revision,
        note=note,
        summary=f"Tension {summary.mean:.1f} N/cm ({summary.lowest:.1f} to {summary.highest:.1f}), "
        f"{summary.verdict.verdict}",
        facts={"mean": round(summary.mean, 2)} | ({"stage": stage} if stage else {}),
    )
    measurement = TensionMeasurement.objects.create(
        event=event,
        mean=summary.mean,
        lowest=summary.lowest,
        highest=summary.highest,
        warp_mean=summary.warp_mean,
        weft_mean=summary.weft_mean,
        simulated=simulated,
    )
    TensionValue.objects.bulk_create(
        TensionValue(measurement=measurement, place=r.place, direction=r.direction, n_per_cm=r.n_per_cm)
        for r in readings
    )
    return measurement
