"""One cell of a package: its text into the value that its column holds, or what is wrong with it."""

import json
import math
import uuid
from datetime import date
from functools import cache

from django.core.exceptions import ValidationError
from django.core.validators import MaxLengthValidator
from django.db import models
from django.utils.dateparse import parse_date, parse_datetime, parse_time

from frimble.exchange.packages.writing import type_of

_LARGEST = 2**63 - 1
# Keys may be as large as that; what is counted or measured is never so large, in whatever unit.
_MOST_COUNTED, _MOST_MEASURED = 2**31 - 1, 1e12
# Years of a shop's records and plans.
_FIRST_YEAR, _LAST_YEAR = 1900, 2199


def value_of(text: str, field: models.Field):
    """The value of a cell.

    Raises:
        ValueError: it breaks the rule of its column, which the message tells.
    """
    kind = "uuid" if isinstance(field, models.UUIDField) else type_of(field)
    if kind == "string":
        value = None if text == "\\N" else text
    elif text == "":
        value = None
    else:
        value = _READ[kind](text)
    _hold(value, field)
    return value


def _hold(value, field: models.Field) -> None:
    """The column's own rules."""
    if value is None:
        if not field.null and not isinstance(field, models.AutoField):
            raise ValueError("may not be empty")
        return
    if isinstance(value, str):
        _hold_text(value, field)
    if isinstance(field, models.IntegerField) and abs(value) > _MOST_COUNTED and not _is_key(field):
        raise ValueError("is more than anything that is counted")
    if field.choices and (value or not field.blank) and value not in {key for key, _ in field.flatchoices}:
        raise ValueError(f"is none of {', '.join(str(key) for key, _ in field.flatchoices)[:200]}")
    if value != "":
        _hold_validators(value, field)


def _is_key(field: models.Field) -> bool:
    return field.primary_key or isinstance(field, models.BigIntegerField)


def _hold_text(value: str, field: models.Field) -> None:
    if "\x00" in value:
        raise ValueError("holds a character that no text has")
    if getattr(field, "max_length", None) and len(value) > field.max_length:
        raise ValueError(f"is longer than {field.max_length} characters")


def _hold_validators(value, field: models.Field) -> None:
    for holds in _validators(field):
        try:
            holds(value)
        except ValidationError as error:
            raise ValueError(f"breaks a rule: {error.messages[0]}") from None


@cache
def _validators(field: models.Field) -> tuple:
    """What the field asks of a value, but for its length."""
    return tuple(v for v in field.validators if not isinstance(v, MaxLengthValidator))


def _boolean(text: str) -> bool:
    if text not in ("true", "false"):
        raise ValueError("is neither true nor false")
    return text == "true"


def _whole(text: str) -> int:
    try:
        value = int(text) if text.isascii() else None
    except ValueError:
        value = None
    if value is None or not -_LARGEST - 1 <= value <= _LARGEST:
        raise ValueError("is no whole number of 64 bits")
    return value


def _number(text: str) -> float:
    try:
        value = float(text) if text.isascii() else math.nan
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise ValueError("is no finite number")
    if abs(value) > _MOST_MEASURED:
        raise ValueError("is more than anything that is measured")
    return value


def _moment(text: str):
    value = parse_datetime(text)
    if value is None or value.tzinfo is None:
        raise ValueError("is no moment with its offset, such as 2026-01-31T18:00:00+00:00")
    _hold_year(value)
    return value


def _day(text: str):
    value = parse_date(text)
    if value is None:
        raise ValueError("is no day, such as 2026-01-31")
    _hold_year(value)
    return value


def _hold_year(value: date) -> None:
    if not _FIRST_YEAR <= value.year <= _LAST_YEAR:
        raise ValueError(f"is in no year from {_FIRST_YEAR} to {_LAST_YEAR}")


def _time(text: str):
    try:
        value = parse_time(text)
    except ValueError:
        value = None
    if value is None:
        raise ValueError("is no time of day, such as 14:30")
    return value


def _uuid(text: str) -> uuid.UUID:
    try:
        return uuid.UUID(text)
    except ValueError:
        raise ValueError("is no UUID") from None


def _object(text: str):
    def refuse(constant):
        raise ValueError(f"holds {constant}")

    try:
        return json.loads(text, parse_constant=refuse)
    except RecursionError:
        raise ValueError("is nested too deep") from None


_READ = {
    "boolean": _boolean, "integer": _whole, "number": _number, "datetime": _moment, "date": _day, "time": _time,
    "object": _object,
    "uuid": _uuid,
}  # fmt: skip
