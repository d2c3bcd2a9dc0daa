"""Coating runs: what to pour and in which order, one tap a screen, the coater washed at the end."""

from django.contrib import messages
from django.db.models import F
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone

from frimble.coatings.coats import queries as coat_queries
from frimble.coatings.coats import services as coat_services
from frimble.coatings.drying import queries as drying_queries
from frimble.coatings.models import Coat, CoatingRun, CoatRecipe
from frimble.coatings.runs import queries as run_queries
from frimble.coatings.runs import services as run_services
from frimble.coatings.runs.forms import FinishForm, RunForm
from frimble.core import cautions, practice
from frimble.core.coating import wet as wet_coat
from frimble.core.coating.defects import DEFECTS
from frimble.core.coating.formula import parse_formula
from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders
from frimble.ui.input import row_number

_RUNS_SHOWN = 12


@recorders
def new_run(request):
    """Which screens, which batch and coater; the order and what to pour before it starts."""
    settings, recipes = house_settings.current(), list(CoatRecipe.objects.all())
    candidates = run_queries.candidates(settings, timezone.now(), recipes)
    best = next((c.coater for c in candidates if c.coater), None)
    start = {"coater": best, "fill": settings["coat.fill"]}
    asked = request.POST or (request.GET if "batch" in request.GET else None)
    form = RunForm(asked, initial=start, candidates=candidates)
    made = (
        form.attempt(lambda d: run_queries.plan(form.chosen(), d["batch"], d["coater"], d["fill"], settings, d["ink"]))
        if asked
        else None
    )
    if request.method == "POST" and made:
        run = form.attempt(lambda d: _start(form, d, made, request.user))
        if run:
            return redirect("coatings:run", run.pk)
    lately = CoatingRun.objects.select_related("coater", "batch__emulsion", "by")
    newest = lately.order_by(F("ended_at").desc(nulls_first=True), "-started_at")[:_RUNS_SHOWN]
    context = {
        "form": form,
        "plan": made,
        "damp": drying_queries.too_damp(drying_queries.air_now(settings), settings),
        "open": [r for r in newest if r.ended_at is None],
        "past": [r for r in newest if r.ended_at],
        "recipes": recipes,
        "caution": cautions.for_step("coat"),
    }
    return render(request, "coatings/runs/new_run.html", context, status=422 if form.errors else 200)


def _start(form, data, made, person):
    poured = data["poured_l"] if data["poured_l"] is not None else round(made.need.pour_ml / 1000, 2)
    return run_services.start(
        form.chosen(),
        person,
        batch=data["batch"],
        coater=data["coater"],
        fill=data["fill"],
        ink=data["ink"],
        poured_l=poured,
    )


@recorders
def run(request, pk):
    """A run under way: the screen that is up, one tap when it is coated, faults, and the coater washed at the end."""
    coating_run = get_object_or_404(CoatingRun.objects.select_related("batch__emulsion", "coater", "by"), pk=pk)
    turn, settings = run_queries.next_turn(coating_run), house_settings.current()
    form, act = FinishForm(request.POST if request.POST.get("act") == "finish" else None), request.POST.get("act", "")
    if request.method == "POST" and _do(request, act, coating_run, turn, form):
        return redirect("coatings:run", pk)
    last = (
        coating_run.screens.filter(coat__isnull=False)
        .select_related("coat", "screen__frame")
        .order_by("-coat__pk")
        .first()
    )
    context = {
        "run": coating_run,
        "turn": turn,
        "form": form,
        "last": last,
        "defects": DEFECTS,
        "steps": _steps(turn, settings) if turn else [],
        "refill_ml": run_queries.refill_ml(coating_run, settings),
        "turns": coating_run.screens.select_related("screen__frame", "coat").prefetch_related("coat__defects"),
        "poured_l": run_queries.poured_l(coating_run),
        "used_l": run_queries.used_l(coating_run),
        "caution": cautions.for_step("coat"),
        "hands": practice.hands("coat"),
        "learning": request.user.is_learning,
        "mark_ml": wet_coat.coater_ml(coating_run.coater.length_mm, coating_run.fill, settings),
        "air": drying_queries.air_now(settings),
    }
    return render(request, "coatings/runs/run.html", context, status=422 if form.errors else 200)


def _steps(turn, settings):
    return parse_formula(turn.formula, settings).layer_steps(coat_queries.next_layer(turn.screen))


def _do(request, act, found, turn, form) -> bool:
    """Carry out one tap; what forbids it is said on the page."""
    person = request.user
    if act == "finish":
        return bool(
            form.attempt(lambda d: run_services.finish(found, person, returned_l=d["returned_l"], washed=d["washed"]))
        )
    try:
        if act == "coated" and turn:
            run_services.coated(found, turn, person)
        elif act == "leave" and turn:
            run_services.leave_out(turn, request.POST.get("why", ""))
        elif act == "defect":
            coat = get_object_or_404(Coat, pk=row_number(request.POST.get("coat")), turn__run=found)
            made = coat_services.note_defect(coat, request.POST.get("kind", ""), person)
            messages.success(request, coat_services.remedy_words(made))
    except (RuleViolation, InvalidInput) as refusal:
        messages.error(request, str(refusal))
    return True
