"""Supplies with how long they last, those to be ordered first."""

from dataclasses import dataclass
from datetime import date, timedelta

from django.db.models import Sum
from django.utils import timezone

from frimble.core.supplies.apart import Clash, Stored, clashes
from frimble.core.supplies.stock import Moved, Movement, Outlook, outlook
from frimble.jobs.choosing.queries import open_needs
from frimble.jobs.models import Supply

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
    now = timezone.now()
    return [Movement((now - r.at).total_seconds() / _DAY_S, Moved(r.kind), r.amount) for r in supply.records.all()]


def rows() -> list[SupplyRow]:
    """Every supply, what is due for ordering first."""
    screens = open_needs().aggregate(all=Sum("number"))["all"] or 0
    found = [_row(supply, screens) for supply in Supply.objects.prefetch_related("records")]
    far = timezone.localdate() + 10 * _YEAR
    return sorted(found, key=lambda row: (row.order_by or far, row.supply.name))


def stand_apart() -> list[Clash]:
    """Supplies that stand where they must not, by the words that are kept with them."""
    return clashes([Stored(s.name, s.stored_at, s.keep_from) for s in Supply.objects.all()])


def row(supply: Supply) -> SupplyRow:
    return _row(supply, open_needs().aggregate(all=Sum("number"))["all"] or 0)


def _row(supply: Supply, screens: int) -> SupplyRow:
    found = outlook(movements(supply), supply.unit, supply.supplier_days, (supply.a_screen or 0.0) * screens)
    today = timezone.localdate()
    order_by = None if found.order_in_days is None else today + timedelta(days=found.order_in_days)
    dates = [r.expires_on for r in supply.records.all() if r.expires_on and r.expires_on <= today + _SOON]
    return SupplyRow(supply, found, order_by, order_by == today, min(dates, default=None) if found.stock else None)
