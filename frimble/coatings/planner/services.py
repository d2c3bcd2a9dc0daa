"""Coat formulas kept under a name."""

from django.db import transaction

from frimble.coatings.models import CoatRecipe
from frimble.core.coating.formula import parse_formula
from frimble.core.conclusions import InvalidInput
from frimble.people import settings as house_settings


@transaction.atomic
def name_formula(formula: str, *, coarsest_per_cm: float, finest_per_cm: float, **fields) -> CoatRecipe:
    """Keep a formula under a name for meshes between two counts, threads/cm; kept again it is written over.

    Raises:
        InvalidInput: the formula cannot be read, or the counts stand the wrong way round.
    """
    text = str(parse_formula(formula, house_settings.current()))
    if finest_per_cm < coarsest_per_cm:
        raise InvalidInput("The finest mesh has more threads than the coarsest.", "finest_per_cm")
    counts = {"coarsest_per_cm": coarsest_per_cm, "finest_per_cm": finest_per_cm}
    return CoatRecipe.objects.update_or_create(formula=text, defaults=counts | fields)[0]
