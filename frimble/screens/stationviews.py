"""The screens at one station, each with its next step and the reason."""

from django.http import Http404
from django.shortcuts import render
from django.utils import timezone

from frimble.core import cautions, lifecycle
from frimble.people import standards
from frimble.screens.links import step_url
from frimble.screens.models import Screen

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
    in_force, now = standards.current(), timezone.now()
    rows = []
    for screen in Screen.objects.for_lists().at_work():
        if lifecycle.station(screen.life, now) == name:
            first = lifecycle.next_steps(screen.life, now, in_force)[0]
            rows.append({"screen": screen, "first": first, "url": step_url(first.step.kind, screen.code)})
    title, words = STATION_WORDS[name]
    rows.sort(key=lambda r: r["screen"].wet_until or r["screen"].since or now)
    bare = Screen.objects.for_lists().filter(state=lifecycle.State.BARE) if name == "coat" else None
    context = {"rows": rows, "title": title, "words": words, "name": name, "caution": cautions.for_step(name)}
    context["bare"] = bare
    return render(request, "screens/station.html", context)
