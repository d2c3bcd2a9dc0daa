"""What the page of a diagnosis shows."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from frimble.core.stencil.diagnosis import words
from frimble.core.stencil.diagnosis.causes import CAUSES
from frimble.core.stencil.diagnosis.codes import FACTS, Symptom
from frimble.core.stencil.diagnosis.model import Diagnosis, RankedCause
from frimble.core.stencil.diagnosis.symptoms import STAGES, SYMPTOMS
from frimble.stencils.diagnosis.records import Known

# Under this a cause is only counted, not shown.
_SHOWN_FROM, _MOST_SHOWN = 0.02, 6
# So many facts are asked at once.
ASKED = 3


@dataclass(frozen=True)
class SymptomTile:
    code: str
    label: str
    look: str
    chosen: bool


@dataclass(frozen=True)
class StageTiles:
    """The symptoms that are met at one stage of the work."""

    words: str
    tiles: Sequence[SymptomTile]


@dataclass(frozen=True)
class CauseRow:
    """A cause as it is shown: its share of all that it can be, what speaks for and against it, what to do."""

    code: str
    label: str
    percent: str
    share: float
    speaks_for: Sequence[str]
    speaks_against: Sequence[str]
    now: str
    next_time: str

    @property
    def width(self) -> str:
        """Of its bar, of a hundred."""
        return f"{100 * self.share:.1f}"


@dataclass(frozen=True)
class KnownRow:
    label: str
    value: str
    source: str


@dataclass(frozen=True)
class DiagnosisPart:
    """Causes, the first one leading; what to ask; what is on record."""

    seen: bool
    headline: str
    summary: str
    first: CauseRow | None
    others: Sequence[CauseRow]
    rest: str
    asks: str
    known: Sequence[KnownRow]


def tiles(chosen: Sequence[Symptom]) -> list[StageTiles]:
    """All symptoms by the stage at which they are met, those that were chosen marked."""
    return [
        StageTiles(
            stage_words,
            [
                SymptomTile(symptom.value, card.label, card.look, symptom in chosen)
                for symptom, card in SYMPTOMS.items()
                if card.stage == stage
            ],
        )
        for stage, stage_words in STAGES.items()
    ]


def part(
    diagnosis: Diagnosis, seen: Sequence[Symptom], known: Mapping[str, Known], facts: Mapping[str, Any]
) -> DiagnosisPart:
    """The page's part that changes with what is tapped."""
    shown = [r for r in diagnosis.causes[:_MOST_SHOWN] if r.probability >= _SHOWN_FROM] or list(diagnosis.causes[:1])
    rows = [_row(r, facts) for r in shown] if seen else []
    left = 1 - sum(r.probability for r in shown)
    return DiagnosisPart(
        seen=bool(seen),
        headline=rows[0].label.capitalize() if rows else "Tap what you see",
        summary=words.summary(diagnosis) if rows else _EMPTY,
        first=rows[0] if rows else None,
        others=rows[1:],
        rest=f"All other causes together, and none of these: {_percent(left)}." if rows else "",
        asks=f"What would tell most: {words.asked(diagnosis.ask[:ASKED])}." if rows and diagnosis.ask else "",
        known=[KnownRow(FACTS[n].label, words.shown_value(FACTS[n], k.value), k.source) for n, k in known.items()],
    )


_EMPTY = "Each cause is then weighed against this screen's own records."


def _percent(share: float) -> str:
    return "under 1 %" if share < 0.01 else f"{share * 100:.0f} %"


def _row(ranked: RankedCause, facts: Mapping[str, Any]) -> CauseRow:
    card = CAUSES[ranked.cause]
    return CauseRow(
        ranked.cause.value,
        card.label,
        _percent(ranked.probability),
        ranked.probability,
        [words.on_page(r, facts) for r in ranked.because],
        [words.on_page(r, facts) for r in ranked.against],
        card.now,
        card.next_time,
    )
