"""Reclaiming a screen."""

from django.db import transaction

from frimble.core.conclusions import InvalidInput, require_between
from frimble.people import settings as house_settings
from frimble.screens import ledger
from frimble.screens.models import ReclaimProduct

RECLAIM_OUTCOMES = {
    "clean": "clean",
    "faint": "faint ghost image, does not print",
    "ghost": "ghost image that prints",
    "emulsion": "emulsion left",
    "damage": "damaged mesh",
}


def reclaim(code, person, *, rounds: int, minutes: float, outcome: str, products=None, **kwargs):
    """Stencil removed; the cycle closes. `products` are what was used by step, with name and dwell in s.

    Raises:
        InvalidInput: an unknown outcome.
    """
    if outcome not in RECLAIM_OUTCOMES:
        raise InvalidInput(f"Outcome: choose one of {', '.join(RECLAIM_OUTCOMES)}.", "outcome")
    settings = house_settings.current()
    require_between(rounds, 1, settings["reclaim.most_rounds"], "The number of rounds", "rounds")
    require_between(minutes, 0.5, settings["reclaim.longest_min"], "The time, in min,", "minutes")
    used = ", ".join(p["name"] for p in (products or {}).values())
    times = "1 round" if rounds == 1 else f"{rounds} rounds"
    return ledger.record(
        code,
        "reclaim",
        person,
        coat_colour="",
        facts={"rounds": rounds, "minutes": minutes, "outcome": outcome, "products": products or {}},
        summary=f"Reclaimed in {times}, {minutes:g} min{f' with {used}' if used else ''}: {RECLAIM_OUTCOMES[outcome]}",
        **kwargs,
    )


@transaction.atomic
def store_products(products) -> bool:
    """Keep what the shop uses, as (step, product, dwell in s); one without a name is taken away.

    Raises:
        InvalidInput: a dwell that cannot be; nothing is stored.
    """
    for number, (step, name, dwell_s) in enumerate(products):
        if dwell_s is not None:
            require_between(dwell_s, 1, 3600, "A dwell, in s,", f"dwell_{number}")
        if name:
            ReclaimProduct.objects.update_or_create(step=step, defaults={"name": name, "dwell_s": dwell_s})
        else:
            ReclaimProduct.objects.filter(step=step).delete()
    return True
