"""What a person chooses for the own pages."""

from frimble.core.conclusions import InvalidInput
from frimble.people.models import Person

_CHOICES = {"light": Person.Light, "units": Person.Units}


def set_preference(person: Person, name: str, value: str) -> None:
    """Switch a person's light or units.

    Raises:
        InvalidInput: no such preference or value.
    """
    if name not in _CHOICES or value not in _CHOICES[name].values:
        raise InvalidInput("Unknown light or units.", name)
    setattr(person, name, value)
    person.save(update_fields=[name])


def set_own(person: Person, *, units: str, light: str, keys: bool) -> None:
    """Units, light, and whether single keys act, at once."""
    person.units, person.light, person.keys = units, light, keys
    person.save(update_fields=["units", "light", "keys"])
