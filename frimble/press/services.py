"""Sending screens to press and taking them back."""

from django.db import transaction

from frimble.core.conclusions import RuleViolation, require_between
from frimble.people import moments
from frimble.people import settings as house_settings
from frimble.press.gate import queries as gate_queries
from frimble.press.models import PressReport, PressVisit
from frimble.screens import ledger


@transaction.atomic
def send_to_press(code, person, *, job, went_on="", **kwargs):
    """An inspected stencil goes out for a job.

    Args:
        went_on: why somebody sends it although something was skipped or is over its limit; it is kept with who did.

    Raises:
        RuleViolation: the gate is not in order and nobody says why it goes all the same.
    """
    screen = ledger.lock(code, kwargs.get("revision"))
    due = [item for item in gate_queries.checks(screen, house_settings.current(), moments.now()) if item.due]
    if due and not went_on.strip():
        stands = ", ".join(f"{item.label.lower()} {item.verdict}" for item in due)
        raise RuleViolation(f"Not in order: {stands}. Say why it goes to press all the same.", field="went_on")
    summary = f"Sent to press for {job}" if job else "Sent to press"
    event = ledger.record(code, "to_press", person, facts={"job": job.number if job else ""}, summary=summary, **kwargs)
    PressVisit.objects.create(
        event=event,
        job=job,
        passed_over=[item.check for item in due],
        went_on_because=went_on.strip()[:300] if due else "",
    )
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
