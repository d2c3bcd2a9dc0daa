"""Writing down trials and what came of them."""

from django.db import transaction

from frimble.core.conclusions import RuleViolation
from frimble.jobs.losses.models import TrialConclusion, TrialNote
from frimble.people import moments


def begin(person, *, changed: str, expected: str) -> TrialNote:
    """One thing changed."""
    return TrialNote.objects.create(changed=changed, expected=expected, at=moments.now(), by=person)


@transaction.atomic
def conclude(trial: TrialNote, person, *, result: str, conclusion: str) -> TrialConclusion:
    """What came of it.

    Raises:
        RuleViolation: it has been concluded.
    """
    if TrialConclusion.objects.filter(trial=trial).exists():
        raise RuleViolation("This trial has its conclusion: begin another.")
    return TrialConclusion.objects.create(
        trial=trial, result=result, conclusion=conclusion, at=moments.now(), by=person
    )
