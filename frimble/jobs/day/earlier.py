"""The plan that people go by, as a new one of the same day sees it."""

from collections import defaultdict
from datetime import datetime

from frimble.core.planning.stages.way import FILM
from frimble.core.planning.standing import PlannedBefore
from frimble.jobs.day.queries import RoomDay
from frimble.jobs.models import PlannedDay


def still_goes(kept: PlannedDay | None, found: RoomDay) -> bool:
    """Whether a kept plan is one of the day that is planned now."""
    return kept is not None and datetime.fromisoformat(kept.plan["end"]).date() == found.start.date()


def planned_before(kept: PlannedDay, found: RoomDay) -> dict[str, list[PlannedBefore]]:
    """A kept plan's steps by screen, in minutes of the day that is planned now; films stand for themselves."""
    steps: dict[str, list[PlannedBefore]] = defaultdict(list)
    for row in sorted(kept.plan["tasks"], key=lambda row: row["start"]):
        if row["kind"] != FILM:
            start, end = (_minute(row[key], found.start) for key in ("start", "end"))
            steps[row["screen"]].append(PlannedBefore(row["kind"], start, end, row["person"] or None))
    return steps


def _minute(text: str, start: datetime) -> int:
    return round((datetime.fromisoformat(text) - start).total_seconds() / 60)
