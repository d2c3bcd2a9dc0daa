"""The coat planner, coating runs, coaters, and how steadily the room coats."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone

from frimble.coatings import actions, coaters, dryroom, outcomes, planner, pots, runs, thickness
from frimble.coatings.forms import FinishForm, NameFormulaForm, PlannerForm, RunForm
from frimble.coatings.models import FILLS, Coat, Coater, CoatingRun, CoatRecipe, CoatThickness, Emulsion
from frimble.coatings.potforms import CoaterCheckForm, CoaterForm
from frimble.core import cautions, wetcoat
from frimble.core import coater as coater_rules
from frimble.core.coatcustoms import CUSTOMS
from frimble.core.coatdefects import DEFECTS
from frimble.core.coating import parse_formula
from frimble.core.conclusion import OutOfRange, Refused
from frimble.people import standards
from frimble.people.models import Person
from frimble.people.permissions import leads, recorders
from frimble.screens.models import Frame, MeshKind

_RUNS_SHOWN = 12
_SIZE_MM = (450, 650)


def plan(request):
    """A formula tapped or typed, and what it comes to on a mesh."""
    in_force, start = standards.current(), _with_defaults(request.GET, standards.current())
    if not (start["mesh"] and start["emulsion"]):
        return render(request, "coatings/planner.html", {"missing": "an emulsion" if start["mesh"] else "a mesh"})
    form = PlannerForm(start)
    found = form.attempt(lambda data: _effects(data, in_force, request.user))
    mesh = form.cleaned_data.get("mesh") if hasattr(form, "cleaned_data") else None
    context = {
        "form": form, "found": found, "mesh": mesh,
        "known": outcomes.formulas_on(mesh, form.cleaned_data.get("ink", "")) if mesh else [],
        "outlook": pots.outlook(form.cleaned_data["emulsion"], in_force) if found else None,
        "school": [(k, in_force[k]) for k in ("coat.first_side", "coat.last_wet_side", "coat.fill")],
        "customs": CUSTOMS, "name_form": NameFormulaForm(initial={"formula": str(found.formula)}) if found else None,
    }  # fmt: skip
    template = "coatings/effects.html" if request.headers.get("X-Part") else "coatings/planner.html"
    return render(request, template, context, status=422 if form.errors else 200)


def _with_defaults(given, in_force) -> dict:
    """What the address names, with the house's start for the rest."""
    mesh, emulsion = (
        MeshKind.objects.filter(thermal=False).order_by("count_per_cm")[2:3].first(),
        Emulsion.objects.first(),
    )
    mesh = mesh or MeshKind.objects.filter(thermal=False).first()
    start = {
        "formula": "P1 S1", "mesh": mesh.pk if mesh else "", "emulsion": emulsion.pk if emulsion else "",
        "fill": in_force["coat.fill"], "width_mm": str(_SIZE_MM[0]), "height_mm": str(_SIZE_MM[1]),
    }  # fmt: skip
    return start | given.dict()


def _effects(data, in_force, person):
    return planner.effects(
        data["mesh"], parse_formula(data["formula"], in_force), data["emulsion"], (data["width_mm"], data["height_mm"]),
        dryroom.air_now(in_force), in_force, fill=data["fill"], person=person,
    )  # fmt: skip


@leads
def name_formula(request):
    """Keep a formula under a name, for the meshes it suits."""
    form = NameFormulaForm(request.POST or None)
    if request.method == "POST":
        kept = form.attempt(_name)
        if kept:
            messages.success(request, f"{kept.formula} is kept as {kept.name}.")
            return redirect("coatings:planner")
    return render(request, "coatings/name_formula.html", {"form": form}, status=422 if form.errors else 200)


def _name(data):
    text = str(parse_formula(data.pop("formula"), standards.current()))
    if data["finest_per_cm"] < data["coarsest_per_cm"]:
        raise OutOfRange("The finest mesh has more threads than the coarsest.", "finest_per_cm")
    return CoatRecipe.objects.update_or_create(formula=text, defaults=data)[0]


@recorders
def new_run(request):
    """Which screens, which pot and coater; the order and what to pour before it starts."""
    in_force = standards.current()
    found = runs.candidates(in_force, timezone.now())
    best = next((c.coater for c in found if c.coater), None)
    start = {"coater": best, "fill": in_force["coat.fill"]}
    asked = request.POST or (request.GET if "batch" in request.GET else None)
    form = RunForm(asked, initial=start, candidates=found)
    made = (
        form.attempt(lambda d: runs.plan(form.chosen(), d["batch"], d["coater"], d["fill"], in_force))
        if asked
        else None
    )
    if request.method == "POST" and made:
        run = form.attempt(lambda d: _start(form, d, made, request.user))
        if run:
            return redirect("coatings:run", run.pk)
    context = {
        "form": form, "plan": made, "open": CoatingRun.objects.filter(ended_at=None).select_related("coater", "batch"),
        "past": CoatingRun.objects.exclude(ended_at=None).select_related("coater", "batch", "by")[:_RUNS_SHOWN],
        "recipes": CoatRecipe.objects.all(), "caution": cautions.for_step("coat"),
    }  # fmt: skip
    return render(request, "coatings/new_run.html", context, status=422 if form.errors else 200)


def _start(form, data, made, person):
    poured = data["poured_l"] if data["poured_l"] is not None else round(made.need.pour_ml / 1000, 2)
    return runs.start(
        form.chosen(), person, batch=data["batch"], coater=data["coater"], fill=data["fill"], poured_l=poured
    )


@recorders
def run(request, pk):
    """A run under way: the screen that is up, one tap when it is coated, faults, and the coater washed at the end."""
    found = get_object_or_404(CoatingRun.objects.select_related("batch__emulsion", "coater", "by"), pk=pk)
    turn, in_force = runs.next_turn(found), standards.current()
    form, act = FinishForm(request.POST if request.POST.get("act") == "finish" else None), request.POST.get("act", "")
    if request.method == "POST" and _do(request, act, found, turn, form):
        return redirect("coatings:run", pk)
    last = (
        found.screens.filter(coat__isnull=False).select_related("coat", "screen__frame").order_by("-coat__pk").first()
    )
    context = {
        "run": found, "turn": turn, "form": form, "last": last, "defects": DEFECTS,
        "steps": _steps(turn, in_force) if turn else [], "refill_ml": runs.refill_ml(found, in_force),
        "turns": found.screens.select_related("screen__frame", "coat").prefetch_related("coat__defects"),
        "poured_l": runs.poured_l(found), "used_l": runs.used_l(found), "caution": cautions.for_step("coat"),
        "mark_ml": wetcoat.coater_ml(found.coater.length_mm, found.fill, in_force), "air": dryroom.air_now(in_force),
    }  # fmt: skip
    return render(request, "coatings/run.html", context, status=422 if form.errors else 200)


def _steps(turn, in_force):
    return parse_formula(turn.formula, in_force).layer_steps(actions.next_layer(turn.screen))


def _do(request, act, found, turn, form) -> bool:
    """Carry out one tap; what forbids it is said on the page."""
    person = request.user
    if act == "finish":
        return bool(form.attempt(lambda d: runs.finish(found, person, returned_l=d["returned_l"], washed=d["washed"])))
    try:
        if act == "coated" and turn:
            runs.coated(found, turn, person)
        elif act == "leave" and turn:
            runs.leave_out(turn, request.POST.get("why", ""))
        elif act == "defect":
            coat = get_object_or_404(Coat, pk=request.POST.get("coat"), turn__run=found)
            made = actions.note_defect(coat, request.POST.get("kind", ""), person)
            messages.success(request, f"{made}: usually {DEFECTS[made.kind].cause}. {DEFECTS[made.kind].remedy}")
    except (Refused, OutOfRange) as refusal:
        messages.error(request, str(refusal))
    return True


@recorders
def coater_list(request):
    """Coaters with what was last seen along their edges, what each fits, and the screens coated with them."""
    in_force = standards.current()
    form = CoaterForm(request.POST if request.POST.get("act") == "add" else None)
    if form.is_bound and (made := form.attempt(lambda data: coaters.add(**data))):
        messages.success(request, f"{made} is written down.")
        return redirect("coatings:coaters")
    check = CoaterCheckForm(request.POST if request.POST.get("act") == "check" else None)
    if check.is_bound:
        looked_at = get_object_or_404(Coater, pk=request.POST.get("coater"))
        if check.attempt(lambda data: coaters.check(looked_at, data["finding"], request.user, data["note"])):
            messages.success(request, f"{looked_at}: written down.")
            return redirect("coatings:coaters")
    standing = coaters.standing(in_force)
    marked = {s.coater.pk: coaters.marked_screens(s.coater) for s in standing}
    context = {
        "standing": [(s, marked[s.coater.pk]) for s in standing],
        "form": form,
        "check": check,
        "frames": _frame_fits(standing, in_force),
    }
    return render(request, "coatings/coaters.html", context, status=422 if form.errors or check.errors else 200)


def _frame_fits(standing, in_force):
    """For each size of frame: the coaters that pass between its rails, with the widest image each covers."""
    rows = []
    for wide, high in (
        Frame.objects.order_by("outer_width_mm").values_list("outer_width_mm", "outer_height_mm").distinct()
    ):
        frame = Frame(outer_width_mm=wide, outer_height_mm=high)
        inner = coaters.inner_width_mm(frame, in_force)
        passing = [
            (s.coater, coater_rules.largest_image_mm(s.coater.length_mm, in_force))
            for s in standing
            if s.usable and coater_rules.fit(s.coater.length_mm, inner, 1, in_force).fits
        ]
        rows.append({"wide": wide, "high": high, "passing": passing})
    return rows


def steadiness(request):
    """The control chart of coats by person and formula, what moved where one is off, and what each hand's coats showed."""
    in_force = standards.current()
    person = request.GET.get("person", "")
    formula = request.GET.get("formula", "")
    found = thickness.steadiness(in_force, person_id=int(person) if person.isdigit() else None, formula=formula)
    laid = CoatThickness.objects.filter(event__replaced_by__isnull=True)
    context = {
        "found": found, "labels": [f"{t.event.meshing.frame} {timezone.localdate(t.event.at):%d.%m.}" for t in found.taken],
        "people": Person.objects.filter(pk__in=laid.values("coat__event__by")), "person": person, "formula": formula,
        "formulas": laid.order_by("coat__formula").values_list("coat__formula", flat=True).distinct(),
        "tallies": outcomes.by_person(in_force), "fills": outcomes.fills_by_person(), "fill_names": [w for _, w in FILLS],
        "defects": DEFECTS,
    }  # fmt: skip
    return render(request, "coatings/steadiness.html", context)
