"""What the page of press feedback shows: what follows for the screen room, the cure, what was said before."""

from collections.abc import Sequence
from dataclasses import dataclass
from urllib.parse import urlencode

from django.urls import reverse

from frimble.core.conclusions import Conclusion
from frimble.core.press.cure import judge_cure
from frimble.core.press.feedback import advice
from frimble.press.feedback import queries
from frimble.press.feedback.models import PressFeedback


@dataclass(frozen=True)
class AdviceRow:
    """What to do, and where its causes are weighed; empty where there is nothing to weigh."""

    words: str
    url: str


@dataclass(frozen=True)
class FeedbackPart:
    advice: Sequence[AdviceRow]
    cure: Conclusion | None
    said: Sequence[PressFeedback]
    impressions: str


def part(screen, said: Sequence[PressFeedback], settings) -> FeedbackPart:
    """What follows from the newest feedback of this stencil."""
    newest = said[0] if said else None
    rows = _advice(screen, newest, settings) if newest else []
    counted = next((s.impressions for s in said if s.impressions is not None), None)
    return FeedbackPart(
        rows,
        _cure(newest, settings) if newest and newest.ink_c is not None else None,
        said,
        f"{counted} impressions so far" if counted is not None else "",
    )


def _advice(screen, newest: PressFeedback, settings) -> list[AdviceRow]:
    wrong = reverse("stencils:diagnosis", args=[screen.code])
    return [
        AdviceRow(a.words, f"{wrong}?{urlencode({'symptoms': a.looks_into}, doseq=True)}" if a.looks_into else "")
        for a in advice(newest.as_core(), queries.printed_screen(screen, settings), settings)
    ]


def _cure(newest: PressFeedback, settings) -> Conclusion:
    return judge_cure(newest.ink, newest.ink_c, newest.ink_s, newest.blend, settings)
