"""The drying cabinet: its air, the screens in it, and when each is dry."""

from dataclasses import dataclass
from typing import NamedTuple

from frimble.coatings.models import AirReading, Coat
from frimble.core import lifecycle
from frimble.core.coating import drying
from frimble.screens.models import Rack, Screen


@dataclass(frozen=True)
class Drying:
    """One screen that dries: its coat, what its drying was expected to take, minutes left, and the share behind it."""

    screen: Screen
    coat: Coat
    left_min: float
    low_min: float
    high_min: float

    @property
    def share(self) -> float:
        return 1 - self.left_min / self.coat.dry_min if self.coat.dry_min else 1.0

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


def damp_air(settings) -> drying.Air | None:
    """The air a coat laid now would dry in, when it is too damp for one; None when it is not."""
    air = air_now(settings)
    return air if air.humidity > settings["dry.damp_rh"] else None


def drying_screens(now, cabinet: Rack | None = None, most: int | None = None) -> list[Drying]:
    """The coated screens that are still wet, of one cabinet or wherever they are, the next dry one first."""
    wet = Screen.objects.for_lists().filter(state__in=lifecycle.LIVE, wet_until__gt=now).order_by("wet_until")
    wet = (wet.filter(slot__rack=cabinet) if cabinet else wet)[:most]
    coats = latest_coats([s.installation_id for s in wet])
    return [_drying(s, coats[s.installation_id], now) for s in wet if s.installation_id in coats]


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
    return Coat.objects.filter(
        event__installation__in=installation_ids, event__replaced_by__isnull=True, event__cycle__closed_at__isnull=True
    ).order_by("event__at", "pk")


def _drying(screen, coat, now) -> Drying:
    """The interval is that of the whole drying, as it is expected now, less what has passed."""
    left = (screen.wet_until - now).total_seconds() / 60
    elapsed = (now - coat.event.at).total_seconds() / 60
    low, high = ((left + elapsed) * bound / coat.dry_min - elapsed for bound in (coat.dry_low_min, coat.dry_high_min))
    return Drying(screen, coat, left, max(0.0, low), high)
