"""The film bench: film processes side by side, and each one's densities by their routes."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse

from frimble.core.film import densities
from frimble.films.models import FilmProcess
from frimble.films.processes import queries as process_queries
from frimble.films.processes import services as process_services
from frimble.films.processes.forms import ROUTE_FORMS, CompareMachinesForm, FilmProcessForm, HoldOutPlanForm
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
    """Every film process with its densities, verdict and cost, and two machines set against each other."""
    settings = house_settings.current()
    rows = [
        {"process": p, "density": process_queries.density_of(p, settings), "cost": p.cost()}
        for p in FilmProcess.objects.prefetch_related("readings")
    ]
    priced = sorted((r["process"] for r in rows if r["cost"]), key=lambda p: -p.machine_price)
    form, compared = _compared(request, priced)
    return render(request, "films/processes.html", {"rows": rows, "form": form, "compared": compared})


def _compared(request, priced):
    """(form, comparison of the two machines chosen, else of the two dearest); (None, None) with fewer than two."""
    if len(priced) < 2:
        return None, None
    start = {"one": priced[0].pk, "other": priced[1].pk}
    form = CompareMachinesForm(request.GET if "one" in request.GET else start, priced=priced)
    return form, form.attempt(_compare)


def _compare(data):
    lives = tuple(data[f"{name}_life"] or data[name].life_films for name in ("one", "other"))
    return process_queries.compare_machines(data["one"], data["other"], lives)


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
        "density": process_queries.density_of(shown, house_settings.current()),
        "trials": process_queries.trials_of(shown),
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
