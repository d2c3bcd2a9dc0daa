"""What is due in the room, and what stands in it at the end of a shift."""

from collections.abc import Iterator
from dataclasses import dataclass

from django.utils import timezone

from frimble.core.lifecycle import STATE_WORDS, State
from frimble.core.upkeep.due import Due, DueState, due
from frimble.jobs.models import Handover, UpkeepItem
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


def room_now() -> list[str]:
    """What hangs, what is wet, in sentences."""
    return list(_standing())


def _standing() -> Iterator[str]:
    now = timezone.now()
    for state in _WATCHED:
        screens = list(Screen.objects.filter(state=state).select_related("frame").order_by("frame__code"))
        wet = [s for s in screens if s.wet_until and s.wet_until > now]
        if wet:
            until = timezone.localtime(max(s.wet_until for s in wet))
            yield f"Wet, {STATE_WORDS[state]}: {_codes(wet)}; the last until {until:%H:%M}."
        if dry := [s for s in screens if s not in wet]:
            yield f"{STATE_WORDS[state].capitalize()}: {_codes(dry)}."


def _codes(screens) -> str:
    return ", ".join(s.code for s in screens)


def last_handover() -> Handover | None:
    return Handover.objects.select_related("by").prefetch_related("signatures__by").last()
