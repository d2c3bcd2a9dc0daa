"""Factor film: one exposure through filters of known factor; the right time is time × factor of the best column."""

import math
from collections.abc import Sequence

from frimble.core.conclusions import Conclusion, InvalidInput, require_between, require_positive
from frimble.core.statistics.normal import Z_90
from frimble.core.units import show_seconds
from frimble.core.verdicts import Bracket

# As common factor films have them.
USUAL_FACTORS = (1.0, 0.7, 0.5, 0.33, 0.25)
# A reader and a filter's own factor are off by so much, in ln of light. From memory.
_READER, _FILTER = 0.08, 0.04


def best_time(exposed_s: float, factors: Sequence[float], best: Sequence[float]) -> Conclusion:
    """Right time from a factor film.

    Args:
        exposed_s: the one exposure given, s.
        factors: every factor on the film, each in (0, 1].
        best: the best column's factor, or the two between which the best lies.

    Returns:
        The time with the ends it is known between, half a column, the reader and the filters counted; says so when the
        best column is at an end of the film.

    Raises:
        InvalidInput: a factor is not on the film, or not one or two best columns are named.
    """
    require_positive(exposed_s, "The exposure", "exposed_s")
    for factor in factors:
        require_between(factor, 0.001, 1, "A factor", "factors")
    if len(best) not in (1, 2) or any(b not in factors for b in best):
        raise InvalidInput("Name the best column, or the two best, by a factor that is on the film.", "best")
    scale = sorted(factors)
    low_index, high_index = scale.index(min(best)), scale.index(max(best))
    value = exposed_s * math.sqrt(min(best) * max(best))
    if len(best) == 2:
        low, high = exposed_s * min(best), exposed_s * max(best)
    else:
        low = exposed_s * math.sqrt(scale[max(low_index - 1, 0)] * scale[low_index])
        high = exposed_s * math.sqrt(scale[min(high_index + 1, len(scale) - 1)] * scale[high_index])
    columns = f"{show_seconds(low)} to {show_seconds(high)}"
    coarse = (high - low) / 2 / value
    low, high = _with_errors(value, low, high)
    at_end = low_index == 0 or high_index == len(scale) - 1
    again = ""
    if at_end:
        longer = high_index == len(scale) - 1
        again = f"another test at {show_seconds(exposed_s * (2 if longer else 0.5))}: the best is at an end"
    reason = (
        f"{show_seconds(exposed_s)} × {' to '.join(f'{b:g}' for b in sorted(best))} gives {columns}; the geometric middle "
        f"is {show_seconds(value)}, ±{coarse * 100:.0f} % by the columns; with reader and filters {show_seconds(low)} to "
        f"{show_seconds(high)}."
    )
    return Conclusion(
        value, "s", Bracket.NOT_BRACKETED if at_end else Bracket.BRACKETED, reason, "measured here", low, high, again
    )


def _with_errors(value: float, low: float, high: float) -> tuple[float, float]:
    """The ends that columns give, made wider by what reader and filters err."""
    error = Z_90 * math.hypot(_READER, _FILTER)
    below, above = (math.hypot(math.log(end / value), error) for end in (low, high))
    return value * math.exp(-below), value * math.exp(above)
