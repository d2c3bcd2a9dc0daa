"""When something is due again."""

from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

from frimble.core.conclusions import require_between
from frimble.core.numbers import counted


class DueState(StrEnum):
    """How near its day is."""

    LATE = "late"
    SOON = "soon"
    LATER = "later"
    NEVER_DONE = "never done"


@dataclass(frozen=True)
class Due:
    """When something is due, how near that is, and a sentence."""

    on: date | None
    state: DueState
    words: str


def due(last: date | None, every_days: int, today: date, soon_days: int) -> Due:
    """When something done every so many days is due again.

    Raises:
        InvalidInput: not every day at the most often, ten years at the least.
    """
    require_between(every_days, 1, 3660, "Every so many days", "every_days")
    if last is None:
        return Due(None, DueState.NEVER_DONE, "Nobody has recorded it yet.")
    on = last + timedelta(days=every_days)
    left = (on - today).days
    if left < 0:
        return Due(on, DueState.LATE, f"{counted(-left, 'day', 'days')} late.")
    if left == 0:
        return Due(on, DueState.SOON, "Due today.")
    return Due(on, DueState.SOON if left <= soon_days else DueState.LATER, f"In {counted(left, 'day', 'days')}.")
