"""Sending screens to press and taking them back."""

from django.db import transaction

from frimble.core.conclusions import require_between
from frimble.people import settings as house_settings
from frimble.press.models import PressReport, PressVisit
from frimble.screens import ledger


@transaction.atomic
def send_to_press(code, person, *, job, **kwargs):
    """An inspected stencil goes out for a job."""
    summary = f"Sent to press for {job}" if job else "Sent to press"
    event = ledger.record(code, "to_press", person, facts={"job": job.number if job else ""}, summary=summary, **kwargs)
    PressVisit.objects.create(event=event, job=job)
    return event


@transaction.atomic
def back_from_press(code, person, *, impressions, **kwargs):
    """A screen returns with ink in it."""
    most = house_settings.current()["press.most_impressions"]
    require_between(impressions, 0, most, "The number of impressions", "impressions")
    event = ledger.record(
        code,
        "from_press",
        person,
        facts={"impressions": impressions},
        summary=f"Back from press: {impressions} impressions",
        **kwargs,
    )
    PressReport.objects.create(event=event, impressions=impressions)
    return event
