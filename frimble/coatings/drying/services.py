"""A cabinet's air written down, and looks that tell whether a coat is dry."""

from datetime import timedelta

from django.db import transaction

from frimble.coatings.coats.queries import current_coat
from frimble.coatings.drying import learning as drying_learning
from frimble.coatings.drying.queries import drying_screens, last_reading
from frimble.coatings.models import AirReading, DryCheck
from frimble.core import lifecycle
from frimble.core.coating import drying
from frimble.core.conclusions import Conclusion, RuleViolation, require_between
from frimble.core.units import show_minutes
from frimble.core.verdicts import Dryness
from frimble.people import moments
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
    settings, now = house_settings.current(), moments.now()
    deficit = drying.vapour_pressure_deficit_pa(air.air_c, air.humidity, settings)
    before = last_reading(cabinet)
    reading = AirReading.objects.create(
        cabinet=cabinet, air_c=air.air_c, humidity=air.humidity, fan=air.fan, simulated=simulated, at=now, by=person
    )
    inside = drying_screens(now, settings, cabinet)
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
        words = f"Cabinet at {air.air_c:.1f} °C and {air.humidity * 100:.0f} %: held for {show_minutes(left)} more, {sooner}"
    return ledger.record(found.screen.code, "air", person, facts={"wet_until": until.isoformat()}, summary=words)


@transaction.atomic
def check_dry(code, person, *, method: str, found: Conclusion, revision=None, note="") -> ScreenEvent:
    """Record whether a coat was dry: a scale or a meter frees the screen; a fingertip says how much longer it is held.

    Raises:
        RuleViolation: there is no coat to feel, or a fingertip calls it dry long before such coats are.
    """
    now = moments.now()
    screen = ledger.lock(code, revision)
    if screen.state not in lifecycle.LIVE:
        raise RuleViolation("There is no unexposed coat on it.")
    coat = current_coat(screen)
    elapsed = require_between((now - coat.event.at).total_seconds() / 60, 0, 60 * 24 * 400, "The time since", "method")
    if found.verdict == Dryness.DRY and method == "touch" and elapsed < coat.dry_low_min:
        raise RuleViolation(
            f"{show_minutes(elapsed)} after coating a fingertip cannot tell: nineteen of twenty such coats take "
            f"{show_minutes(coat.dry_low_min)} or more, and wet inside looks dry outside. "
            "Weigh it twice or use a moisture meter.",
            field="method",
        )
    until = _wet_until(found.verdict, method, screen, coat, elapsed, now)
    event = ledger.record(
        code,
        "dry_check",
        person,
        revision=revision,
        note=note,
        summary=f"{_found_words(found.verdict, method, elapsed)}{_held_words(until, now)}. {found.reason}",
        facts={"verdict": found.verdict, "wet_until": until.isoformat() if until else None},
    )
    DryCheck.objects.create(event=event, coat=coat, method=method, verdict=found.verdict, elapsed_min=max(elapsed, 0.1))
    return event


def _found_words(verdict, method, elapsed) -> str:
    words = {Dryness.DRY: "Dry to the touch" if method == "touch" else "Dry", Dryness.DAMP: "Still damp"}
    return f"{words.get(verdict, 'Not sure whether dry')} after {show_minutes(elapsed)}"


def _held_words(until, now) -> str:
    return f", held for {show_minutes((until - now).total_seconds() / 60)} more" if until and until > now else ""


def _wet_until(verdict, method, screen, coat, elapsed, now):
    """When the clock lets the coat go after this look; None where a scale, a meter or the clock has let it go."""
    settings = house_settings.current()
    if verdict == Dryness.DRY and (method != "touch" or screen.wet_until is None):
        return None
    if verdict == Dryness.DRY:
        followed = now + timedelta(minutes=drying.dry_to_touch(elapsed, settings))
        return min(followed, screen.wet_until)
    if verdict == Dryness.DAMP:
        return now + timedelta(minutes=drying.still_damp(coat.drying_time, elapsed, settings).hold_min)
    return screen.wet_until
