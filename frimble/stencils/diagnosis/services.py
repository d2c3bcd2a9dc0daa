"""Confirming what went wrong."""

from django.db import transaction

from frimble.core.conclusions import InvalidInput
from frimble.core.stencil.diagnosis import words
from frimble.core.stencil.diagnosis.codes import Cause
from frimble.core.stencil.diagnosis.model import Diagnosis
from frimble.people import moments
from frimble.screens.models import Cycle
from frimble.stencils.diagnosis.models import ConfirmedCause

# Records that make a cause less than a fifth as likely exclude it, unless somebody says how it is known all the same.
_EXCLUDED = -1.6


@transaction.atomic
def confirm(screen, person, *, cause: str, diagnosis: Diagnosis, symptoms, facts, note: str = "") -> ConfirmedCause:
    """Somebody found the cause.

    Args:
        diagnosis: of these symptoms and facts, as it stood when the cause was found.

    Raises:
        InvalidInput: no such cause, nothing is seen, or the records exclude it and nobody says how it is known.
    """
    if cause not in list(Cause):
        raise InvalidInput("Choose one of the causes.")
    if not symptoms:
        raise InvalidInput("Tap what is seen first.")
    ranked = next(r for r in diagnosis.causes if r.cause == cause)
    if sum(r.weight for r in ranked.reasons if not r.symptom) < _EXCLUDED and not note.strip():
        against = " ".join(words.on_page(r, facts) for r in ranked.against)
        raise InvalidInput(f"{against} If it was so all the same, say how you know.", "note")
    cycle = Cycle.objects.filter(installation=screen.installation_id).order_by("-number").first()
    return ConfirmedCause.objects.create(
        installation=screen.installation,
        cycle=cycle,
        cause=cause,
        symptoms=[str(s) for s in symptoms],
        facts={name: list(v) if isinstance(v, tuple) else v for name, v in facts.items()},
        probability=ranked.probability,
        note=note.strip()[:300],
        at=moments.now(),
        by=person,
    )
