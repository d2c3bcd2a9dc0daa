"""A plan's steps as iCalendar."""

from collections.abc import Iterable, Mapping
from datetime import UTC, datetime

from frimble.jobs.day.words import step_words

_LONGEST_LINE = 73


def as_calendar(rows: Iterable[Mapping], made_at: datetime, jobs: Mapping[str, str]) -> str:
    """One event a step.

    Source: RFC 5545, sections 3.1 (lines), 3.3.11 (text) and 3.6.1 (events).
    """
    lines = ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//Frimble//Day plan//EN"]
    for row in rows:
        label = f"{step_words(row['kind'])} {row['screen']}"
        what = " ".join(word for word in (label, jobs.get(row["screen"], "")) if word)
        lines += [
            "BEGIN:VEVENT",
            f"UID:{row['screen']}-{row['kind']}-{_utc(row['start'])}@frimble",
            f"DTSTAMP:{made_at.astimezone(UTC):%Y%m%dT%H%M%SZ}",
            f"DTSTART:{_utc(row['start'])}",
            f"DTEND:{_utc(row['end'])}",
            f"SUMMARY:{_text(what)}",
            f"LOCATION:{_text(row['place'])}",
            f"DESCRIPTION:{_text(row['person'])}",
            "END:VEVENT",
        ]
    return "\r\n".join(_folded(line) for line in [*lines, "END:VCALENDAR"]) + "\r\n"


def _utc(text: str) -> str:
    return f"{datetime.fromisoformat(text).astimezone(UTC):%Y%m%dT%H%M%SZ}"


def _text(words: str) -> str:
    return words.replace("\\", "\\\\").replace(";", "\\;").replace(",", "\\,").replace("\n", "\\n")


def _folded(line: str) -> str:
    """A line of at most 75 octets; what is longer goes on after a space."""
    parts, rest = [], line.encode()
    while len(rest) > _LONGEST_LINE:
        cut = _LONGEST_LINE
        while rest[cut] & 0xC0 == 0x80:
            cut -= 1
        parts.append(rest[:cut].decode())
        rest = rest[cut:]
    return "\r\n ".join([*parts, rest.decode()])
