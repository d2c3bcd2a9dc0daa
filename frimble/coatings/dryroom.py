"""The drying cabinet: its air, the screens in it, when each is dry, and the looks that tell."""

from dataclasses import dataclass
from datetime import timedelta
from typing import NamedTuple

from django.db import transaction
from django.utils import timezone

from frimble.coatings import drylearning
from frimble.coatings.actions import current_coat
from frimble.coatings.models import AirReading, Coat, DryCheck
from frimble.core import lifecycle
from frimble.core.coating import drying, dryness
from frimble.core.conclusions import Conclusion, Refused, require_between
from frimble.core.units import show_minutes
from frimble.people import standards
from frimble.screens import ledger
from frimble.screens.models import LifeEvent, Rack, Screen

_STANDS_STILL = timedelta(hours=24)


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


def air_now(in_force, cabinet: Rack | None = None) -> drying.Air:
    """The air a coat laid now will dry in: as last read in the cabinet, or the house's usual."""
    readings = AirReading.objects.filter(cabinet=cabinet) if cabinet else AirReading.objects.all()
    latest = readings.last()
    return latest.air if latest else drying.Air(in_force["dry.cabinet_c"], in_force["dry.cabinet_rh"])


def damp_air(in_force) -> drying.Air | None:
    """The air a coat laid now would dry in, when it is too damp for one; None when it is not."""
    air = air_now(in_force)
    return air if air.humidity > in_force["dry.damp_rh"] else None


def drying_screens(now, cabinet: Rack | None = None, most: int | None = None) -> list[Drying]:
    """The coated screens that are still wet, of one cabinet or wherever they are, the next dry one first."""
    wet = Screen.objects.for_lists().filter(state__in=lifecycle.LIVE, wet_until__gt=now).order_by("wet_until")
    wet = (wet.filter(slot__rack=cabinet) if cabinet else wet)[:most]
    coats = latest_coats([s.meshing_id for s in wet])
    return [_drying(s, coats[s.meshing_id], now) for s in wet if s.meshing_id in coats]


class CoatOn(NamedTuple):
    """What lies on a mesh, as plain values: the formula, and the pot and emulsion it came from."""

    formula: str
    emulsion_id: int
    pot: str
    emulsion: str


def coats_on(meshing_ids) -> dict[int, CoatOn]:
    """What the last standing coat of each mesh's open cycle is."""
    rows = _standing(meshing_ids).values_list(
        "event__meshing_id", "formula", "batch__emulsion_id", "batch__code", "batch__emulsion__name"
    )
    return {meshing: CoatOn(*coat) for meshing, *coat in rows}


def latest_coats(meshing_ids) -> dict[int, Coat]:
    """The last standing coat of each mesh's open cycle, with all that its drying rests on."""
    laid = _standing(meshing_ids).select_related("batch__emulsion", "event__meshing__mesh", "event__by")
    return {c.event.meshing_id: c for c in laid}


def _standing(meshing_ids):
    """Coats of these meshes' open cycles, the last layer last."""
    return Coat.objects.filter(
        event__meshing__in=meshing_ids, event__replaced_by__isnull=True, event__cycle__closed_at__isnull=True
    ).order_by("event__at", "pk")


def _drying(screen, coat, now) -> Drying:
    """The interval is that of the whole drying, as it is expected now, less what has passed."""
    left = (screen.wet_until - now).total_seconds() / 60
    elapsed = (now - coat.event.at).total_seconds() / 60
    low, high = ((left + elapsed) * bound / coat.dry_min - elapsed for bound in (coat.dry_low_min, coat.dry_high_min))
    return Drying(screen, coat, left, max(0.0, low), high)


@transaction.atomic
def log_air(cabinet: Rack, person, air: drying.Air, *, simulated=False) -> tuple[AirReading, list[LifeEvent]]:
    """Write down a cabinet's air, and set anew when each wet coat in it will be dry.

    Returns:
        The reading, and a record for each screen whose time it moved.

    Raises:
        OutOfRange: impossible air.
    """
    in_force, now = standards.current(), timezone.now()
    deficit = drying.vapour_pressure_deficit_pa(air.air_c, air.humidity, in_force)
    before = last_reading(cabinet)
    reading = AirReading.objects.create(
        cabinet=cabinet, air_c=air.air_c, humidity=air.humidity, fan=air.fan, simulated=simulated, at=now, by=person
    )
    inside = drying_screens(now, cabinet)
    known = drylearning.belief(in_force) if inside else None
    moved = [_set_anew(d, before, air, deficit, person, now, in_force, known) for d in inside]
    return reading, [event for event in moved if event]


def _set_anew(found, before, air, deficit, person, now, in_force, known) -> LifeEvent | None:
    """A record with the new time, when the air moves it by more than its noise."""
    if deficit < in_force["dry.least_deficit_pa"]:
        until, words = now + _STANDS_STILL, "Drying stands still: the cabinet's air takes up no water"
    else:
        then = before.air if before and before.at >= found.coat.event.at else found.coat.air
        whole = [drylearning.expected_of(found.coat, a, in_force, known).value for a in (then, air)]
        if whole[0] is None:
            whole[0] = whole[1]
        left = drying.remaining_min(found.left_min, *whole)
        if abs(left - found.left_min) < in_force["dry.moved_min"]:
            return None
        until = now + timedelta(minutes=left)
        sooner = "sooner" if left < found.left_min else "later"
        words = (
            f"Cabinet at {air.air_c:.1f} °C and {air.humidity * 100:.0f} %: dry in about {show_minutes(left)}, {sooner}"
        )
    return ledger.record(found.screen.code, "air", person, facts={"wet_until": until.isoformat()}, summary=words)


@transaction.atomic
def check_dry(code, person, *, method: str, found: Conclusion, revision=None, note="") -> LifeEvent:
    """Write down whether a coat was dry: it frees the screen, or says how much longer.

    Raises:
        Refused: there is no coat to feel, or a fingertip calls it dry long before such coats are.
    """
    now = timezone.now()
    screen = ledger.lock(code, revision)
    if screen.state not in lifecycle.LIVE:
        raise Refused("There is no unexposed coat on it.")
    coat = current_coat(screen)
    elapsed = require_between((now - coat.event.at).total_seconds() / 60, 0, 60 * 24 * 400, "The time since", "method")
    expected = Conclusion(coat.dry_min, "min", "", "", "", low=coat.dry_low_min, high=coat.dry_high_min)
    if found.verdict == dryness.DRY and method == "touch" and elapsed < expected.low:
        raise Refused(
            f"{show_minutes(elapsed)} after coating a fingertip cannot tell: nineteen of twenty such coats take "
            f"{show_minutes(expected.low)} or more, and wet inside looks dry outside. "
            "Weigh it twice or use a moisture meter.",
            field="method",
        )
    until = _wet_until(found.verdict, screen, expected, elapsed, now)
    words = {dryness.DRY: "Dry", dryness.DAMP: "Still damp"}.get(found.verdict, "Not sure whether dry")
    more = f", about {show_minutes((until - now).total_seconds() / 60)} more" if until and until > now else ""
    event = ledger.record(
        code, "dry_check", person, revision=revision, note=note, summary=f"{words} after {show_minutes(elapsed)}{more}. "
        f"{found.reason}", facts={"verdict": found.verdict, "wet_until": until.isoformat() if until else None},
    )  # fmt: skip
    DryCheck.objects.create(event=event, coat=coat, method=method, verdict=found.verdict, elapsed_min=max(elapsed, 0.1))
    return event


def _wet_until(verdict, screen, expected, elapsed, now):
    if verdict == dryness.DRY:
        return None
    if verdict == dryness.DAMP:
        return now + timedelta(minutes=drying.still_damp(expected, elapsed))
    return screen.wet_until
