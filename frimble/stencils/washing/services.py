"""Washing out."""

from django.db import transaction

from frimble.coatings.drying.queries import air_now
from frimble.core.conclusions import InvalidInput, require_between
from frimble.core.stencil.finishing import drying_minutes
from frimble.people import moments
from frimble.people import settings as house_settings
from frimble.screens import ledger
from frimble.stencils.washing.models import Washout
from frimble.ui.photos import redrawn

_COLDEST_C, _HOTTEST_C = 0.0, 60.0
_NEAREST_CM, _FARTHEST_CM = 2.0, 300.0


@transaction.atomic
def wash(
    code, person, *, soak_s, rinse_s, side="", pressure="", water_c=None, distance_cm=None, latent="",
    latent_photo=None, **kwargs,
):  # fmt: skip
    """Soaked and rinsed; the stencil now dries.

    Args:
        side, pressure, water_c, distance_cm: how it was rinsed. latent, latent_photo: what was seen before.

    Raises:
        InvalidInput: times that cannot be, water too hot to be °C, or a photograph that cannot be read.
    """
    settings = house_settings.current()
    require_between(soak_s, 0, settings["wash.longest_s"], "The soak, in s,", "soak_s")
    require_between(rinse_s, 1, settings["wash.longest_s"], "The rinse, in s,", "rinse_s")
    if water_c is not None:
        _check_water(water_c)
    if distance_cm is not None:
        require_between(distance_cm, _NEAREST_CM, _FARTHEST_CM, "The nozzle's distance, in cm,", "distance_cm")
    minutes = drying_minutes(air_now(settings), settings).known
    event = ledger.record(
        code,
        "wash",
        person,
        facts=ledger.wetted({"soak_s": soak_s, "rinse_s": rinse_s}, minutes, moments.now()),
        summary=f"Washed out: soak {soak_s:g} s, rinse {rinse_s:g} s",
        **kwargs,
    )
    washout = Washout(
        event=event,
        soak_s=soak_s,
        rinse_s=rinse_s,
        side=side,
        pressure=pressure,
        water_c=water_c,
        distance_cm=distance_cm,
        latent=latent,
    )
    if latent_photo:
        washout.latent_photo.save("photo", redrawn(latent_photo, "latent_photo"), save=False)
    washout.save()
    return event


def _check_water(water_c: float) -> None:
    if _COLDEST_C <= water_c <= _HOTTEST_C:
        return
    hint = f" If {water_c:g} is °F, type {(water_c - 32) / 1.8:.0f} °C." if 32 <= water_c <= 212 else ""
    raise InvalidInput(f"Water to rinse with has {_COLDEST_C:g} to {_HOTTEST_C:g} °C.{hint}", "water_c")
