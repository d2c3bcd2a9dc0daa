"""What the core says: a conclusion with its reason, or a refusal with its reason."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from frimble.core.statistics.interval import Interval
from frimble.core.verdicts import Verdict

# The house settings in force, by key: what rules go by.
Settings = Mapping[str, Any]


class InvalidInput(ValueError):
    """A value the rule cannot take.

    `field` names the offending argument so that a page can put the message beside it.
    """

    def __init__(self, message: str, field: str = "") -> None:
        super().__init__(message)
        self.field = field


class RuleViolation(Exception):
    """The rule forbids the step; the message is the reason. A lead may override when `overridable`."""

    def __init__(self, reason: str, overridable: bool = False, field: str = "") -> None:
        super().__init__(reason)
        self.reason = reason
        self.overridable = overridable
        self.field = field


@dataclass(frozen=True)
class Conclusion:
    """A value to act on, never bare.

    Attributes:
        value: the number concluded, or None when the rule refuses.
        low, high: ends of its interval in `unit`, or None where no interval can be given.
        unit: unit of all three.
        verdict: the word a list can show, with whether somebody has to do something about it.
        reason: one sentence a technician understands.
        rests_on: "measured here", "predicted from …", "house default" or "common practice".
        next_best_measurement: what would make the answer better; empty when nothing would.
    """

    value: float | None
    unit: str
    verdict: Verdict
    reason: str
    rests_on: str
    low: float | None = None
    high: float | None = None
    next_best_measurement: str = ""

    @property
    def refused(self) -> bool:
        return self.value is None

    @property
    def known(self) -> float:
        """The value, where the rule gave one.

        Raises:
            RuleViolation: it refused; its reason is passed on.
        """
        if self.value is None:
            raise RuleViolation(self.reason)
        return self.value

    @property
    def interval(self) -> Interval:
        """The value with both ends, where the rule gave them.

        Raises:
            RuleViolation: it refused, or an end is not known; its reason is passed on.
        """
        if self.low is None or self.high is None:
            raise RuleViolation(self.reason)
        return Interval(self.known, self.low, self.high)


def require_positive(value: float, what: str, field: str) -> float:
    """Return `value`, or raise InvalidInput unless it is a finite number above zero."""
    if not 0 < value < float("inf"):
        raise InvalidInput(f"{what} must be more than 0; {value:g} was given.", field)
    return value


def require_between(value: float, low: float, high: float, what: str, field: str) -> float:
    """Return `value`, or raise InvalidInput unless low ≤ value ≤ high."""
    if not low <= value <= high:
        raise InvalidInput(f"{what} must be between {low:g} and {high:g}; {value:g} was given.", field)
    return value
