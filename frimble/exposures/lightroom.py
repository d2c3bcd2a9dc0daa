"""What the light room knows now: hours of its lamps, control strips, densities of its films.

Kept for a minute, and read anew as soon as one of them is written (`forget`): pages ask for all of it at once.
"""

from collections import defaultdict
from datetime import datetime
from functools import cached_property
from typing import NamedTuple

from frimble.core.exposure import drift
from frimble.exposures.models import ControlStrip, Lamp, LampRecord, Run
from frimble.films.models import DensityReading
from frimble.people.kept import Kept

_STRIPS = 600
# More than some years of every lamp's readings.
_LAMP_RECORDS = 2000
_SHOWN = 60
_KEPT_S = 60
_KEPT = {name: Kept(f"light-room-{name}", _KEPT_S) for name in ("records", "burned", "densities", "strips")}


class LampRead(NamedTuple):
    """What was read off or done to a lamp, as plain values: a page reads hundreds of them."""

    lamp_id: int
    kind: str
    hours: float | None
    light_mw_cm2: float | None
    field: list | None
    at: datetime


class StripRead(NamedTuple):
    """A control strip as it was read, with the names of its lamp, emulsion and screen."""

    lamp_id: int
    emulsion_id: int
    step: float
    at: datetime
    lamp: str
    emulsion: str
    screen: str


_STRIP_COLUMNS = (
    "lamp_id", "emulsion_id", "step", "at", "lamp__name", "emulsion__name", "exposure__event__meshing__frame__code",
)  # fmt: skip


class DensityRead(NamedTuple):
    """The newest densities of a film system in one band."""

    dmax: float
    dmin: float


def forget(**kwargs) -> None:
    """Read anew: something of the light room was written."""
    for kept in _KEPT.values():
        kept.forget()


class LightRoom:
    """Looks each thing up the first time it is asked for; `in_force` are the house standards."""

    def __init__(self, in_force):
        self.in_force = in_force

    def hours(self, lamp: Lamp) -> float | None:
        """Hours on a lamp: as last read or since it was replaced, and what it has burned in runs since; None unread."""
        last = self._counted.get(lamp.pk)
        if last is None:
            return None
        return (last.hours or 0.0) + sum(
            s for lamp_id, at, s in self._burned if lamp_id == lamp.pk and at > last.at
        ) / 3600

    def replaced(self, lamp: Lamp) -> LampRead | None:
        """When its bulb or tubes were last replaced."""
        return self._replaced.get(lamp.pk)

    def dmin(self, film) -> float:
        """Clear film to the lamp's light: by UV where measured, else visible, else the house's usual."""
        found = self.density(film, "uv") or self.density(film, "visible")
        return found.dmin if found else self.in_force["film.usual_clear"]

    def density(self, film, band: str) -> DensityRead | None:
        """The newest reading of a film system in one band, or None; the bands are never mixed."""
        return self._densities.get((film.pk, band))

    def strips(self, lamp_id: int, emulsion_id: int, since=None) -> list[StripRead]:
        """The newest strips read under a lamp on an emulsion since a moment, oldest first."""
        found = self._strips.get((lamp_id, emulsion_id), [])
        return [s for s in found if since is None or s.at > since][-_SHOWN:]

    def drift(self, lamp_id: int, emulsion_id: int, since=None) -> drift.Drift | None:
        """What those strips say; None while there are too few."""
        steps = [s.step for s in self.strips(lamp_id, emulsion_id, since)]
        return drift.drift_of(steps, self.in_force["greyscale.aim"], self.in_force)

    def steady_since(self, lamp_id: int, emulsion_id: int, since) -> bool:
        """Whether enough strips were read since a moment, and nothing in them wants an explanation."""
        found = self.drift(lamp_id, emulsion_id, since)
        return found is not None and found.signal is None

    def drifts(self) -> list[tuple]:
        """(newest strip, drift) of every lamp and emulsion with enough strips."""
        told = [(strips[-1], self.drift(*pair)) for pair, strips in self._strips.items()]
        return [(last, found) for last, found in told if found]

    def records(self, lamp: Lamp, kind: str) -> list[LampRead]:
        """A lamp's records of one kind since its bulb or tubes are in it, oldest first; field maps of all time."""
        replaced = self.replaced(lamp)
        since = replaced.at if replaced and kind != LampRecord.Kind.FIELD else None
        return [
            r for r in self._records if r.lamp_id == lamp.pk and r.kind == kind and (since is None or r.at >= since)
        ]

    @cached_property
    def _records(self) -> list[LampRead]:
        return _KEPT["records"].get(self._read_records)

    def _read_records(self) -> list[LampRead]:
        newest = LampRecord.objects.order_by("-at", "-pk").values_list(*LampRead._fields)
        return [LampRead(*row) for row in newest[:_LAMP_RECORDS]][::-1]

    @cached_property
    def _counted(self) -> dict[int, LampRead]:
        counting = (LampRecord.Kind.HOURS, LampRecord.Kind.REPLACED)
        return {r.lamp_id: r for r in self._records if r.kind in counting}

    @cached_property
    def _replaced(self) -> dict[int, LampRead]:
        return {r.lamp_id: r for r in self._records if r.kind == LampRecord.Kind.REPLACED}

    @cached_property
    def _burned(self) -> list[tuple]:
        """(lamp, when, seconds) of every run since the lamps' hours were read."""
        return _KEPT["burned"].get(self._read_burned)

    def _read_burned(self) -> list[tuple]:
        if not self._counted:
            return []
        first = min(r.at for r in self._counted.values())
        runs = Run.objects.filter(made_at__gt=first, exposure__isnull=False)
        return list(runs.values_list("lamp_id", "made_at", "exposure__given_s"))

    @cached_property
    def _densities(self) -> dict[tuple[int, str], DensityRead]:
        return _KEPT["densities"].get(self._read_densities)

    def _read_densities(self) -> dict[tuple[int, str], DensityRead]:
        rows = DensityReading.objects.order_by("at", "pk").values_list("system_id", "band", "dmax", "dmin")
        return {(system, band): DensityRead(dmax, dmin) for system, band, dmax, dmin in rows}

    @cached_property
    def _strips(self) -> dict[tuple[int, int], list[StripRead]]:
        return _KEPT["strips"].get(self._read_strips)

    def _read_strips(self) -> dict[tuple[int, int], list[StripRead]]:
        newest = ControlStrip.objects.order_by("-at", "-pk").values_list(*_STRIP_COLUMNS)
        found = defaultdict(list)
        for row in reversed(list(newest[:_STRIPS])):
            strip = StripRead(*row)
            found[strip.lamp_id, strip.emulsion_id].append(strip)
        return dict(found)
