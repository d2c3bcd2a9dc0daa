"""A calibrated time as the chart shows it: how old it is, and what has moved since."""

from dataclasses import dataclass
from functools import cached_property

from django.utils import timezone

from frimble.core.units import show_seconds
from frimble.exposures.chart import queries as chart_queries
from frimble.exposures.chart import staleness
from frimble.exposures.models import ChartEntry
from frimble.exposures.room import LightRoom


@dataclass(frozen=True)
class ChartLine:
    """One calibrated time in force.

    Attributes:
        days: since it was accepted. stale: that is too long.
        emulsion: (what to do, why) where its emulsion has aged or another batch is in use, or None.
        moved: what else has, a sentence each.
    """

    entry: ChartEntry
    days: int
    stale: bool
    emulsion: tuple[str, str] | None
    moved: list[str]

    @cached_property
    def why_again(self) -> str:
        """Why the time wants another test, in short; empty while it holds."""
        if self.stale:
            return f"{self.days} days old: test again"
        if not self.entry.bracketed:
            return "not bracketed"
        return self.emulsion[0] if self.emulsion else "test again" if self.moved else ""

    @property
    def on_wall(self) -> tuple:
        """(mesh and coat, emulsion, lamp, its distance, film, time, window, day, whether to test again) on paper."""
        e, tested = self.entry, timezone.localdate(self.entry.accepted_at)
        return (
            f"{e.mesh.label}, {e.formula}", str(e.emulsion), str(e.lamp), e.lamp_distance_mm, str(e.film_process),
            show_seconds(e.time_s), f"{show_seconds(e.low_s)} to {show_seconds(e.high_s)}",
            f"{tested.day} {tested:%b %Y}", bool(self.stale or self.emulsion or self.moved),
        )  # fmt: skip


def lines_of(entries, room: LightRoom) -> list[ChartLine]:
    """A line for each of these times in force, by mesh, coat and lamp."""
    now, stale = timezone.now(), room.settings["exposure.stale_days"]
    emulsions = chart_queries.emulsion_moved(entries, now, room)
    lines = []
    for e in sorted(entries, key=lambda e: (e.mesh.count_per_cm, e.formula, e.lamp.name)):
        days = (now - e.accepted_at).days
        lines.append(ChartLine(e, days, days > stale, emulsions.get(e.pk), staleness.moved(e, None, room)))
    return lines
