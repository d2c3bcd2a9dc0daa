"""What the light room knows now: hours of its lamps, control strips, densities of its films.

Kept for a minute, and read anew as soon as one of them is written (`forget`): pages ask for all of it at once.
"""

from collections import defaultdict
from datetime import datetime
from functools import cached_property
from typing import NamedTuple

from frimble.core.exposure.chart import drift
from frimble.core.film.evidence import standing
from frimble.exposures.models import ChartEntry, ControlStrip, Lamp, LampRecord, Run
from frimble.films.models import DensityReading
from frimble.people.cached import CachedValue

# As many as tell of a season, charted the newest.
_STRIPS = 1500
# More than some years of every lamp's readings.
_LAMP_RECORDS = 2000
_SHOWN = 60
_KEPT_S = 60
_KEPT = {name: CachedValue(f"light-room-{name}", _KEPT_S) for name in ("records", "burned", "densities", "strips")}


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
    "lamp_id", "emulsion_id", "step", "at", "lamp__name", "emulsion__name", "exposure__event__installation__frame__code",
)  # fmt: skip


class DensityRead(NamedTuple):
    """The densities of a film process that count in one band; `at_least` where the black may be denser than was told."""

    dmax: float
    dmin: float
    at_least: bool = False
    at: datetime | None = None


def invalidate(**kwargs) -> None:
    """Read anew: something of the light room was written."""
    for kept in _KEPT.values():
        kept.invalidate()


class LightRoom:
    """Looks each thing up the first time it is asked for; `settings` are the house settings."""

    def __init__(self, settings):
        self.settings = settings
        self._told: dict[tuple, drift.Drift | None] = {}

    def hours(self, lamp: Lamp) -> float | None:
        """Hours on a lamp: as last read or since it was replaced, and what it has burned in runs since; None unread."""
        last = self._counted.get(lamp.pk)
        if last is None:
            return None
        return (last.hours or 0.0) + self._burned_since.get(lamp.pk, 0.0) / 3600

    def replaced(self, lamp: Lamp) -> LampRead | None:
        """When its bulb or tubes were last replaced."""
        return self._replaced.get(lamp.pk)

    def dmin(self, film_process) -> float:
        """Clear film to the lamp's light: by UV where it was measured, else the house's usual; the eye's says nothing."""
        density = self.density(film_process, "uv")
        return density.dmin if density else self.settings["film.usual_clear"]

    def density(self, film_process, band: str) -> DensityRead | None:
        """The reading of a film process that counts in one band, or None; the bands are never mixed."""
        return self._densities.get((film_process.pk, band))

    def strips(self, lamp_id: int, emulsion_id: int, since=None) -> list[StripRead]:
        """The newest strips read under a lamp on an emulsion since a moment, oldest first: those that are charted."""
        return self._since(lamp_id, emulsion_id, since)[-_SHOWN:]

    def drift(self, lamp_id: int, emulsion_id: int, since=None) -> drift.Drift | None:
        """What the strips since a calibration say, held against the first of them; None while there are too few."""
        asked = lamp_id, emulsion_id, since
        if asked not in self._told:
            steps = [s.step for s in self._since(*asked)]
            long = len(steps) > _SHOWN
            baseline = drift.baseline_of(steps, self.settings) if long else None
            self._told[asked] = drift.drift_of(steps[-_SHOWN:], self.settings, baseline)
        return self._told[asked]

    def steady_since(self, entry: ChartEntry, since) -> bool:
        """Whether enough strips were read since a moment, and they read as those between the calibration and then."""
        strips = self._since(entry.lamp_id, entry.emulsion_id, entry.accepted_at)
        baseline = drift.baseline_of([s.step for s in strips if s.at <= since], self.settings)
        after = [s.step for s in strips if s.at > since][-_SHOWN:]
        charted = drift.drift_of(after, self.settings, baseline) if baseline else None
        return charted is not None and charted.signal is None

    def drifts(self, times) -> list[tuple]:
        """(newest strip, when it was calibrated or None, drift) of every lamp and emulsion with enough strips.

        Args:
            times: in force, each with `lamp_id`, `emulsion_id` and `accepted_at`; of several under one lamp on one
                emulsion the oldest counts, since it is the one that has had most time to drift away.
        """
        drifting, calibrated = [], defaultdict(list)
        for time in times:
            calibrated[time.lamp_id, time.emulsion_id].append(time.accepted_at)
        for pair, strips in self._strips.items():
            since = min(calibrated[pair], default=None)
            if charted := self.drift(*pair, since):
                drifting.append((strips[-1], since, charted))
        return drifting

    def _since(self, lamp_id: int, emulsion_id: int, since) -> list[StripRead]:
        strips = self._strips.get((lamp_id, emulsion_id), [])
        return [s for s in strips if since is None or s.at > since]

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

    @cached_property
    def _burned_since(self) -> dict[int, float]:
        """Seconds that each lamp has burned since its hours were read."""
        burned: dict[int, float] = defaultdict(float)
        for lamp_id, at, seconds in self._burned:
            if lamp_id in self._counted and at > self._counted[lamp_id].at:
                burned[lamp_id] += seconds
        return burned

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
        by_band = defaultdict(list)
        for reading in DensityReading.objects.filter(setting="").select_related("process").order_by("at", "pk"):
            by_band[reading.process_id, reading.band].append(reading)
        counts = {band: read[standing([r.as_evidence() for r in read])[0]] for band, read in by_band.items()}
        return {band: DensityRead(r.dmax, r.dmin, r.at_least, r.at) for band, r in counts.items()}

    @cached_property
    def _strips(self) -> dict[tuple[int, int], list[StripRead]]:
        return _KEPT["strips"].get(self._read_strips)

    def _read_strips(self) -> dict[tuple[int, int], list[StripRead]]:
        newest = ControlStrip.objects.order_by("-at", "-pk").values_list(*_STRIP_COLUMNS)
        strips = defaultdict(list)
        for row in reversed(list(newest[:_STRIPS])):
            strip = StripRead(*row)
            strips[strip.lamp_id, strip.emulsion_id].append(strip)
        return dict(strips)
