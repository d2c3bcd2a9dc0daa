"""Accepting a reading into the exposure chart, and withdrawing one that was wrong."""

from django.db import transaction
from django.utils import timezone

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.core.verdicts import TestOutcome
from frimble.exposures.chart import prediction
from frimble.exposures.chart.queries import conclude
from frimble.exposures.models import ChartEntry, ChartWithdrawal, TestReading
from frimble.people import settings as house_settings


@transaction.atomic
def accept(reading: TestReading, person, sure: bool = False) -> ChartEntry:
    """Put a reading's time into the chart, with its window's ends, their intervals and what it rested on.

    Args:
        sure: the reading was looked at once more, though its time lies far from what was predicted.

    Raises:
        RuleViolation: the test gives no time, it is in the chart already, a newer reading stands, or its window is not
            bracketed and a technician asks, or its time lies far from what was predicted and nobody is sure.
    """
    if ChartEntry.objects.filter(reading=reading).exists():
        raise RuleViolation("This reading is in the chart already.")
    test = reading.step_test
    if test.readings.order_by("-read_at", "-pk").first() != reading:
        raise RuleViolation("The test has been read again since: accept the newer reading.")
    result = conclude(reading)
    if not result.usable:
        raise RuleViolation(result.recommended.reason)
    bracketed = result.outcome == TestOutcome.WINDOW
    if not bracketed and not person.is_lead:
        raise RuleViolation(f"Only the lead may accept a time that is not bracketed. {result.next_test}")
    far_off = prediction.far_off(test, result.recommended.known, house_settings.current())
    if far_off and not sure:
        raise RuleViolation(f"{far_off} Read it again; if it is right, say that you are sure.", field="sure")
    time, cured, closes = result.recommended, result.window.cured, result.window.closes
    run = getattr(test, "run", None)
    prediction.invalidate()
    return ChartEntry.objects.create(
        mesh=test.mesh,
        formula=test.formula,
        emulsion=test.emulsion,
        lamp=test.lamp,
        film_process=test.film_process,
        time_s=time.value,
        low_s=time.low,
        high_s=time.high,
        school=reading.school,
        reason=time.reason[:400],
        bracketed=bracketed,
        lamp_distance_mm=test.lamp_distance_mm,
        reading=reading,
        accepted_by=person,
        accepted_at=timezone.now(),
        cured_low_s=cured and cured.low,
        cured_high_s=cured and cured.high,
        closes_low_s=closes and closes.low,
        closes_high_s=closes and closes.high,
        facts=prediction.as_stored(test, house_settings.current()),
        meter=run.meter if run else None,
    )


@transaction.atomic
def withdraw(entry: ChartEntry, person, reason: str) -> ChartWithdrawal:
    """Take an accepted time out of the chart; what it replaced holds again, and nothing is learned from it any more.

    Raises:
        InvalidInput: no reason given.
        RuleViolation: it was withdrawn before, or somebody other than the lead asks.
    """
    if not reason.strip():
        raise InvalidInput("Say what was wrong with it.", "reason")
    if not person.is_lead:
        raise RuleViolation("Only the lead may withdraw a calibrated time.")
    if ChartWithdrawal.objects.filter(entry=entry).exists():
        raise RuleViolation("This time was withdrawn before.")
    prediction.invalidate()
    return ChartWithdrawal.objects.create(entry=entry, reason=reason.strip()[:300], by=person, at=timezone.now())
