"""The drying cabinet's page, and a look at one drying coat."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone

from frimble.coatings.coats import queries as coat_queries
from frimble.coatings.coats.views import shown_c
from frimble.coatings.drying import learning as drying_learning
from frimble.coatings.drying import queries as drying_queries
from frimble.coatings.drying import services as drying_services
from frimble.coatings.drying.forms import AirForm, DryCheckForm
from frimble.coatings.drying.presenters import dries_within
from frimble.core import lifecycle
from frimble.core.coating import dryness
from frimble.core.conclusions import Conclusion
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders
from frimble.screens.models import Rack, Screen
from frimble.screens.racks.views import racks_drawn
from frimble.screens.steps.pages import get_screen

_UNFELT_SHOWN = 8
_SHOWN = 24


def cabinet(request):
    """Every coat that dries, when it will be dry and why; the cabinets' air; bare mesh apart."""
    settings, now = house_settings.current(), timezone.now()
    wet = drying_queries.drying_screens(now, settings, most=_SHOWN)
    cabinets = list(Rack.objects.filter(cabinet=True))
    readings = {c.pk: drying_queries.last_reading(c) for c in cabinets}
    context = {
        "wet": [(d, dries_within(d)) for d in wet],
        "next": wet[0] if wet else None,
        "known": drying_learning.belief(settings),
        "cabinets": [
            {
                "drawn": d,
                "cabinet": d["rack"],
                "reading": readings[d["rack"].pk],
                "damp": _damp(readings[d["rack"].pk], settings),
            }
            for d in racks_drawn(cabinets)
        ],
        "bare": _bare(now),
        "unfelt": _unfelt(now),
        "shown": _SHOWN,
        "more": len(wet) == _SHOWN,
        "damp_rh": settings["dry.damp_rh"],
    }
    return render(request, "coatings/drying/cabinet.html", context)


def _damp(reading, settings) -> bool:
    return bool(reading and reading.humidity > settings["dry.damp_rh"])


def _bare(now):
    """Rinsed mesh that dries before a fan, the next dry one first."""
    wet = Screen.objects.for_lists().filter(state=lifecycle.State.DEGREASED, wet_until__gt=now)
    return wet.order_by("wet_until")[:_SHOWN]


def _unfelt(now):
    """Coats dry by the clock that nobody has looked at: each look teaches."""
    dry = Screen.objects.for_lists().filter(state__in=lifecycle.LIVE, wet_until__lte=now)
    return dry.order_by("-wet_until")[:_UNFELT_SHOWN]


@recorders
def air(request, pk):
    """Record a cabinet's air, typed or from the hygrometer."""
    cabinet = get_object_or_404(Rack, pk=pk, cabinet=True)
    settings, inch = house_settings.current(), request.user.units == "inch"
    last = drying_queries.air_now(settings, cabinet)
    start = {"air_c": shown_c(last.air_c, inch), "humidity": f"{last.humidity * 100:.0f}", "fan": last.fan}
    form = AirForm(request.POST or None, initial=start, inch=inch)
    if request.method == "POST":
        air_read = form.attempt(
            lambda data: drying_services.log_air(cabinet, request.user, form.air(), simulated=data["simulated"])
        )
        if air_read:
            reading, moved = air_read
            messages.success(request, f"{cabinet.name}: {reading}. {_moved_words(moved)}")
            return redirect("coatings:drying")
    context = {
        "form": form,
        "cabinet": cabinet,
        "readings": cabinet.air_readings.select_related("by").order_by("-at")[:20],
        "damp_rh": settings["dry.damp_rh"],
    }
    return render(request, "coatings/drying/air.html", context, status=422 if form.errors else 200)


def _moved_words(moved) -> str:
    if not moved:
        return "No drying time moved."
    return "; ".join(f"{e.installation.frame.code}: {e.summary.partition(': ')[2] or e.summary}" for e in moved) + "."


@recorders
def check(request, code):
    """Is it dry: felt, weighed or measured; the answer frees the screen or says how much longer."""
    screen = get_screen(code)
    coat = coat_queries.current_coat(screen) if screen.state in lifecycle.LIVE else None
    form = DryCheckForm(request.POST or None, initial={"revision": screen.revision})
    if request.method == "POST" and coat:
        event = form.attempt(lambda data: _record(screen.code, request.user, data))
        if event:
            messages.success(request, f"{screen.code}: {event.summary}")
            return redirect("screens:passport", screen.code)
        screen = get_screen(code)
    held = bool(screen.wet_until and screen.wet_until > timezone.now())
    context = {"screen": screen, "coat": coat, "form": form, "held": held}
    return render(request, "coatings/drying/dry_check.html", context, status=422 if form.errors else 200)


def _record(code, person, data):
    return drying_services.check_dry(
        code, person, method=data["method"], found=_found(data), revision=data["revision"], note=data["note"]
    )


def _found(data) -> Conclusion:
    settings = house_settings.current()
    if data["method"] == "weight":
        return dryness.by_weight(data["first_g"], data["second_g"], data["apart_min"], data["step_g"], settings)
    if data["method"] == "meter":
        return dryness.by_meter(data["percent"], settings)
    return dryness.by_touch(data["signs"])
