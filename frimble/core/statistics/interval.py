"""A best estimate with the ends of its interval: how every measured or predicted number is held."""

import math
from collections.abc import Iterator
from dataclasses import dataclass


@dataclass(frozen=True)
class Interval:
    """A best estimate with the ends of its 90 % interval, or of the steps it lies between, all in one unit."""

    value: float
    low: float
    high: float

    def __iter__(self) -> Iterator[float]:
        """Value, low, high, in this order."""
        return iter((self.value, self.low, self.high))

    def exp(self) -> "Interval":
        """Of the quantity itself, where this one is of its natural logarithm."""
        return Interval(*(math.exp(v) for v in self))


def around(middle: float, reach: float) -> Interval:
    """The interval that reaches as far to either side."""
    return Interval(middle, middle - reach, middle + reach)
