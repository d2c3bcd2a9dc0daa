"""What the expose page shows: the time for a screen under a light, what it rests on, or why there is none."""

from collections.abc import Sequence
from dataclasses import dataclass

from frimble.core import lifecycle
from frimble.core.conclusions import Conclusion, RuleViolation
from frimble.core.exposure.chart.production import production_time
from frimble.core.exposure.light.source import contact_caution, units_for
from frimble.core.exposure.steptest.reading import SCHOOLS
from frimble.core.stencil.alternatives import other_ways
from frimble.core.verdicts import TimeRests
from frimble.exposures.chart import prediction
from frimble.exposures.chart import queries as chart_queries
from frimble.exposures.models import ChartEntry, Lamp
from frimble.exposures.production import adjustments as time_adjustments
from frimble.exposures.room import LightRoom
from frimble.screens.models import Screen

_MOST_FREE = 6


@dataclass(frozen=True)
class TimePart:
    """The time to give, or the refusal; from which entry of the chart it comes, factor by factor.

    Attributes:
        estimate, predicted: where nothing is calibrated, a time that is nothing to print with, and what it rests on.
        headroom: how far the film holds that time; None where its density is not known.
        units: the time in the lamp's own light units; None where it has no integrator.
    """

    time: Conclusion | None = None
    entry: ChartEntry | None = None
    factors: Sequence = ()
    estimate: Conclusion | None = None
    predicted: object = None
    headroom: Conclusion | None = None
    units: float | None = None

    @property
    def refused(self) -> bool:
        return self.time is None or self.time.refused

    @property
    def school_words(self) -> str:
        return SCHOOLS[self.entry.school] if self.entry else ""


def time_part(screen, light, coat, entries, sun, settings) -> TimePart:
    """The production time of a coat under a light, with the sun as it is now; empty without coat or light."""
    if not (coat and all(light.values())):
        return TimePart()
    room = LightRoom(settings)
    lamp, process = light["lamp"], light["film_process"]
    calibrated, entry = chart_queries.time_for(screen, lamp, process, room, coat, entries)
    factors, time = _adjusted(entry, coat.batch, sun, calibrated, room)
    estimate, predicted = (None, None)
    if time.refused:
        estimate, predicted = prediction.for_screen(screen, lamp, process, room, coat)
    headroom = chart_queries.film_headroom(process, entry, room) if entry else None
    return TimePart(time, entry, factors, estimate, predicted, headroom, _units(lamp, time))


def _adjusted(entry, batch, sun, calibrated: Conclusion, room) -> tuple[Sequence, Conclusion]:
    """(factors, the time with them), or the refusal of one that cannot be told."""
    try:
        factors = time_adjustments.factors_for(entry, batch, sun, room) if entry else ()
    except RuleViolation as refusal:
        return (), Conclusion(
            None, "s", TimeRests.NOT_KNOWN, refusal.reason, "hour and sky", next_best_measurement="a light meter"
        )
    return factors, production_time(calibrated, factors, room.settings)


def contact_words(lamp: Lamp | None) -> str:
    """What the lamp's way of pressing film to screen asks for."""
    return contact_caution(lamp.contact, lamp.geometry) if lamp else ""


def _units(lamp: Lamp, time: Conclusion) -> float | None:
    return units_for(time.value, lamp.units_a_second) if lamp.units_a_second and not time.refused else None


def ways(lamps: Sequence[Lamp]) -> Sequence:
    """Other ways to a stencil, where no time is to be had: thermal-film screens that stand free, and the sun."""
    free = Screen.objects.filter(installation__mesh__thermal=True, state=lifecycle.State.BARE)
    codes = free.values_list("frame__code", flat=True)[:_MOST_FREE]
    return other_ways(tuple(codes), tuple(lamp.name for lamp in lamps if lamp.is_sun))
