"""When somebody is there, as people write it: "7-12, 12:30-16" for a day, "Mon-Fri 7-16; Sat 8-12" for a week."""

import re
from itertools import pairwise

from frimble.core.conclusions import InvalidInput

DAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
# From and to, minutes after midnight.
Spans = tuple[tuple[int, int], ...]
AWAY = "away"

_DAY_MIN = 1440
_PART = re.compile(r"\s*(?P<days>[A-Za-z][A-Za-z,\s-]*?)??\s*(?P<hours>[\d:,\s-]+|away)\s*", re.IGNORECASE)
_SPAN = re.compile(r"\s*(\d{1,2})(?::(\d{2}))?\s*-\s*(\d{1,2})(?::(\d{2}))?\s*", re.ASCII)
_DASHES = str.maketrans("–—", "--")


def hours_of_day(text: str) -> Spans:
    """Spans of one day, in their order; none where it says "away" or nothing.

    Raises:
        InvalidInput: what cannot be read, ends before it begins, or lies within another span.
    """
    text = text.translate(_DASHES).strip()
    if text.lower() in ("", AWAY):
        return ()
    spans = tuple(_span(part) for part in text.split(","))
    for (_, ended), (begins, _) in pairwise(spans):
        if begins < ended:
            raise InvalidInput("These hours overlap, or are not in their order: write 7-12, 12:30-16.")
    return spans


def hours_of_week(text: str) -> tuple[Spans | None, ...]:
    """Spans of each day from Monday on; None for each where nothing is said.

    Hours without days are those of every day that is not named. Where only days are named, the others are free.

    Raises:
        InvalidInput: what cannot be read, or a day named twice.
    """
    if not text.strip():
        return (None,) * len(DAYS)
    named: dict[int, Spans] = {}
    others: list[Spans] = []
    for part in text.translate(_DASHES).split(";"):
        read = _PART.fullmatch(part)
        if read is None:
            raise InvalidInput(f"“{part.strip()[:40]}” cannot be read: write Mon-Fri 7-12, 12:30-16; Sat 8-12.")
        spans = hours_of_day(read["hours"])
        if not read["days"]:
            others.append(spans)
            continue
        days = _days(read["days"])
        if twice := [DAYS[day] for day in days if day in named or days.count(day) > 1]:
            raise InvalidInput(f"{twice[0]} is named twice.")
        named |= dict.fromkeys(days, spans)
    if len(others) > 1:
        raise InvalidInput("Hours of one day stand with a comma between them: write 7-12, 12:30-16.")
    return tuple(named.get(day, others[0] if others else ()) for day in range(len(DAYS)))


def _days(text: str) -> list[int]:
    days: list[int] = []
    for part in text.split(","):
        first, *last = (_day(name) for name in part.split("-"))
        end = last[0] if last else first
        if len(last) > 1 or end < first:
            raise InvalidInput(f"“{part.strip()}” is no run of days: write Mon-Fri.")
        days += range(first, end + 1)
    return days


def _day(name: str) -> int:
    name = name.strip().lower()
    for number, day in enumerate(DAYS):
        if len(name) >= 2 and day.lower().startswith(name):
            return number
    raise InvalidInput(f"“{name[:20]}” is no day of the week: write Mon, Tue, Wed, Thu, Fri, Sat or Sun.")


def _span(text: str) -> tuple[int, int]:
    read = _SPAN.fullmatch(text)
    if read is None:
        raise InvalidInput(f"“{text.strip()[:20]}” cannot be read as hours: write 7-12 or 12:30-16.")
    from_h, from_min, to_h, to_min = (int(part or 0) for part in read.groups())
    begins, ends = from_h * 60 + from_min, to_h * 60 + to_min
    if max(from_min, to_min) > 59 or ends > _DAY_MIN or begins >= ends:
        raise InvalidInput(f"“{text.strip()}” ends before it begins, or is no time of the day.")
    return begins, ends
