"""Numbers as people write and read them: the one parser and the one formatter.

A decimal point or comma; times as `90`, `90 s`, `1:30` or `1 min 30 s`; ratios as `10` or `10:1`.
"""

import math
import re
from decimal import Decimal

from frimble.core.conclusions import InvalidInput

_NUMBER = re.compile(r"[-+]?(?:\d+(?:[.,]\d*)?|[.,]\d+)")
_CLOCK = re.compile(r"(?:(\d+):)?(\d{1,3}):(\d{2}(?:[.,]\d+)?)")
_PART_OF_TIME = re.compile(r"(\d+(?:[.,]\d+)?)\s*(h|min|s)(?![a-z])")
_IN_PARTS = re.compile(rf"(?:{_PART_OF_TIME.pattern}\s*)+")
_SECONDS = {"h": 3600.0, "min": 60.0, "s": 1.0}
_RATIO = re.compile(r"(?P<parts>[^:]+?)(?:\s*:\s*(?P<to>[^:]+))?")


def read_number(text: str, field: str = "value") -> float:
    """A finite number typed with a point or a comma.

    Raises:
        InvalidInput: anything else; nothing is guessed.
    """
    written = str(text).strip().replace("\u2212", "-").replace("\u202f", "").replace("\u00a0", "")
    if not _NUMBER.fullmatch(written):
        raise InvalidInput(f"“{str(text).strip()}” is not a number.", field)
    value = float(written.replace(",", "."))
    if not math.isfinite(value):
        raise InvalidInput(f"“{str(text).strip()}” is larger than any number here.", field)
    return value


def read_numbers(text: str, field: str) -> list[float]:
    """A list of numbers parted by spaces or semicolons, or by commas: `8,5 10,1` are two, `8,5,10` three, `8.5,10` two.

    Raises:
        InvalidInput: no number at all, or one that cannot be read.
    """
    parts = [part.strip(",") for part in str(text).replace(";", " ").split() if part.strip(",")]
    with_decimals = len(parts) > 1 and "." not in str(text) and all(part.count(",") < 2 for part in parts)
    if not with_decimals:
        parts = str(text).replace(";", " ").replace(",", " ").split()
    if not parts:
        raise InvalidInput("Give at least one number.", field)
    return [read_number(part, field) for part in parts]


def read_seconds(text: str, field: str = "value") -> float:
    """A time in s: `90`, `90 s`, `1:30`, `1:02:03`, `1 min 30 s`.

    Raises:
        InvalidInput: not a time, or more than 59 seconds or minutes behind a colon.
    """
    written = str(text).strip()
    if clock := _CLOCK.fullmatch(written):
        hours, minutes, seconds = int(clock[1] or 0), int(clock[2]), float(clock[3].replace(",", "."))
        if seconds >= 60 or (clock[1] and minutes >= 60):
            raise InvalidInput(f"“{written}” has more than 59 behind a colon: write it as 1:30.", field)
        return hours * 3600 + minutes * 60 + seconds
    if _IN_PARTS.fullmatch(written):
        return sum(float(n.replace(",", ".")) * _SECONDS[unit] for n, unit in _PART_OF_TIME.findall(written))
    try:
        return read_number(written, field)
    except InvalidInput:
        raise InvalidInput(f"“{written}” is not a time such as 90, 1:30 or 1 min 30 s.", field) from None


def read_ratio(text: str, field: str = "ratio") -> float:
    """Parts to one: `10`, `10:1` or `20:2`.

    Raises:
        InvalidInput: not a ratio, or one to nothing.
    """
    written = str(text).strip()
    match = _RATIO.fullmatch(written)
    if not match:
        raise InvalidInput(f"“{written}” is not a ratio such as 10:1.", field)
    parts, to = read_number(match["parts"], field), read_number(match["to"] or "1", field)
    if parts <= 0 or to <= 0:
        raise InvalidInput(f"“{written}”: both sides of a ratio are more than 0, such as 10:1.", field)
    return parts / to


def show_number(value: float, digits: int = 3) -> str:
    """A value at `digits` significant figures, without an exponent, as people write it; thousands set apart."""
    if value == 0:
        return "0"
    rounded = Decimal(f"{value:.{digits}g}")
    text = f"{rounded:f}"
    return f"{rounded:,.0f}".replace(",", " ") if abs(rounded) >= 1000 and rounded == rounded.to_integral() else text


def counted(number: int, one: str, many: str = "") -> str:
    """A number with its noun: 1 screen, 2 screens; `many` where the plural is no plain s."""
    return f"{number} {one if number == 1 else many or one + 's'}"
