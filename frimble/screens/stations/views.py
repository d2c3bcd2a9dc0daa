"""The screens at one station, each with its next step and the reason."""

from django.core.paginator import Paginator
from django.db.models.functions import Coalesce
from django.http import Http404
from django.shortcuts import render
from django.utils import timezone

from frimble.core import cautions, lifecycle, stations
from frimble.core.conclusions import InvalidInput
from frimble.people import settings as house_settings
from frimble.screens.links import step_url
from frimble.screens.models import Screen

_A_PAGE = 25
_BARE_SHOWN = 24


def station(request, name):
    """The screens at one station, each with its next step and the reason."""
    try:
        at = stations.named(name)
    except InvalidInput as error:
        raise Http404(str(error)) from None
    settings, now = house_settings.current(), timezone.now()
    there = Screen.objects.for_lists().at_station(name, now).order_by(Coalesce("coated_at", "wet_until", "since"), "pk")
    page = Paginator(there, _A_PAGE).get_page(request.GET.get("page"))
    rows = []
    for screen in page:
        first = lifecycle.next_steps(screen.life, now, settings)[0]
        rows.append({"screen": screen, "first": first, "url": step_url(first.step.kind, screen.code)})
    bare = Screen.objects.for_lists().filter(state=lifecycle.State.BARE) if name == "coat" else Screen.objects.none()
    context = {"rows": rows, "page": page, "station": at}
    context |= {"caution": cautions.for_step(name), "bare": bare[:_BARE_SHOWN], "bare_count": bare.count()}
    return render(request, "screens/stations/station.html", context)
