"""When a skill is to be drilled again: spaced repetition by the package fsrs.

Source: Free Spaced Repetition Scheduler, version 6, as its package implements it; long steps only, for skills.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from fsrs import Card, Rating, Scheduler, State

_HARD, _GOOD, _EASY = 0.5, 0.75, 0.95
# A skill is remembered when a drill of it would go well with this chance.
_RETENTION = 0.85


@dataclass(frozen=True)
class Repetition:
    """What is known of the memory of a skill: due again when, and the package's own card as plain values."""

    due: datetime
    card: dict[str, Any]

    def remembered(self, at: datetime) -> float:
        """Chance that it is still there, 0..1."""
        return float(_scheduler().get_card_retrievability(Card.from_dict(self.card), at))  # type: ignore[arg-type]


def _scheduler() -> Scheduler:
    return Scheduler(
        desired_retention=_RETENTION,
        learning_steps=(timedelta(hours=4),),
        relearning_steps=(timedelta(hours=4),),
        maximum_interval=365,
        enable_fuzzing=False,
    )


def drilled(before: Repetition | None, score: float, at: datetime) -> Repetition:
    """After a drill.

    Args:
        before: None for the first. score: 0..1. at: with its zone.
    """
    card = Card(card_id=1, state=State.Learning, due=at) if before is None else Card.from_dict(before.card)  # type: ignore[arg-type]
    after, _ = _scheduler().review_card(card, rating_of(score), at)
    return Repetition(after.due, dict(after.to_dict()))


def rating_of(score: float) -> Rating:
    """How well it went, in the package's four words."""
    if score < _HARD:
        return Rating.Again
    if score < _GOOD:
        return Rating.Hard
    return Rating.Good if score < _EASY else Rating.Easy
