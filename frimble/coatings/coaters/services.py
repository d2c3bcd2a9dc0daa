"""Coaters entered, and looks along their edges written down."""

from django.utils import timezone

from frimble.coatings.models import Coater, CoaterCheck
from frimble.core.coating import coater as rules
from frimble.core.conclusions import InvalidInput
from frimble.people import settings as house_settings


def add(name, length_mm, round_edge, ends="", lipped=False) -> Coater:
    """A coater of the shop.

    Raises:
        InvalidInput: the name is taken, or a length no coater has.
    """
    if there := Coater.objects.filter(name__iexact=name.strip()).first():
        raise InvalidInput(f"A coater is called {there.name} already.", "name")
    rules.fit(length_mm, length_mm * 2, 1, house_settings.current())
    return Coater.objects.create(
        name=name.strip(), length_mm=length_mm, round_edge=round_edge, ends=ends, lipped=lipped
    )


def check(coater: Coater, finding: str, person, note="") -> CoaterCheck:
    """What a look along the edge found."""
    if finding not in rules.CONDITIONS:
        raise InvalidInput("Choose what the look along the edge found.", "finding")
    return CoaterCheck.objects.create(coater=coater, finding=finding, note=note, at=timezone.now(), by=person)
