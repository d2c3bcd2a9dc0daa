"""Units: one inside, either shown. Lengths µm or mm, time s, tension N/cm, temperature °C, humidity 0..1."""

import re
from dataclasses import dataclass

from frimble.core.conclusions import InvalidInput
from frimble.core.numbers import read_number, read_seconds, show_number

MM_PER_INCH = 25.4
# A point of type is a 72nd of an inch.
MM_PER_POINT = MM_PER_INCH / 72
CM_PER_INCH = 2.54
KG_PER_POUND = 0.45359237

_TO_BASE = {
    # length in mm
    "um": ("mm", 1e-3), "µm": ("mm", 1e-3), "mm": ("mm", 1.0), "cm": ("mm", 10.0), "m": ("mm", 1000.0),
    "in": ("mm", MM_PER_INCH), '"': ("mm", MM_PER_INCH), "mil": ("mm", MM_PER_INCH / 1000),
    "pt": ("mm", MM_PER_INCH / 72),
    # count per cm
    "/cm": ("/cm", 1.0), "/in": ("/cm", 1 / CM_PER_INCH),
    # time in s
    "s": ("s", 1.0), "min": ("s", 60.0), "h": ("s", 3600.0),
    # mass in kg
    "kg": ("kg", 1.0), "g": ("kg", 1e-3), "lb": ("kg", KG_PER_POUND), "oz": ("kg", KG_PER_POUND / 16),
}  # fmt: skip

_QUANTITY = re.compile(r"^\s*([-+]?\d+(?:[.,]\d+)?)\s*([^\d:\s][^\d:]*?)?\s*$")
_A_SIZES = {f"A{n}": None for n in range(7)}


def per_cm(per_inch: float) -> float:
    """Threads or lines per inch → per cm."""
    return per_inch / CM_PER_INCH


def per_inch(count_per_cm: float) -> float:
    """Threads or lines per cm → per inch."""
    return count_per_cm * CM_PER_INCH


def fahrenheit(celsius: float) -> float:
    return celsius * 9 / 5 + 32


def celsius(degrees_fahrenheit: float) -> float:
    return (degrees_fahrenheit - 32) * 5 / 9


def a_size_mm(name: str) -> tuple[int, int]:
    """Short and long side of an A sheet, whole mm.

    Raises:
        InvalidInput: not A0 to A6.

    Source: ISO 216, A0 is 841 × 1189 mm and each next size halves the long side, rounded down.
    """
    if name.upper() not in _A_SIZES:
        raise InvalidInput(f"“{name}” is not a sheet from A0 to A6.", "sheet")
    short, long = 841, 1189
    for _ in range(int(name[1:])):
        short, long = long // 2, short
    return short, long


def read_quantity(text: str, unit: str) -> float:
    """Read a typed quantity such as `43/cm`, `2 in` or `75 F` and return it in `unit`.

    A number without a unit is taken to be in `unit` already; a time may be put together, such as `1 min 30 s` or `1:30`.

    Raises:
        InvalidInput: not a number, an unknown unit, or a unit of another kind.
    """
    if unit == "s" and not _QUANTITY.fullmatch(str(text)):
        return read_seconds(text)
    match = _QUANTITY.match(str(text))
    if not match:
        raise InvalidInput(f"“{text}” is not a number with a unit such as {unit}.", "value")
    number, given = read_number(match[1]), match[2] or unit
    if unit == "°C":
        return _read_temperature(number, given)
    if given not in _TO_BASE or unit not in _TO_BASE or _TO_BASE[given][0] != _TO_BASE[unit][0]:
        raise InvalidInput(f"“{given}” cannot be read as {unit}.", "value")
    return number * _TO_BASE[given][1] / _TO_BASE[unit][1]


# Volume in ml and weight in g; an ounce without more said is one of weight.
_AMOUNTS = {
    "ml": ("ml", 1.0), "l": ("ml", 1000.0), "cl": ("ml", 10.0), "fl oz": ("ml", 29.5735295625),
    "g": ("g", 1.0), "kg": ("g", 1000.0), "oz": ("g", KG_PER_POUND / 16 * 1000), "lb": ("g", KG_PER_POUND * 1000),
}  # fmt: skip


@dataclass(frozen=True)
class Amount:
    """So much of something in the unit it was typed in, and in ml or g: what parts of one mixture are compared by."""

    value: float
    unit: str
    base: str
    in_base: float

    def like(self, in_base: float) -> str:
        """Another amount of the same kind in the unit of this one, as it is read off a scale or a measure."""
        return f"{in_base / _AMOUNTS[self.unit][1]:.4g} {self.unit}"


def read_amount(text: str, field: str) -> Amount:
    """An amount by volume or by weight as people type it: `250 g`, `8 oz`, `1.5 l`, `500`; ml where no unit stands.

    Raises:
        InvalidInput: not a number, or no unit of volume or weight.

    Source: the avoirdupois ounce is 28.35 g; the US fluid ounce is 29.57 ml.
    """
    match = _QUANTITY.match(str(text))
    if not match:
        raise InvalidInput(f"“{text}” is not an amount such as 250 g or 0.5 l.", field)
    unit = (match[2] or "ml").strip().lower()
    if unit not in _AMOUNTS:
        raise InvalidInput(f"“{unit}” is no unit of volume or weight: {', '.join(_AMOUNTS)}.", field)
    base, factor = _AMOUNTS[unit]
    number = read_number(match[1])
    return Amount(number, unit, base, number * factor)


def _read_temperature(number: float, given: str) -> float:
    letter = given.replace("°", "").strip().upper()
    if letter not in ("C", "F"):
        raise InvalidInput(f"“{given}” cannot be read as °C.", "value")
    return celsius(number) if letter == "F" else number


def show_seconds(time_s: float) -> str:
    """Seconds as the bench says them: 0.04 s, 14.6 s, 75 s, 6 min 30 s."""
    if time_s < 99.95:
        # The least light of a grey scale is little, not none.
        number = show_number(time_s, 1) if 0 < time_s < 0.05 else f"{time_s:.1f}"
        return f"{number} s".replace(".0 s", " s")
    whole = round(time_s)
    if whole < 180:
        return f"{whole} s"
    minutes, seconds = divmod(whole, 60)
    if minutes >= 20:
        return f"{round(whole / 60)} min"
    return f"{minutes} min {seconds} s" if seconds else f"{minutes} min"


def show_minutes(minutes: float) -> str:
    """Minutes as the bench says them: 25 min, 1 h 20 min, 3 days."""
    if minutes < 1:
        return "under 1 min"
    whole = round(minutes)
    if whole < 60:
        return f"{whole} min"
    if whole < 48 * 60:
        hours, rest = divmod(whole, 60)
        return f"{hours} h {rest} min" if rest else f"{hours} h"
    return f"{round(whole / 1440)} days"
