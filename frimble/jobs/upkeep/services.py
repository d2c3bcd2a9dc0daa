"""Upkeep is named and recorded, equipment noted, a shift handed over and signed for."""

from datetime import date

from django.utils import timezone

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.core.upkeep.due import due
from frimble.jobs.models import Equipment, Handover, HandoverSignature, Loan, LoanReturn, UpkeepItem, UpkeepRecord
from frimble.jobs.upkeep.queries import room_now


def name_item(*, name: str, every_days: int, person=None, where: str = "") -> UpkeepItem:
    """Something that comes due again and again.

    Raises:
        InvalidInput: the name is taken, or days that cannot be.
    """
    if UpkeepItem.objects.filter(name__iexact=name).exists():
        raise InvalidInput(f"There is {name} already.", "name")
    due(None, every_days, timezone.localdate(), 0)
    return UpkeepItem.objects.create(name=name, every_days=every_days, person=person, where=where)


def record_done(item: UpkeepItem, person, *, note: str = "") -> UpkeepRecord:
    return UpkeepRecord.objects.create(item=item, note=note, at=timezone.now(), by=person)


def note_equipment(*, name: str, circuit: str = "", rating: str = "", together: str = "") -> Equipment:
    """A machine as it stands; the same name again changes it."""
    return Equipment.objects.update_or_create(
        name=name, defaults={"circuit": circuit, "rating": rating, "together": together}
    )[0]


def lend(person, *, what: str, to: str, back_by: date | None) -> Loan:
    """Somebody takes something of the room away.

    Raises:
        InvalidInput: it is wanted back before today.
    """
    if back_by and back_by < timezone.localdate():
        raise InvalidInput(f"{back_by:%-d %b %Y} is past.", "back_by")
    return Loan.objects.create(what=what, to=to, back_by=back_by, at=timezone.now(), by=person)


def take_back(loan: Loan, person) -> LoanReturn:
    """It is back; said twice, it is back once."""
    return LoanReturn.objects.get_or_create(loan=loan, defaults={"at": timezone.now(), "by": person})[0]


def hand_over(person, *, words: str) -> Handover:
    """The end of a shift: what stands in the room now, and what somebody adds."""
    return Handover.objects.create(words=words, room=room_now(), at=timezone.now(), by=person)


def sign(handover: Handover, person) -> HandoverSignature:
    """Whoever takes over has read it.

    Raises:
        RuleViolation: it is their own, or signed by them already.
    """
    if handover.by_id == person.pk:
        raise RuleViolation("It is your own handover: whoever takes over signs it.")
    if handover.signatures.filter(by=person).exists():
        raise RuleViolation("You have signed it already.")
    return HandoverSignature.objects.create(handover=handover, at=timezone.now(), by=person)
