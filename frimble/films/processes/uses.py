"""What later places know of a film process's use: they register here, and are not imported."""

from collections.abc import Callable

_LONGEST: list[Callable[[int], float | None]] = []


def longest_over_cure_by(provider: Callable[[int], float | None]) -> None:
    """Register what tells the longest time in use through a process, by its number, of its full cure."""
    _LONGEST.append(provider)


def longest_over_cure(process_id: int) -> float | None:
    """The longest time in use through a process, of its full cure; None where nothing is calibrated through it."""
    known = [over for provider in _LONGEST if (over := provider(process_id)) is not None]
    return max(known, default=None)
