"""A supply is named, and what came, went or was counted is recorded."""

from datetime import date

from django.db import transaction
from django.utils import timezone

from frimble.core.conclusions import InvalidInput, require_between
from frimble.core.supplies.stock import Moved, Movement, stock
from frimble.jobs.models import Supply, SupplyRecord
from frimble.jobs.supplies.queries import movements

_MOST = 1_000_000


def name_supply(
    *, name: str, unit: str, code: str = "", supplier_days: float = 7, a_screen: float | None = None,
    stored_at: str = "", keep_from: str = "", safety_sheet=None,
) -> Supply:  # fmt: skip
    """A supply with where it is kept and what it must not meet; its safety sheet lies beside it.

    Raises:
        InvalidInput: the name is taken, a negative number, or a sheet that is no PDF.
    """
    if Supply.objects.filter(name__iexact=name).exists():
        raise InvalidInput(f"There is {name} already.", "name")
    require_between(supplier_days, 0, 365, "The supplier's days", "supplier_days")
    if a_screen is not None:
        require_between(a_screen, 0, _MOST, "What a screen takes", "a_screen")
    if safety_sheet and safety_sheet.read(5) != b"%PDF-":
        raise InvalidInput("A safety sheet is kept as PDF; this file is none.", "safety_sheet")
    if safety_sheet:
        safety_sheet.seek(0)
    return Supply.objects.create(
        name=name, unit=unit, code=code, supplier_days=supplier_days, a_screen=a_screen, stored_at=stored_at,
        keep_from=keep_from, safety_sheet=safety_sheet or "",
    )  # fmt: skip


@transaction.atomic
def record_supply(
    supply: Supply, person, *, kind: str, amount: float, batch: str = "", expires_on: date | None = None
) -> SupplyRecord:
    """So much came in, went out, or was counted.

    Raises:
        InvalidInput: an amount that cannot be, more out than there is, or a batch that is past its day already.
    """
    supply = Supply.objects.select_for_update().get(pk=supply.pk)
    require_between(amount, 0, _MOST, f"The amount, in {supply.unit},", "amount")
    if expires_on and expires_on < timezone.localdate():
        raise InvalidInput(f"It was good until {expires_on:%-d %b %Y}: do not take it in.", "expires_on")
    stock([*movements(supply), Movement(0.0, Moved(kind), amount)])
    return SupplyRecord.objects.create(
        supply=supply, kind=kind, amount=amount, batch=batch, expires_on=expires_on, at=timezone.now(), by=person
    )
