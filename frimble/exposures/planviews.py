"""Planning a moving-card step test."""

from django.shortcuts import redirect, render
from django.utils import timezone

from frimble.coatings.actions import current_coat
from frimble.core import cautions, lifecycle
from frimble.core.exposure import steptest
from frimble.exposures import actions
from frimble.exposures.forms import PlanForm, StartTestForm
from frimble.exposures.lightviews import last_light
from frimble.people import standards
from frimble.people.permissions import recorders
from frimble.screens.stepviews import get_screen


@recorders
def plan_test(request, code):
    """Plan a moving-card step test; typing shows the plan, sending it opens the timer."""
    screen, in_force = get_screen(code), standards.current()
    found = lifecycle.verdict(screen.life, "expose", timezone.now(), in_force)
    initial = last_light(request.user) | {
        "revision": screen.revision, "guess_s": "", "steps": f"{in_force['steptest.steps']:g}",
        "series": in_force["steptest.series"], "card": in_force["steptest.card"],
        "length_mm": f"{in_force['steptest.length_mm']:g}",
    }  # fmt: skip
    if request.method == "POST":
        form = StartTestForm(request.POST, initial=initial)
        run = form.attempt(lambda data: _start_test(form, screen, request.user, data, in_force))
        if run:
            return redirect("exposures:run", run.pk)
    else:
        form = PlanForm(_with_defaults(request.GET, initial) if "guess_s" in request.GET else None, initial=initial)
    plan = edges = None
    offers = []
    if form.is_bound:
        plan, edges, offers = _worked_out(form, in_force)
    context = {
        "screen": screen, "verdict": found, "form": form, "plan": plan, "edges": edges, "offers": offers,
        "coat": current_coat(screen), "caution": cautions.for_step("expose"),
        "start_form": form if isinstance(form, StartTestForm) else StartTestForm(initial=initial),
        "may_override": found.overridable and request.user.is_lead,
        "failed": request.method == "POST", "revision": get_screen(code).revision,
    }  # fmt: skip
    return render(request, "exposures/plan.html", context, status=422 if form.errors else 200)


def _with_defaults(given, initial):
    """What the address names, with the form's own start for the rest, so that a short link works."""
    start = {key: getattr(value, "pk", value) for key, value in initial.items()}
    return start | given.dict()


def _worked_out(form, in_force):
    """(plan, card edges, slower plans to offer); the form carries the message when there is no plan."""
    result = []

    def work(data):
        plan = form.plan(in_force)
        result.append((plan, steptest.strip_edges_mm(data["length_mm"], len(plan.times_s), in_force)))
        return plan

    form.attempt(work)
    if result:
        return (*result[0], [])
    offers = []
    if form.refusal is not None and form.refusal.field == "series":
        data = form.cleaned_data
        series = form.data.get("series")
        offers = steptest.slower_plans(data["guess_s"], data["steps"], series, in_force)
    return None, None, offers


def _start_test(form, screen, person, data, in_force):
    plan = form.plan(in_force)
    steptest.strip_edges_mm(data["length_mm"], len(plan.times_s), in_force)
    return actions.start_test(
        screen.code, person, plan, lamp=data["lamp"], film=data["film"], length_mm=data["length_mm"], **form.common()
    )
