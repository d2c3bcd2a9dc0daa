"""Emulsions entered and mended."""

import re

from frimble.coatings.models import Emulsion
from frimble.core.conclusions import InvalidInput, require_between
from frimble.core.emulsion import mixing
from frimble.people import settings as house_settings

_COLOUR = re.compile(r"#[0-9A-Fa-f]{6}")


def keep_emulsion(found: Emulsion | None, data) -> Emulsion:
    """Record a new emulsion, or what is known better of one.

    Raises:
        InvalidInput: the name is taken, solids that are no share, or a ratio no maker states.
    """
    settings, solids = house_settings.current(), data["solids"] / 100
    others = Emulsion.objects.exclude(pk=found.pk if found else None).filter(name__iexact=data["name"].strip())
    if others.exists():
        raise InvalidInput(f"An emulsion is called {others.first()} already.", "name")
    require_between(solids, 0.05, 0.95, "Solids, as a share of 1,", "solids")
    if data["ratio"] is not None:
        mixing.refuse_sensitiser(data["kind"])
        mixing.mix(1, data["ratio"], settings)
    for name in ("colour", "exposed_colour"):
        if not _COLOUR.fullmatch(data[name]):
            raise InvalidInput("A colour is written as #7FA99B.", name)
    kept = found or Emulsion()
    for name, value in {**data, "solids": solids, "name": data["name"].strip()}.items():
        setattr(kept, name, value)
    kept.save()
    return kept
