"""What is due in the room, and what stands in it at the end of a shift."""

from collections.abc import Iterator
from dataclasses import dataclass

from django.db.models import F
from django.utils import timezone

from frimble.core.lifecycle import STATE_WORDS, State
from frimble.core.upkeep.due import Due, DueState, due
from frimble.core.verdicts import LampVerdict
from frimble.exposures.chart import queries as chart_queries
from frimble.exposures.lamps import queries as lamp_queries
from frimble.exposures.models import Lamp
from frimble.exposures.room import LightRoom
from frimble.jobs.models import Handover, Loan, UpkeepItem
from frimble.screens.models import Screen

_SOON_DAYS = 14
_FIRST = (DueState.LATE, DueState.NEVER_DONE, DueState.SOON, DueState.LATER)
# What a next shift has to know of: what cannot be left alone for long.
_WATCHED = (State.DEGREASED, State.PART_COATED, State.COATED, State.EXPOSED, State.WASHED)


@dataclass(frozen=True)
class UpkeepRow:
    """Something that comes due, and when."""

    item: UpkeepItem
    due: Due

    @property
    def asks(self) -> bool:
        return self.due.state in (DueState.LATE, DueState.NEVER_DONE)


def upkeep() -> list[UpkeepRow]:
    """Everything that comes due, the latest first."""
    today = timezone.localdate()
    found = [_row(item, today) for item in UpkeepItem.objects.select_related("person").prefetch_related("records")]
    return sorted(found, key=lambda row: (_FIRST.index(row.due.state), row.due.on or today, row.item.name))


def _row(item: UpkeepItem, today) -> UpkeepRow:
    last = max((r.at for r in item.records.all()), default=None)
    last_day = timezone.localtime(last).date() if last else None
    return UpkeepRow(item, due(last_day, item.every_days, today, _SOON_DAYS))


def lent() -> list[tuple[Loan, bool]]:
    """What is lent and not back, the first wanted first, and whether its day is past."""
    today = timezone.localdate()
    away = Loan.objects.filter(back__isnull=True).select_related("by").order_by(F("back_by").asc(nulls_last=True), "at")
    return [(loan, loan.back_by is not None and loan.back_by < today) for loan in away]


@dataclass(frozen=True)
class LampRow:
    """A lamp by its hours: what comes due of it, and whether that is now."""

    lamp: Lamp
    words: str
    asks: bool


def lamps(settings) -> list[LampRow]:
    """Every lamp whose hours say when its times want another test, those that are due first."""
    room, entries = LightRoom(settings), chart_queries.entries_in_force()
    states = [lamp_queries.state(lamp, room, entries) for lamp in Lamp.objects.exclude(kind=Lamp.SUN)]
    return sorted((_lamp_row(state) for state in states), key=lambda row: (not row.asks, row.lamp.name))


def _lamp_row(state) -> LampRow:
    retest = state["retest"]
    words = " ".join([retest.reason] if retest else state["wants"]) or "No calibrated time rests on it."
    return LampRow(state["lamp"], words, bool(retest and retest.verdict == LampVerdict.DUE))


def room_now() -> list[str]:
    """What hangs, what is wet, in sentences."""
    return list(_standing())


def _standing() -> Iterator[str]:
    now = timezone.now()
    for loan, late in lent():
        yield f"Lent: {loan}{f', wanted back by {loan.back_by:%-d %b}' if loan.back_by else ''}{', late' if late else ''}."
    for state in _WATCHED:
        screens = Screen.objects.filter(state=state).order_by("frame__code").values_list("frame__code", "wet_until")
        wet = {code: until for code, until in screens if until and until > now}
        if wet:
            until = timezone.localtime(max(wet.values()))
            yield f"Wet, {STATE_WORDS[state]}: {', '.join(wet)}; the last until {until:%H:%M}."
        if dry := [code for code, _ in screens if code not in wet]:
            yield f"{STATE_WORDS[state].capitalize()}: {', '.join(dry)}."


def last_handover() -> Handover | None:
    return Handover.objects.select_related("by").prefetch_related("signatures__by").last()
