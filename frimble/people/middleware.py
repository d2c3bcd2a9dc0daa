"""What holds for a whole request of somebody who is signed in."""

from django.contrib.auth import get_user
from django.utils import timezone

from frimble.people import settings as house_settings
from frimble.people.door import sessions
from frimble.people.models import Person
from frimble.people.room_time import zone
from frimble.ui import active_units, decimals


class OwnRoom:
    """Shows the person's units, the room's own clock and its decimal sign, and keeps a session that is used."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        # Every page asks for the person some hundred times: each through the lazy stand-in would cost a tenth of it.
        request.user = get_user(request)
        active_units.activate(getattr(request.user, "units", None) == Person.Units.INCH)
        with_comma = False
        if request.user.is_authenticated:
            with_comma = house_settings.current()["room.decimal"] == "comma"
            decimals.activate(with_comma)
            timezone.activate(zone())
            sessions.keep(request.session)
        try:
            response = self.get_response(request)
        finally:
            timezone.deactivate()
            decimals.activate(False)
        if with_comma and _is_page(response):
            response.content = decimals.with_commas(response.content.decode()).encode()
        if request.user.is_authenticated:
            # What the shop records stays in no cache, its own browser's neither.
            response.headers.setdefault("Cache-Control", "no-store")
        return response


def _is_page(response) -> bool:
    return not response.streaming and response.headers.get("Content-Type", "").startswith("text/html")
