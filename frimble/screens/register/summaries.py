"""What the records of meshes and their cycles come to, stored with them."""

from collections import defaultdict
from collections.abc import Iterable
from typing import Any

from frimble.core.cycles import summary_of
from frimble.core.lifecycle import MESH_ENDS, Event

_BATCH = 500


def summarized(closed_at, events: Iterable[Event]) -> dict[str, Any]:
    """Field of a cycle → what its standing records come to."""
    summary = summary_of(events, closed_at)
    return {
        "last_min": dict(summary.last_min),
        "coated_at": summary.coated_at,
        "lost": summary.lost or "",
        "lost_at": summary.lost_at,
    }


def summarize_all(meshes, cycles, events) -> None:
    """Bring meshes and cycles up to date whose records were written past the ledger, or before summaries were kept.

    Args:
        meshes, cycles, events: query sets, of every mesh and cycle and of every record that stands.
    """
    for mesh, at in events.filter(kind__in=MESH_ENDS).order_by("at").values_list("installation", "at"):
        meshes.filter(pk=mesh).update(ended_at=at)
    numbers = list(cycles.order_by("pk").values_list("pk", flat=True))
    for first in range(0, len(numbers), _BATCH):
        batch = cycles.in_bulk(numbers[first : first + _BATCH])
        records: dict[int, list[Event]] = defaultdict(list)
        for cycle, *event in events.filter(cycle__in=batch).values_list("cycle_id", "kind", "at", "facts"):
            records[cycle].append(Event(*event))
        for pk, cycle in batch.items():
            fields = summarized(cycle.closed_at, records[pk])
            vars(cycle).update(fields)
            cycle.save(update_fields=list(fields))
