"""What a column may hold: every save goes by it, and so do the cells of a data package."""

from typing import Any

from django.core.exceptions import ValidationError


def positive(value: float) -> None:
    """Lengths, times and counts that something is divided by.

    Raises:
        ValidationError: 0 or less.
    """
    if not value > 0:
        raise ValidationError("More than 0 is wanted.")


def not_negative(value: float) -> None:
    """What can be none at all.

    Raises:
        ValidationError: less than 0.
    """
    if not value >= 0:
        raise ValidationError("Not less than 0 is wanted.")


def share(value: float) -> None:
    """Part of a whole.

    Raises:
        ValidationError: not from 0 to 1.
    """
    if not 0 <= value <= 1:
        raise ValidationError("A share from 0 to 1 is wanted.")


def numbers(value: Any) -> None:
    """Numbers one after the other.

    Raises:
        ValidationError: anything else.
    """
    if not _all_are((int, float), value):
        raise ValidationError("A list of numbers is wanted.")


def numbers_with_gaps(value: Any) -> None:
    """As `numbers`, some of which are not known.

    Raises:
        ValidationError: anything else.
    """
    if not _all_are((int, float, type(None)), value):
        raise ValidationError("A list of numbers is wanted, null for those that are not known.")


def rows_of_numbers(value: Any) -> None:
    """Rows of as many numbers each.

    Raises:
        ValidationError: anything else.
    """
    if (
        not _all_are((list, tuple), value)
        or not all(_all_are((int, float), row) for row in value)
        or len({*map(len, value)}) > 1
    ):
        raise ValidationError("Rows of as many numbers each are wanted.")


def words(value: Any) -> None:
    """Words one after the other.

    Raises:
        ValidationError: anything else.
    """
    if not _all_are((str,), value):
        raise ValidationError("A list of words is wanted.")


def rows_of_words(value: Any) -> None:
    """Rows of words.

    Raises:
        ValidationError: anything else.
    """
    if not _all_are((list, tuple), value) or not all(_all_are((str,), row) for row in value):
        raise ValidationError("Rows of words are wanted.")


class Holding:
    """Values by their names, these among them."""

    def __init__(self, *names: str) -> None:
        self.names = names

    def __call__(self, value: Any) -> None:
        """As it says.

        Raises:
            ValidationError: anything else, or one is missing.
        """
        if not isinstance(value, dict):
            raise ValidationError("Values by their names are wanted.")
        if missing := [name for name in self.names if name not in value]:
            raise ValidationError(f"{missing[0]} is missing.")


def _all_are(kinds: tuple[type, ...], value: Any) -> bool:
    return isinstance(value, (list, tuple)) and all(isinstance(v, kinds) and not isinstance(v, bool) for v in value)
