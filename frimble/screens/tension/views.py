"""Measuring tension: typed or from the simulated gauge, judged while it is typed."""

from django.contrib import messages
from django.http import JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from frimble.core import lifecycle
from frimble.core.conclusions import InvalidInput
from frimble.core.tension.measurement import FIVE_PLACES, NINE_PLACES, STAGES, summarise
from frimble.people import moments
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders
from frimble.screens.steps.pages import get_screen
from frimble.screens.tension import services as tension_services
from frimble.screens.tension.forms import TensionForm
from frimble.screens.tension.queries import last_measurement
from frimble.ui import instruments


@recorders
def tension(request, code):
    """Record a tension measurement; typed, or taken from the gauge."""
    screen = get_screen(code)
    settings = house_settings.current()
    nine = request.GET.get("places") == "9"
    start = {"revision": screen.revision, "stage": _stage_due(screen)}
    form = TensionForm(request.POST or None, settings=settings, nine=nine, initial=start)
    if request.method == "POST":
        done = form.attempt(
            lambda cleaned: tension_services.record_tension(
                screen.code,
                form.readings(),
                request.user,
                simulated=cleaned["simulated"],
                revision=cleaned["revision"],
                note=cleaned["note"],
                sure=cleaned["sure"],
                stage=cleaned["stage"],
            )
        )
        if done:
            messages.success(request, f"{screen.code}: {done.event.summary}.")
            return redirect("screens:passport", screen.code)
    refused = lifecycle.tension_refused(screen.life, moments.now())
    context = {"screen": screen, "form": form, "refused": refused, "last": last_measurement(screen), "nine": nine}
    context["gauge_url"] = reverse("screens:gauge", args=[screen.code]) + ("?places=9" if nine else "")
    return render(request, "screens/tension/tension.html", context, status=422 if form.errors else 200)


def _stage_due(screen) -> str:
    """Which reading after stretching comes next, for a mesh stretched here; empty for others and when all are done."""
    if not screen.installation.in_house:
        return ""
    events = screen.installation.events.standing().filter(kind="tension")
    done = {e.facts.get("stage") for e in events}
    return next((stage for stage in STAGES if stage not in done), "")


def gauge(request, code):
    """A set of readings from the tension gauge, for the tension form."""
    screen = get_screen(code)
    true = screen.tension_n_per_cm or 24.0
    seed = screen.pk * 1000 + screen.installation.events.filter(kind="tension").count()
    places = NINE_PLACES if request.GET.get("places") == "9" else FIVE_PLACES
    chosen = instruments.tension_gauge()
    return instruments.answer(chosen, lambda: _by_field(chosen.read_screen(true, seed, places)))


def _by_field(readings) -> dict[str, float]:
    """Readings by the names of the form's fields."""
    values: dict[str, float] = {}
    seen: dict[tuple[str, str], int] = {}
    for reading in readings:
        key = (reading.place, reading.direction)
        seen[key] = seen.get(key, 0) + 1
        values[TensionForm.name(*key, seen[key])] = reading.n_per_cm
    return values


def tension_preview(request, code):
    """Mean, range and verdict of readings still being typed; judged by the core, stored nowhere."""
    settings = house_settings.current()
    form = TensionForm(request.POST, settings=settings, nine=request.GET.get("places") == "9")
    form.is_valid()
    try:
        summary = summarise(form.readings(), settings, get_screen(code).frame.material)
    except InvalidInput as error:
        return JsonResponse({"ready": False, "reason": str(error)})
    return JsonResponse(
        {
            "ready": True,
            "mean": f"{summary.mean:.1f}",
            "range": f"{summary.range:.1f}",
            "difference": f"{summary.warp_weft_difference:.1f}",
            "verdict": f"{summary.verdict.verdict.capitalize()}.",
            "reason": summary.verdict.reason,
            "remarks": list(summary.remarks),
        }
    )
