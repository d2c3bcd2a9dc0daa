"""What holds for a whole request of somebody who is signed in."""

from frimble.people.models import Person
from frimble.ui import active_units


class PersonUnits:
    """Shows the units that the person has chosen."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        active_units.activate(getattr(request.user, "units", None) == Person.Units.INCH)
        return self.get_response(request)
