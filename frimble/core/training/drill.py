"""What a drill is: what is shown, what is asked, what was true; and how an answer is marked."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from itertools import combinations
from typing import Any

import numpy as np
import numpy.typing as npt

from frimble.core.conclusions import InvalidInput
from frimble.core.training.scene import Scene

LEVELS = (1, 2, 3, 4, 5)
_HALF = 0.5


class Asks(StrEnum):
    """What kind of answer a question takes."""

    ONE = "one"
    MANY = "many"
    NUMBER = "number"
    ORDER = "order"
    TAPS = "taps"


@dataclass(frozen=True)
class Question:
    """One thing that is asked.

    Attributes:
        choices: value and words of each, for ONE, MANY and ORDER. right: the value, the set, the number, the order, or
            seconds. tolerance: a number or tap is right within it, half right within twice; a share of `right` where
            `relative`. near: score of wrong choices that are not quite wrong.
    """

    name: str
    label: str
    asks: Asks
    right: Any
    choices: tuple[tuple[str, str], ...] = ()
    unit: str = ""
    tolerance: float = 0.0
    relative: bool = False
    near: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class PhotoMark:
    """A box on a photo, px, and what is seen in it, said under it."""

    x: float
    y: float
    wide: float
    high: float
    words: str

    @property
    def bottom(self) -> float:
        return self.y + self.high


@dataclass(frozen=True)
class Drill:
    """A drill as it is shown, and its truth.

    Attributes:
        story: what happened before. scene: the drawing; photo: (h, w) of grey 0..255 beside or instead of it, with its
            words. explained: the same drawing with the answer in it; marks: what the photo then shows where, px.
        why: the answer in words.
    """

    story: str
    questions: tuple[Question, ...]
    why: str
    scene: Scene | None = None
    explained: Scene | None = None
    photo: npt.NDArray[np.uint8] | None = None
    photo_words: str = ""
    marks: tuple[PhotoMark, ...] = ()


@dataclass(frozen=True)
class MarkedPart:
    """One question: what was answered, what was right, and the share of it that was right."""

    label: str
    given: str
    right: str
    score: float


@dataclass(frozen=True)
class Marked:
    """A marked answer; `score` is the mean of its parts, 0..1."""

    score: float
    parts: tuple[MarkedPart, ...]


def mark(drill: Drill, given: Mapping[str, Any]) -> Marked:
    """How right an answer is.

    Args:
        given: by question a value, a set or list of values, a number, or seconds.

    Raises:
        InvalidInput: a question is not answered, or with something that is no answer to it.
    """
    parts = tuple(_part(question, given.get(question.name)) for question in drill.questions)
    return Marked(sum(p.score for p in parts) / len(parts), parts)


def _part(question: Question, given: Any) -> MarkedPart:
    if given is None or (given in ("", [], ()) and question.asks is not Asks.MANY):
        raise InvalidInput("Answer this too.", question.name)
    score = _MARKERS[question.asks](question, given)
    return MarkedPart(question.label, told(question, given), told(question, question.right), score)


def told(question: Question, value: Any) -> str:
    """An answer in words."""
    words = dict(question.choices)
    if question.asks is Asks.NUMBER:
        return f"{value:.3g} {question.unit}".strip()
    if question.asks is Asks.TAPS:
        return ", ".join(f"{v:.1f}" for v in value) + " s"
    if question.asks is Asks.ONE:
        return words[value]
    named = [words[v] for v in value]
    return ", ".join(named if question.asks is Asks.ORDER else sorted(named)) or "none"


def _one(question: Question, given: str) -> float:
    if given not in dict(question.choices):
        raise InvalidInput("Choose one of these.", question.name)
    return 1.0 if given == question.right else question.near.get(given, 0.0)


def _many(question: Question, given: Sequence[str]) -> float:
    """Shared over all that were named or true (Jaccard's index)."""
    chosen, right = set(given), set(question.right)
    if chosen - dict(question.choices).keys():
        raise InvalidInput("Choose among these.", question.name)
    return len(chosen & right) / len(chosen | right) if chosen | right else 1.0


def _number(question: Question, given: float) -> float:
    reach = question.tolerance * abs(question.right) if question.relative else question.tolerance
    return _within(abs(given - question.right), reach)


def _within(off: float, reach: float) -> float:
    return 1.0 if off <= reach * (1 + 1e-9) else _HALF if off <= 2 * reach else 0.0


def _order(question: Question, given: Sequence[str]) -> float:
    """Pairs in the right order, of all; less than half of them is nothing (Kendall's tau, 0 at the least)."""
    if sorted(given) != sorted(question.right):
        raise InvalidInput("Each once.", question.name)
    place = {value: k for k, value in enumerate(given)}
    pairs = list(combinations(question.right, 2))
    share = sum(place[a] < place[b] for a, b in pairs) / len(pairs)
    return max(0.0, 2 * share - 1)


def _taps(question: Question, given: Sequence[float]) -> float:
    """Each wanted moment by the tap in its place; one too few or too many is nothing for it."""
    right = question.right
    if any(not 0 <= tap < 1e5 for tap in given):
        raise InvalidInput("These are no times.", question.name)
    scores = [_within(abs(g - r), question.tolerance) for g, r in zip(given, right, strict=False)]
    return sum(scores) / max(len(given), len(right))


_MARKERS: Mapping[Asks, Callable[[Question, Any], float]] = {
    Asks.ONE: _one,
    Asks.MANY: _many,
    Asks.NUMBER: _number,
    Asks.ORDER: _order,
    Asks.TAPS: _taps,
}
