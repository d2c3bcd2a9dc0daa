"""What the page of refused work shows."""

from dataclasses import dataclass
from datetime import timedelta

from django.utils import timezone

from frimble.core.costing.refused import REFUSAL_WORDS, RefusedSum, by_reason
from frimble.core.numbers import counted
from frimble.jobs.models import RefusedWork

_YEAR = timedelta(days=365)
_SHOWN = 40


@dataclass(frozen=True)
class RefusedPage:
    """Sums of a year by reason, in words, and the work itself."""

    headline: str
    sums: list[tuple[str, str]]
    rows: list[RefusedWork]


def refused_page() -> RefusedPage:
    found = list(RefusedWork.objects.filter(at__gte=timezone.now() - _YEAR).select_related("by"))
    sums = by_reason(one.as_core() for one in found)
    return RefusedPage(_headline(sums), [(REFUSAL_WORDS[s.reason], _words(s)) for s in sums], found[:_SHOWN])


def _headline(sums: list[RefusedSum]) -> str:
    if not sums:
        return "No work was refused in a year"
    number, money = sum(s.number for s in sums), sum(s.money for s in sums)
    pieces = counted(number, "piece of work", "pieces of work")
    return f"{pieces} refused in a year, {money:,.0f} in money" if money else f"{pieces} refused in a year"


def _words(one: RefusedSum) -> str:
    parts = [counted(one.number, "time", "times")]
    if one.number > one.without_money:
        parts.append(f"{one.money:,.0f} in money")
    if one.without_money:
        parts.append(f"{counted(one.without_money, 'has', 'have')} no money noted")
    if one.would_take:
        short, long = one.would_take
        parts.append(f"a frame for images of {short:.0f} × {long:.0f} mm would take all with a size")
    return "; ".join(parts) + "."
