"""The drying cabinet: its air, the screens in it, and when each is dry."""

from dataclasses import dataclass
from typing import NamedTuple

from frimble.coatings.models import AirReading, Coat
from frimble.core import lifecycle
from frimble.core.coating import drying
from frimble.screens.models import Rack, Screen


@dataclass(frozen=True)
class Drying:
    """One screen that dries: its coat, and minutes more until the clock lets it go, as it is expected now.

    Attributes:
        left_min: until the hold ends. look_from_min: until half of such coats are dry; below 0 when that has passed.
        low_min, high_min: nine of ten dry between these. share: of the hold that is over.
    """

    screen: Screen
    coat: Coat
    left_min: float
    look_from_min: float
    low_min: float
    high_min: float
    share: float

    @property
    def worth_a_look(self) -> bool:
        return self.look_from_min <= 0

    @property
    def layers_left(self) -> int:
        return self.screen.layers - self.screen.layers_done


def last_reading(cabinet: Rack) -> AirReading | None:
    """The air in a cabinet as last seen."""
    return cabinet.air_readings.select_related("by").last()


def air_now(settings, cabinet: Rack | None = None) -> drying.Air:
    """The air a coat laid now will dry in: as last read in the cabinet, or the house's usual."""
    readings = AirReading.objects.filter(cabinet=cabinet) if cabinet else AirReading.objects.all()
    latest = readings.last()
    return latest.air if latest else drying.Air(settings["dry.cabinet_c"], settings["dry.cabinet_rh"])


def too_damp(air: drying.Air, settings) -> drying.Air | None:
    """The air when it is too damp for a coat; None when it is not."""
    return air if air.humidity > settings["dry.damp_rh"] else None


def drying_screens(now, settings, cabinet: Rack | None = None, most: int | None = None) -> list[Drying]:
    """The coated screens that are held as wet, of one cabinet or wherever they are, the next to be let go first."""
    wet = Screen.objects.for_lists().filter(state__in=lifecycle.LIVE, wet_until__gt=now).order_by("wet_until")
    wet = (wet.filter(slot__rack=cabinet) if cabinet else wet)[:most]
    coats = latest_coats([s.installation_id for s in wet])
    return [_drying(s, coats[s.installation_id], now, settings) for s in wet if s.installation_id in coats]


class CoatOn(NamedTuple):
    """What lies on a mesh, as plain values: the formula, and the batch and emulsion it came from."""

    formula: str
    emulsion_id: int
    batch: str
    emulsion: str


def coats_on(installation_ids) -> dict[int, CoatOn]:
    """What the last standing coat of each mesh's open cycle is."""
    rows = _standing(installation_ids).values_list(
        "event__installation_id", "formula", "batch__emulsion_id", "batch__code", "batch__emulsion__name"
    )
    return {installation: CoatOn(*coat) for installation, *coat in rows}


def latest_coats(installation_ids) -> dict[int, Coat]:
    """The last standing coat of each mesh's open cycle, with all that its drying rests on."""
    laid = _standing(installation_ids).select_related("batch__emulsion", "event__installation__mesh", "event__by")
    return {c.event.installation_id: c for c in laid}


def _standing(installation_ids):
    """Coats of these meshes' open cycles, the last layer last."""
    # Found by the cycle, of which a mesh has one open: by the mesh every coat of its life would be read.
    return Coat.objects.filter(
        event__cycle__installation__in=installation_ids,
        event__cycle__closed_at__isnull=True,
        event__replaced_by__isnull=True,
    ).order_by("event__at", "pk")


def _drying(screen, coat, now, settings) -> Drying:
    """What was expected when it was laid, stretched by what the air and looks have moved the hold since."""
    left = (screen.wet_until - now).total_seconds() / 60
    elapsed = (now - coat.event.at).total_seconds() / 60
    moved = (left + elapsed) / drying.hold_minutes(coat.drying_time, settings)
    middle, low, high = (moved * minutes - elapsed for minutes in coat.drying_time)
    return Drying(screen, coat, left, middle, max(0.0, low), high, elapsed / max(left + elapsed, 1e-9))
