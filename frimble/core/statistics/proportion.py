"""A share of things counted, with its interval."""

import math

from frimble.core.statistics.interval import Interval
from frimble.core.statistics.normal import Z_90


def proportion(number: int, of: int) -> Interval:
    """Share `number` ÷ `of` with its 90 % interval.

    Raises:
        ValueError: nothing was counted, or more than there were.

    Source: Wilson's score interval (E. B. Wilson, 1927).
    """
    if not 0 <= number <= of or of == 0:
        raise ValueError(f"{number} of {of} is no share.")
    share, z2 = number / of, Z_90**2
    middle = (share + z2 / (2 * of)) / (1 + z2 / of)
    reach = Z_90 * math.sqrt(share * (1 - share) / of + z2 / (4 * of**2)) / (1 + z2 / of)
    return Interval(share, max(0.0, middle - reach), min(1.0, middle + reach))
