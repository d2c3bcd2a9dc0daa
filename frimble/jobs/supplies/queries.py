"""Supplies with how long they last, those to be ordered first."""

from collections import defaultdict
from dataclasses import dataclass, fields
from datetime import date, datetime, timedelta

from django.db.models import Sum
from django.utils import timezone

from frimble.core.supplies.apart import Clash, Stored, clashes
from frimble.core.supplies.stock import Moved, Movement, Outlook, outlook
from frimble.jobs.choosing.queries import open_needs
from frimble.jobs.models import Supply, SupplyRecord

_YEAR = timedelta(days=365)
_DAY_S = 86400
_SOON = timedelta(days=30)


@dataclass(frozen=True)
class SupplyRow:
    """A supply, how long it lasts, by when to order it, and the batch that goes off next."""

    supply: Supply
    outlook: Outlook
    order_by: date | None
    due: bool
    goes_off: date | None


def movements(supply: Supply) -> list[Movement]:
    """Its records as the core takes them."""
    return _movements(_records(supply=supply)[supply.pk])


@dataclass(frozen=True)
class _Record:
    at: datetime
    kind: str
    amount: float
    expires_on: date | None


def _records(**which) -> dict[int, list[_Record]]:
    """Supply → its records, read without their models: there are hundreds of each."""
    found: dict[int, list[_Record]] = defaultdict(list)
    columns = ("supply_id", *(field.name for field in fields(_Record)))
    for supply, *record in SupplyRecord.objects.filter(**which).values_list(*columns):
        found[supply].append(_Record(*record))
    return found


def _movements(records: list[_Record]) -> list[Movement]:
    now = timezone.now()
    return [Movement((now - r.at).total_seconds() / _DAY_S, Moved(r.kind), r.amount) for r in records]


def rows() -> list[SupplyRow]:
    """Every supply, what is due for ordering first."""
    screens, records = _screens_wanted(), _records()
    found = [_row(supply, screens, records[supply.pk]) for supply in Supply.objects.all()]
    far = timezone.localdate() + 10 * _YEAR
    return sorted(found, key=lambda row: (row.order_by or far, row.supply.name))


def stand_apart() -> list[Clash]:
    """Supplies that stand where they must not, by the words that are kept with them."""
    return clashes([Stored(s.name, s.stored_at, s.keep_from) for s in Supply.objects.all()])


def row(supply: Supply) -> SupplyRow:
    return _row(supply, _screens_wanted(), _records(supply=supply)[supply.pk])


def _screens_wanted() -> int:
    return open_needs().aggregate(all=Sum("number"))["all"] or 0


def _row(supply: Supply, screens: int, records: list[_Record]) -> SupplyRow:
    found = outlook(_movements(records), supply.unit, supply.supplier_days, (supply.a_screen or 0.0) * screens)
    today = timezone.localdate()
    order_by = None if found.order_in_days is None else today + timedelta(days=found.order_in_days)
    dates = [r.expires_on for r in records if r.expires_on and r.expires_on <= today + _SOON]
    return SupplyRow(supply, found, order_by, order_by == today, min(dates, default=None) if found.stock else None)
