"""The exposure log: every light given."""

from django.core.paginator import Paginator
from django.shortcuts import render

from frimble.exposures.log.queries import dose_of
from frimble.exposures.models import Exposure
from frimble.exposures.room import LightRoom
from frimble.people import settings as house_settings

_ON_A_PAGE = 25


def exposure_log(request):
    """Every light given, newest first: planned and given, in seconds, in the lamp's own units and as dose."""
    given = Exposure.objects.select_related(
        "event__installation__frame", "event__by", "lamp", "film_process", "entry"
    ).order_by("-event__at")
    page = Paginator(given, _ON_A_PAGE).get_page(request.GET.get("page"))
    room = LightRoom(house_settings.current())
    rows = [(e, dose_of(e, room)) for e in page]
    return render(request, "exposures/log/log.html", {"page": page, "rows": rows})
