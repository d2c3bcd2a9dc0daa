"""The film bench: film processes side by side, and each one's densities by their routes."""

import itertools

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse

from frimble.core.film import densities
from frimble.core.film.costs import break_even_films
from frimble.core.numbers import counted
from frimble.films.models import FilmProcess
from frimble.films.processes import services as process_services
from frimble.films.processes.forms import ROUTE_FORMS, FilmProcessForm, HoldOutPlanForm
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders
from frimble.ui import instruments
from frimble.ui.tabs import Tab

_ACTIONS = {
    "densitometer": process_services.record_densitometer,
    "meter": process_services.record_meter,
    "hold_out": process_services.record_hold_out,
}


def processes(request):
    """Every film process with its densities, verdict and cost, and when a dearer machine pays."""
    settings = house_settings.current()
    rows = [{"process": s, "bands": _bands(s, settings), "cost": s.cost()} for s in FilmProcess.objects.all()]
    return render(request, "films/processes.html", {"rows": rows, "pairs": _break_evens(rows)})


def _bands(process, settings):
    bands = []
    for band, words in densities.BANDS.items():
        reading = process.density(band)
        verdict = (
            densities.judge_film(reading.dmax, reading.dmin, band, settings, reading.at_least) if reading else None
        )
        bands.append({"band": words, "reading": reading, "verdict": verdict, "by_hold_out": band == "uv"})
    return bands


def _break_evens(rows):
    """(dearer machine's process, cheaper one's, when it pays) for neighbours by machine price."""
    priced = sorted((r for r in rows if r["cost"]), key=lambda r: -r["cost"].machine)
    return [
        (dear["process"], cheap["process"], _pays(break_even_films(dear["cost"], cheap["cost"])))
        for dear, cheap in itertools.pairwise(priced)
    ]


def _pays(films: int | None) -> str:
    if films is None:
        return "never, its films cost as much or more to run."
    return f"after {counted(films, 'film')}." if films else "at once."


# Densities of a usual film, for a simulated instrument that has seen none: Dmax, Dmin.
_USUAL = (3.0, 0.06)


@recorders
def edit_process(request, pk=None):
    """A film process, new or changed."""
    edited = get_object_or_404(FilmProcess, pk=pk) if pk else FilmProcess()
    form = FilmProcessForm(request.POST or None, initial={k: getattr(edited, k) for k in FilmProcessForm.base_fields})
    if request.method == "POST":
        saved = form.attempt(lambda cleaned: process_services.save_process(edited, **cleaned))
        if saved:
            messages.success(request, f"{saved} is written down.")
            return redirect("films:process", saved.pk)
    return render(request, "films/edit_process.html", {"form": form, "pk": pk}, status=422 if form.errors else 200)


@recorders
def process(request, pk):
    """One film process; a density is recorded by its route."""
    shown = get_object_or_404(FilmProcess, pk=pk)
    route = request.POST.get("route") or request.GET.get("route", "densitometer")
    if route not in ROUTE_FORMS:
        route = "densitometer"
    planning = HoldOutPlanForm(request.GET if "work_s" in request.GET else None, prefix=None)
    plan = planning.attempt(lambda cleaned: densities.plan_hold_out(**cleaned, settings=house_settings.current()))
    form = ROUTE_FORMS[route](request.POST or None, initial=request.GET.dict())
    if request.method == "POST":
        reading = form.attempt(lambda cleaned: _ACTIONS[route](shown, request.user, **cleaned))
        if reading:
            messages.success(request, f"{reading}, by {reading.get_route_display()}.")
            return redirect("films:process", pk)
    context = {
        "process": shown,
        "bands": _bands(shown, house_settings.current()),
        "readings": shown.readings.select_related("by")[:60],
        "form": form,
        "route": route,
        "planning": planning,
        "plan": plan,
        "routes": [_tab(key, words, route) for key, words in densities.ROUTES.items()],
    }
    return render(request, "films/process.html", context, status=422 if form.errors else 200)


def _tab(key: str, words: str, route: str) -> Tab:
    """A scan is measured where films are checked, all else here."""
    return Tab(words, reverse("films:films") if key == "scan" else f"?route={key}", key == route)


def densitometer(request, pk):
    """A reading from the densitometer; a simulated one shows it near this process's last UV reading."""
    process = get_object_or_404(FilmProcess, pk=pk)
    last = process.density("uv")
    true = (last.dmax, last.dmin) if last else _USUAL
    meter = instruments.densitometer()
    seed = pk * 100 + process.readings.count()
    return instruments.answer(meter, lambda: dict(zip(("dmax", "dmin"), meter.read_film(*true, seed), strict=True)))
