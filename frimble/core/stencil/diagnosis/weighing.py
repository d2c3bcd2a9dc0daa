"""How much a recorded fact speaks for or against a cause, as the logarithm of how much likelier the cause makes it."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from math import log
from typing import Any

Facts = Mapping[str, Any]


@dataclass(frozen=True)
class Weigher:
    """One kind of record held against one cause.

    Attributes:
        facts: all of them are wanted. weigh: ln of the likelihood ratio; above 0 speaks for the cause.
        reach: from the strongest word against to the strongest word for.
        speaks_for, speaks_against: in words, without the values. instead_of: where one of these groups of facts is known
        too, this one says little beyond it.
    """

    facts: tuple[str, ...]
    weigh: Callable[[Facts], float]
    reach: float
    speaks_for: str
    speaks_against: str = ""
    instead_of: tuple[tuple[str, ...], ...] = ()

    def known(self, facts: Facts) -> bool:
        return all(name in facts for name in self.facts)

    def weight(self, facts: Facts) -> float:
        """The weight of what is known; a fifth of it where a better record says the same.

        Raises:
            KeyError: a fact is not known.
        """
        share = 0.2 if any(all(name in facts for name in group) for group in self.instead_of) else 1.0
        return share * self.weigh(facts)


def ramp(value: float, against_at: float, against: float, for_at: float, for_: float) -> float:
    """Straight between −`against` at `against_at` and +`for_` at `for_at`, level beyond; either end may be the higher."""
    share = (value - against_at) / (for_at - against_at)
    return -against + (against + for_) * min(max(share, 0.0), 1.0)


def level(
    name: str,
    against_at: float,
    against: float,
    for_at: float,
    for_: float,
    speaks_for: str,
    speaks_against: str = "",
    instead_of: tuple[tuple[str, ...], ...] = (),
) -> Weigher:
    """A number by itself."""
    weigh = lambda f: ramp(f[name], against_at, against, for_at, for_)  # noqa: E731
    return Weigher((name,), weigh, against + for_, speaks_for, speaks_against, instead_of)


def ratio(
    name: str,
    to: str,
    against_at: float,
    against: float,
    for_at: float,
    for_: float,
    speaks_for: str,
    speaks_against: str = "",
) -> Weigher:
    """A number against another, on a scale of ratios."""

    def weigh(facts: Facts) -> float:
        quotient = max(facts[name], 1e-9) / max(facts[to], 1e-9)
        return ramp(log(quotient), log(against_at), against, log(for_at), for_)

    return Weigher((name, to), weigh, against + for_, speaks_for, speaks_against)


def step_away(
    against_at: float, against: float, for_at: float, for_: float, speaks_for: str, speaks_against: str = ""
) -> Weigher:
    """The control strip's step less its usual one."""
    return Weigher(
        ("strip_step", "strip_usual"),
        lambda f: ramp(f["strip_step"] - f["strip_usual"], against_at, against, for_at, for_),
        against + for_,
        speaks_for,
        speaks_against,
    )


def answer(name: str, weights: Mapping[Any, float], speaks_for: str, speaks_against: str = "") -> Weigher:
    """A word, or yes or no."""
    reach = max(weights.values()) - min(weights.values())
    return Weigher((name,), lambda f: weights.get(f[name], 0.0), reach, speaks_for, speaks_against)
