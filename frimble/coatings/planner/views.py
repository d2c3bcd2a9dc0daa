"""The coat planner, and keeping a formula under a name."""

from django.contrib import messages
from django.shortcuts import redirect, render

from frimble.coatings.batches import queries as batch_queries
from frimble.coatings.coats.stops import of_the_emulsion
from frimble.coatings.drying import queries as drying_queries
from frimble.coatings.models import Emulsion
from frimble.coatings.planner import outcomes
from frimble.coatings.planner import queries as planner_queries
from frimble.coatings.planner import services as planner_services
from frimble.coatings.planner.forms import NameFormulaForm, PlannerForm
from frimble.coatings.planner.presenters import house_school
from frimble.core.coating.formula import parse_formula
from frimble.core.coating.practice import CUSTOMS
from frimble.people import settings as house_settings
from frimble.people.permissions import leads
from frimble.screens.meshes.panels import deposit_words
from frimble.screens.models import MeshType

_SIZE_MM, _USUAL_PER_CM = (450, 650), 40


def plan(request):
    """A formula tapped or typed, and what it comes to on a mesh."""
    settings, start = house_settings.current(), _with_defaults(request.GET, house_settings.current())
    if not (start["mesh"] and start["emulsion"]):
        missing = {"no_mesh": not start["mesh"], "no_emulsion": not start["emulsion"]}
        return render(request, "coatings/planner/planner.html", missing)
    form = PlannerForm(start)
    effects = form.attempt(lambda data: _effects(data, settings, request.user))
    mesh = form.cleaned_data.get("mesh") if hasattr(form, "cleaned_data") else None
    context = {
        "form": form,
        "found": effects,
        "covers": deposit_words(effects.deposit.known) if effects else [],
        "mesh": mesh,
        "known": outcomes.formulas_on(mesh, form.cleaned_data.get("ink", "")) if mesh else [],
        "outlook": batch_queries.outlook(form.cleaned_data["emulsion"], settings) if effects else None,
        "against": of_the_emulsion(form.cleaned_data["emulsion"], mesh, form.cleaned_data["ink"]) if effects else (),
        "school": house_school(settings),
        "customs": CUSTOMS,
        "name_form": NameFormulaForm(initial={"formula": str(effects.formula)}, auto_id="id_name_%s")
        if effects
        else None,
    }
    template = "coatings/planner/effects.html" if request.headers.get("X-Part") else "coatings/planner/planner.html"
    return render(request, template, context, status=422 if form.errors else 200)


def _with_defaults(given, settings) -> dict:
    """What the address names, with the house's start for the rest."""
    meshes = MeshType.objects.filter(thermal=False).order_by("count_per_cm")
    mesh, emulsion = meshes.filter(count_per_cm__gte=_USUAL_PER_CM).first() or meshes.last(), Emulsion.objects.first()
    start = {
        "formula": "P1 S1",
        "mesh": mesh.pk if mesh else "",
        "emulsion": emulsion.pk if emulsion else "",
        "fill": settings["coat.fill"],
        "width_mm": str(_SIZE_MM[0]),
        "height_mm": str(_SIZE_MM[1]),
    }
    return start | given.dict()


def _effects(data, settings, person):
    return planner_queries.effects(
        data["mesh"],
        parse_formula(data["formula"], settings),
        data["emulsion"],
        (data["width_mm"], data["height_mm"]),
        drying_queries.air_now(settings),
        settings,
        fill=data["fill"],
        person=person,
    )


@leads
def name_formula(request):
    """Keep a formula under a name, for the meshes it suits."""
    form = NameFormulaForm(request.POST or None)
    if request.method == "POST":
        kept = form.attempt(lambda data: planner_services.name_formula(**data))
        if kept:
            messages.success(request, f"{kept.formula} is kept as {kept.name}.")
            return redirect("coatings:planner")
    return render(request, "coatings/planner/name_formula.html", {"form": form}, status=422 if form.errors else 200)
