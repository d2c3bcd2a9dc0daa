"""What a person is reminded of before a step; later places add theirs."""

from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True)
class Reminder:
    """A sentence, and the page that it leads to."""

    words: str
    url: str


# A step's kind and a person → a reminder, None for none.
_REMINDERS: list[Callable[[str, object], Reminder | None]] = []


def add(reminder: Callable[[str, object], Reminder | None]) -> None:
    """One more; named twice, it is asked once."""
    if reminder not in _REMINDERS:
        _REMINDERS.append(reminder)


def of(kind: str, person) -> list[Reminder]:
    return [found for reminder in _REMINDERS if (found := reminder(kind, person))]
