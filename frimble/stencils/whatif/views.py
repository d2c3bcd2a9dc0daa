"""What if: one thing moved, side by side with today's."""

from urllib.parse import urlencode

from django.http import HttpResponse
from django.shortcuts import render

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.people import settings as house_settings
from frimble.stencils.proofs import parts
from frimble.stencils.proofs.known import Combination
from frimble.stencils.proofs.views import COMBINATION, films_there, usual
from frimble.stencils.whatif import presenters, sides
from frimble.stencils.whatif.forms import WhatIfForm
from frimble.ui.roomlight import asks_dark, picture_answer

_SIDE_MM = 8.0


def what_if(request):
    """A combination as it is and with one thing moved."""
    settings = house_settings.current()
    form = WhatIfForm(request.GET or None, initial={} if request.GET else usual() | {"change": "mesh"})
    both = form.attempt(lambda _: _both(form, settings)) if form.is_bound else None
    context = {"form": form, "has_film": films_there(form)}
    if both:
        today, then = both
        asked = {name: value for name, value in request.GET.items() if value}
        x, y = parts.busiest_place(form.cleaned_data["scan"], _SIDE_MM)
        context |= {
            "rows": presenters.rows(today, then),
            "headline": presenters.headline(today, then),
            "today": today,
            "then": then,
            "most_s": max(today.window.closes_s, then.window.closes_s) * 1.2,
            "address": urlencode(asked | {"x": round(x, 1), "y": round(y, 1)}),
        }
    return render(request, "stencils/whatif/whatif.html", context, status=422 if form.errors else 200)


def _both(form, settings):
    of = Combination(**{name: form.cleaned_data[name] for name in COMBINATION})
    today = sides.as_it_is(of, settings)
    return today, sides.moved(today, *form.moved(), settings)


def picture(request):
    """The busiest part of the film on one side, at that side's time."""
    settings, form = house_settings.current(), WhatIfForm(request.GET)
    try:
        if not form.is_valid():
            raise InvalidInput("Say what it would be then.")
        today, then = _both(form, settings)
        side = then if request.GET.get("side") == "then" else today
        x, y = float(request.GET["x"]), float(request.GET["y"])
        light = side.known.light(side.time_s)
    except (InvalidInput, RuleViolation, KeyError, ValueError) as error:
        return HttpResponse(str(error), status=422, content_type="text/plain")
    found = parts.part_of(form.cleaned_data["scan"], x, y, _SIDE_MM, light, side.opening_um)
    return picture_answer(parts.picture(found, asks_dark(request)))
