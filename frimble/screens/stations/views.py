"""The screens at one station, each with its next step and the reason."""

from django.core.paginator import Paginator
from django.db.models.functions import Coalesce
from django.http import Http404
from django.shortcuts import render
from django.utils import timezone

from frimble.core import cautions, lifecycle
from frimble.people import settings as house_settings
from frimble.screens.links import step_url
from frimble.screens.models import Screen

_A_PAGE = 25
_BARE_SHOWN = 24
STATION_WORDS = {
    "coat": ("Coat", "Degreased screens that are dry, and coats that want their next layer."),
    "dry": ("Dry", "Screens whose mesh or coat is wet."),
    "expose": ("Expose", "Coated, dry and waiting for light."),
    "wash": ("Wash", "Exposed screens, and stencils to inspect or to read."),
    "press": ("Press", "Stencils ready for press and screens that are out."),
    "reclaim": ("Reclaim", "Back from press, stripped, or failed."),
}


def station(request, name):
    """The screens at one station, each with its next step and the reason."""
    if name not in STATION_WORDS:
        raise Http404("There is no such station.")
    settings, now = house_settings.current(), timezone.now()
    there = Screen.objects.for_lists().at_station(name, now).order_by(Coalesce("coated_at", "wet_until", "since"), "pk")
    page = Paginator(there, _A_PAGE).get_page(request.GET.get("page"))
    rows = []
    for screen in page:
        first = lifecycle.next_steps(screen.life, now, settings)[0]
        rows.append({"screen": screen, "first": first, "url": step_url(first.step.kind, screen.code)})
    title, words = STATION_WORDS[name]
    bare = Screen.objects.for_lists().filter(state=lifecycle.State.BARE) if name == "coat" else Screen.objects.none()
    context = {"rows": rows, "page": page, "title": title, "words": words, "name": name}
    context |= {"caution": cautions.for_step(name), "bare": bare[:_BARE_SHOWN], "bare_count": bare.count()}
    return render(request, "screens/station.html", context)
