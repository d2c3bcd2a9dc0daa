"""A cabinet's air written down, and looks that tell whether a coat is dry."""

from datetime import timedelta

from django.db import transaction
from django.utils import timezone

from frimble.coatings.coats.queries import current_coat
from frimble.coatings.drying import learning as drying_learning
from frimble.coatings.drying.queries import drying_screens, last_reading
from frimble.coatings.models import AirReading, DryCheck
from frimble.core import lifecycle
from frimble.core.coating import drying, dryness
from frimble.core.conclusions import Conclusion, RuleViolation, require_between
from frimble.core.units import show_minutes
from frimble.people import settings as house_settings
from frimble.screens import ledger
from frimble.screens.models import Rack, ScreenEvent

_STANDS_STILL = timedelta(hours=24)


@transaction.atomic
def log_air(cabinet: Rack, person, air: drying.Air, *, simulated=False) -> tuple[AirReading, list[ScreenEvent]]:
    """Record a cabinet's air, and set anew when each wet coat in it will be dry.

    Returns:
        The reading, and a record for each screen whose time it moved.

    Raises:
        InvalidInput: impossible air.
    """
    settings, now = house_settings.current(), timezone.now()
    deficit = drying.vapour_pressure_deficit_pa(air.air_c, air.humidity, settings)
    before = last_reading(cabinet)
    reading = AirReading.objects.create(
        cabinet=cabinet, air_c=air.air_c, humidity=air.humidity, fan=air.fan, simulated=simulated, at=now, by=person
    )
    inside = drying_screens(now, cabinet)
    known = drying_learning.belief(settings) if inside else None
    moved = [_set_anew(d, before, air, deficit, person, now, settings, known) for d in inside]
    return reading, [event for event in moved if event]


def _set_anew(found, before, air, deficit, person, now, settings, known) -> ScreenEvent | None:
    """A record with the new time, when the air moves it by more than its noise."""
    if deficit < settings["dry.least_deficit_pa"]:
        until, words = now + _STANDS_STILL, "Drying stands still: the cabinet's air takes up no water"
    else:
        then = before.air if before and before.at >= found.coat.event.at else found.coat.air
        whole = [drying_learning.expected_of(found.coat, a, settings, known).value for a in (then, air)]
        if whole[0] is None:
            whole[0] = whole[1]
        left = drying.remaining_min(found.left_min, *whole)
        if abs(left - found.left_min) < settings["dry.moved_min"]:
            return None
        until = now + timedelta(minutes=left)
        sooner = "sooner" if left < found.left_min else "later"
        words = (
            f"Cabinet at {air.air_c:.1f} °C and {air.humidity * 100:.0f} %: dry in about {show_minutes(left)}, {sooner}"
        )
    return ledger.record(found.screen.code, "air", person, facts={"wet_until": until.isoformat()}, summary=words)


@transaction.atomic
def check_dry(code, person, *, method: str, found: Conclusion, revision=None, note="") -> ScreenEvent:
    """Record whether a coat was dry: it frees the screen, or says how much longer.

    Raises:
        RuleViolation: there is no coat to feel, or a fingertip calls it dry long before such coats are.
    """
    now = timezone.now()
    screen = ledger.lock(code, revision)
    if screen.state not in lifecycle.LIVE:
        raise RuleViolation("There is no unexposed coat on it.")
    coat = current_coat(screen)
    elapsed = require_between((now - coat.event.at).total_seconds() / 60, 0, 60 * 24 * 400, "The time since", "method")
    expected = Conclusion(coat.dry_min, "min", "", "", "", low=coat.dry_low_min, high=coat.dry_high_min)
    if found.verdict == dryness.DRY and method == "touch" and elapsed < expected.low:
        raise RuleViolation(
            f"{show_minutes(elapsed)} after coating a fingertip cannot tell: nineteen of twenty such coats take "
            f"{show_minutes(expected.low)} or more, and wet inside looks dry outside. "
            "Weigh it twice or use a moisture meter.",
            field="method",
        )
    until = _wet_until(found.verdict, screen, expected, elapsed, now)
    words = {dryness.DRY: "Dry", dryness.DAMP: "Still damp"}.get(found.verdict, "Not sure whether dry")
    more = f", about {show_minutes((until - now).total_seconds() / 60)} more" if until and until > now else ""
    event = ledger.record(
        code,
        "dry_check",
        person,
        revision=revision,
        note=note,
        summary=f"{words} after {show_minutes(elapsed)}{more}. {found.reason}",
        facts={"verdict": found.verdict, "wet_until": until.isoformat() if until else None},
    )
    DryCheck.objects.create(event=event, coat=coat, method=method, verdict=found.verdict, elapsed_min=max(elapsed, 0.1))
    return event


def _wet_until(verdict, screen, expected, elapsed, now):
    if verdict == dryness.DRY:
        return None
    if verdict == dryness.DAMP:
        return now + timedelta(minutes=drying.still_damp(expected, elapsed))
    return screen.wet_until
