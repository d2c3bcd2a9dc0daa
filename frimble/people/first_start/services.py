"""What the first start writes."""

from django.db import transaction
from django.utils import timezone

from frimble.core.conclusions import InvalidInput
from frimble.core.settings import REGISTER
from frimble.people import settings as house_settings
from frimble.people.accounts import services as accounts
from frimble.people.first_start import code as first_code
from frimble.people.models import Person

_WHY = "Chosen at the first start"


@transaction.atomic
def begin(*, code, username, shown_name, password, time_zone, units, paper, decimal) -> Person:
    """The lead, and how the house counts.

    Raises:
        InvalidInput: a wrong code or too easy a password. RuleViolation: the room has its people already.
    """
    if not first_code.is_right(code):
        raise InvalidInput("This is not the code that the terminal shows.", "code")
    lead = accounts.first_lead(username, shown_name, password, units)
    house = {"room.time_zone": time_zone, "room.units": units, "room.paper": paper, "room.decimal": decimal}
    follow(house, lead)
    transaction.on_commit(first_code.forget)
    return lead


@transaction.atomic
def follow(choices: dict[str, str], lead: Person) -> None:
    """Set what differs from what holds."""
    now, held = timezone.now(), house_settings.current()
    for key, value in choices.items():
        if REGISTER[key].parse(value) != held[key]:
            house_settings.change(key, value, _WHY, lead, now)
