"""Factor films entered and mended."""

import re

from frimble.core.conclusions import InvalidInput
from frimble.core.exposure.steptest import plan as steptest
from frimble.core.numbers import read_numbers
from frimble.exposures.models import FactorFilm
from frimble.people import settings as house_settings


def keep(film: FactorFilm | None, *, name: str, factors: str, areas: str) -> FactorFilm:
    """Record a new factor film, or what is known better of one.

    Raises:
        InvalidInput: the name is taken, factors that no film has, or an area without what it is for.
    """
    others = FactorFilm.objects.exclude(pk=film.pk if film else None).filter(name__iexact=name.strip())
    if others.exists():
        raise InvalidInput(f"A film is called {others.first()} already.", "name")
    read = read_numbers(factors, "factors")
    # The plan knows which factors a film may have.
    steptest.plan_one_exposure(30, read, house_settings.current())
    kept = film or FactorFilm()
    kept.name, kept.factors, kept.areas = name.strip(), sorted(read, reverse=True), _areas(areas)
    kept.save()
    return kept


def _areas(text: str) -> list[list[str]]:
    areas = []
    for line in re.split(r"[;\n]", text):
        if not line.strip():
            continue
        area, colon, use = line.partition(":")
        if not (colon and area.strip() and use.strip()):
            raise InvalidInput(f"“{line.strip()}”: write an area and what it is for, such as A: fine lines.", "areas")
        areas.append([area.strip()[:20], use.strip()[:120]])
    return areas
