"""Two step tests against each other: what differs between them, and by how much that moves the window.

A trial tells what moved the time only when one thing differs.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass

from frimble.core.conclusions import Conclusion, RuleViolation, Settings
from frimble.core.exposure.steptest.window import EdgeFit, WindowFit
from frimble.core.statistics.normal import Z_90
from frimble.core.verdicts import Comparison


@dataclass(frozen=True)
class Side:
    """One of the two tests: its name, what it was made with (words by what they tell of), its window, and its screen."""

    name: str
    made_with: Mapping[str, str]
    fit: WindowFit
    screen: str


def differences(one: Side, other: Side) -> tuple[str, ...]:
    """What the two were not alike in, in the order it is told."""
    return tuple(k for k, words in one.made_with.items() if other.made_with.get(k) != words)


def compare(one: Side, other: Side, settings: Settings) -> Conclusion:
    """How many times `one`'s light `other` wants for full cure, with a 90 % interval, and what that can be put down to.

    Two screens coated alike are not one screen: the interval allows for what their coats differ by chance.

    Raises:
        RuleViolation: full cure is not bracketed on both.
    """
    differ = differences(one, other)
    apart = settings["steptest.screens_differ"] if one.screen != other.screen else 0.0
    factor, low, high = _factor(one.fit.cured, other.fit.cured, apart)
    ratio_words = (
        f"{other.name} wants ×{factor:.2f} the light of {one.name}, ×{low:.2f} to ×{high:.2f} nine times in ten."
    )
    if apart:
        ratio_words += (
            f" They lay on two screens, {one.screen} and {other.screen}, whose coats differ by chance: that is in it."
        )
    by_chance = low <= 1 <= high
    if len(differ) > 1:
        verdict, why = Comparison.TANGLED, f"{len(differ)} things differ, {_listed(differ)}: change one at a time."
    elif not differ:
        verdict, why = Comparison.REPEAT, "Nothing differs: that far apart do two tests of the same lie here."
    elif by_chance:
        verdict, why = Comparison.NO_DIFFERENCE, f"Only the {differ[0]} differs, and chance alone explains as much."
    else:
        verdict, why = Comparison.DIFFERENCE, f"Only the {differ[0]} differs, and chance alone would not do that."
    better = (
        "" if verdict == Comparison.DIFFERENCE else "a repeat on the same screen with finer steps, one thing changed"
    )
    return Conclusion(factor, "×", verdict, f"{ratio_words} {why}", "measured here", low, high, better)


def headroom(one: Side, other: Side) -> Conclusion | None:
    """How many times as wide `other`'s window is, from full cure to the detail closing; None where an end is not known."""
    edges = (one.fit.cured, one.fit.closes, other.fit.cured, other.fit.closes)
    known = [e for e in edges if e and e.bracketed]
    if len(known) < len(edges):
        return None
    a, b, c, d = (math.log(e.value) for e in known)
    sd = math.hypot(*(e.sd for e in known))
    middle = (d - c) - (b - a)
    low, value, high = (math.exp(middle + k * Z_90 * sd) for k in (-1, 0, 1))
    wider = Comparison.WIDER if low > 1 else Comparison.NARROWER if high < 1 else Comparison.AS_WIDE
    return Conclusion(
        value,
        "×",
        wider,
        f"From cure to closing {other.name} has ×{math.exp(d - c):.2f}, {one.name} ×{math.exp(b - a):.2f}: {wider}.",
        "measured here",
        low,
        high,
    )


def _factor(one: EdgeFit | None, other: EdgeFit | None, apart: float) -> tuple[float, float, float]:
    if not (one and other and one.bracketed and other.bracketed):
        raise RuleViolation("Full cure is not bracketed on both tests: read both, or test again where it lies.")
    middle, sd = math.log(other.value / one.value), math.hypot(one.sd, other.sd, apart)
    return math.exp(middle), math.exp(middle - Z_90 * sd), math.exp(middle + Z_90 * sd)


def _listed(names: tuple[str, ...]) -> str:
    return f"{', '.join(names[:-1])} and {names[-1]}"
