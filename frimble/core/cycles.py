"""What the records of one cycle, from bare mesh to bare mesh, come to."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime

from frimble.core.lifecycle import Event
from frimble.core.stencil.losses import LossStage


@dataclass(frozen=True)
class CycleSummary:
    """What is asked of many cycles at once.

    Attributes:
        last_min: kind of record → minute, since 1970, of the last of it.
        coated_at: when it was coated last. lost, lost_at: where and when its stencil was lost, before the press.
    """

    last_min: Mapping[str, float]
    coated_at: datetime | None
    lost: LossStage | None
    lost_at: datetime | None


def summary_of(events: Iterable[Event], closed_at: datetime | None) -> CycleSummary:
    """The summary of a cycle.

    A stencil that failed its last inspection is lost; so is one that was coated and never saw light before the mesh was bare
    again.

    Args:
        events: its standing records. closed_at: when it ended; None while it goes on.
    """
    last = {event.kind: event for event in sorted(events, key=lambda event: event.at)}
    inspected, coated = last.get("inspect"), last.get("coat")
    lost, lost_at = None, None
    if inspected and not inspected.facts.get("passed", True):
        lost, lost_at = LossStage.STENCIL, inspected.at
    elif closed_at and coated and "expose" not in last:
        lost, lost_at = LossStage.COAT, closed_at
    last_min = {kind: event.at.timestamp() / 60 for kind, event in last.items()}
    return CycleSummary(last_min, coated.at if coated else None, lost, lost_at)
