"""Stock of a supply from what came in, went out and was counted; its use, and the day to order by."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from frimble.core.conclusions import InvalidInput
from frimble.core.numbers import counted
from frimble.core.statistics.interval import Interval
from frimble.core.statistics.normal import Z_90

_WEEK_DAYS = 7.0
# Use is told from so many weeks of records at least.
_FEWEST_WEEKS = 3
# Beyond this nobody plans.
_LONGEST_DAYS = 730.0
_ROUNDING = 1e-9


class Moved(StrEnum):
    """What a record says."""

    IN = "in"
    OUT = "out"
    COUNTED = "counted"


@dataclass(frozen=True)
class Movement:
    """One record: so many days before now, and how much came, went, or was there."""

    days_ago: float
    kind: Moved
    amount: float


@dataclass(frozen=True)
class Outlook:
    """How long a supply lasts.

    Attributes:
        stock: what is there. a_day: use, None where too little is known. lasts_days: None where it is not used.
        order_in_days: when to order at the latest, 0 for now, None where nothing is known or nothing is used.
        reason: in a sentence.
    """

    stock: float
    a_day: Interval | None
    lasts_days: Interval | None
    order_in_days: float | None
    reason: str


def stock(movements: Sequence[Movement]) -> float:
    """What is there after all movements, oldest first in time whatever their order here.

    Raises:
        InvalidInput: more went out than was there.
    """
    level = 0.0
    for moved in sorted(movements, key=lambda m: -m.days_ago):
        if moved.kind is Moved.COUNTED:
            level = moved.amount
        else:
            level += moved.amount if moved.kind is Moved.IN else -moved.amount
        if level < -_ROUNDING:
            raise InvalidInput(
                f"{-level:g} more would be out than was there then: count it, or record what came in.", "amount"
            )
    return max(level, 0.0)


def use_a_day(movements: Sequence[Movement]) -> Interval | None:
    """What is used a day, from whole weeks; None while there are too few.

    What a count finds missing was used too, in the time since the count or record before it.
    """
    spans = _spans(movements)
    if not spans:
        return None
    weeks = int(max(begin for begin, _, _ in spans) // _WEEK_DAYS)
    if weeks < _FEWEST_WEEKS:
        return None
    used = _used_by_week(spans, weeks)
    mean = sum(used) / weeks
    spread = math.sqrt(sum((u - mean) ** 2 for u in used) / (weeks - 1))
    reach = Z_90 * spread / math.sqrt(weeks)
    return Interval(mean / _WEEK_DAYS, max(0.0, mean - reach) / _WEEK_DAYS, (mean + reach) / _WEEK_DAYS)


def _spans(movements: Sequence[Movement]) -> list[tuple[float, float, float]]:
    """(days ago of its begin, of its end, what was used in it)."""
    level, before, spans = 0.0, None, []
    for moved in sorted(movements, key=lambda m: -m.days_ago):
        used = 0.0
        if moved.kind is Moved.COUNTED:
            used, level = level - moved.amount, moved.amount
        elif moved.kind is Moved.OUT:
            used, level = moved.amount, level - moved.amount
        else:
            level += moved.amount
        if before is not None:
            # More found than was thought is a slip in the books, and no use.
            spans.append((before, moved.days_ago, max(0.0, used)))
        before = moved.days_ago
    return [*spans, (before, 0.0, 0.0)] if before is not None else []


def _used_by_week(spans: Sequence[tuple[float, float, float]], weeks: int) -> list[float]:
    """What was used in each week, the newest first: each span's use spread evenly over it, at once if it has no length."""
    used = [0.0] * weeks
    for begin, end, amount in spans:
        for week in range(int(end // _WEEK_DAYS), min(int(begin // _WEEK_DAYS) + 1, weeks)):
            within = min(begin, (week + 1) * _WEEK_DAYS) - max(end, week * _WEEK_DAYS)
            used[week] += amount * (within / (begin - end) if begin > end else 1.0)
    return used


def outlook(movements: Sequence[Movement], unit: str, supplier_days: float, planned: float = 0.0) -> Outlook:
    """How long a supply lasts, and by when to order.

    Args:
        unit: for the sentence. supplier_days: from order to shelf. planned: what the planned screens take at once,
            over what is usual.

    Raises:
        InvalidInput: more went out than was there.
    """
    there = stock(movements)
    free = max(0.0, there - planned)
    for_planned = f" The planned screens take {planned:g} {unit}." if planned else ""
    if planned > there:
        return Outlook(there, use_a_day(movements), None, 0.0, f"{there:g} {unit} are there.{for_planned} Order now.")
    use = use_a_day(movements)
    if use is None:
        words = (
            f"{there:g} {unit} are there; {counted(_FEWEST_WEEKS, 'week', 'weeks')} of records tell how long they last."
        )
        return Outlook(there, None, None, 0.0 if there <= 0 else None, words + for_planned)
    if use.high <= 0:
        return Outlook(there, use, None, None, f"{there:g} {unit} are there; none is used.{for_planned}")
    lasts = Interval(
        *(min(_LONGEST_DAYS, free / rate) if rate > 0 else _LONGEST_DAYS for rate in (use.value, use.high, use.low))
    )
    order = max(0.0, math.floor(lasts.low - supplier_days))
    when = "Order now" if order <= 0 else f"Order within {counted(int(order), 'day', 'days')}"
    words = (
        f"{there:g} {unit} last about {lasts.value:.0f} days, {lasts.low:.0f} at least; it takes {supplier_days:g} days to "
        f"come.{for_planned} {when}."
    )
    return Outlook(there, use, lasts, order, words)
