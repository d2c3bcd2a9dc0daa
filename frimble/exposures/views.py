"""The lamp's pages: expose, plan a step test, the dark-room timer, the exposure chart, and the booth."""

import json
import uuid

from django.contrib import messages
from django.http import JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from frimble.coatings.actions import current_coat
from frimble.core import cautions, lifecycle
from frimble.core.conclusion import OutOfRange, Refused
from frimble.core.exposure import steptest
from frimble.core.exposure.reading import SCHOOLS
from frimble.exposures import actions, calibration
from frimble.exposures.forms import ExposeForm, InspectForm, LightForm, PlanForm, StartTestForm, WashForm
from frimble.exposures.models import Exposure, Lamp, Run
from frimble.films.models import FilmSystem
from frimble.people import standards
from frimble.people.permissions import recorders
from frimble.screens.stepviews import StepPage, get_screen, show_step


def _last_light(person):
    """Lamp and film this person used last, else the first of each."""
    last = Exposure.objects.filter(event__by=person).select_related("lamp", "film").order_by("-pk").first()
    if last:
        return {"lamp": last.lamp, "film": last.film}
    return {"lamp": Lamp.objects.first(), "film": FilmSystem.objects.first()}


def _light_from(request):
    """Lamp and film chosen in the address, else the last used."""
    form = LightForm(request.GET)
    return form.cleaned_data if form.is_valid() else _last_light(request.user)


@recorders
def expose(request, code):
    """Expose a production screen: the time from the chart with its reason, or none."""
    screen = get_screen(code)
    found = lifecycle.verdict(screen.life, "expose", timezone.now(), standards.current())
    light = _light_from(request)
    form = ExposeForm(request.POST or None, initial=light | {"revision": screen.revision})
    if request.method == "POST" and form.is_valid():
        light = {k: form.cleaned_data[k] for k in ("lamp", "film")}
    coat = current_coat(screen)
    time = entry = None
    if coat and all(light.values()):
        time, entry = calibration.time_for(screen, light["lamp"], light["film"])
    if request.method == "POST":
        run = form.attempt(lambda data: _start(screen, request.user, data, time, entry))
        if run:
            return redirect("exposures:run", run.pk)
        screen = get_screen(code)
    context = {
        "screen": screen, "verdict": found, "form": form, "coat": coat, "time": time, "entry": entry, "chosen": light,
        "found": calibration.conclude(entry.reading) if entry else None,
        "school_words": SCHOOLS[entry.school] if entry else "",
        "caution": cautions.for_step("expose"), "may_override": found.overridable and request.user.is_lead,
    }  # fmt: skip
    return render(request, "exposures/expose.html", context, status=422 if form.errors else 200)


def _start(screen, person, data, time, entry):
    own = data["own_time_s"]
    if own is None and (time is None or time.refused):
        raise OutOfRange("No calibrated time exists: run a step test, or type a time of your own with a reason.",
                         "own_time_s")  # fmt: skip
    why = f"Not calibrated: {data['own_reason']}" if own is not None else time.reason
    return actions.start_exposure(
        screen.code, person, lamp=data["lamp"], film=data["film"], time_s=own if own is not None else time.value,
        entry=None if own is not None else entry, why=why[:400], revision=data["revision"],
        override_reason=data["override_reason"],
    )  # fmt: skip


@recorders
def plan_test(request, code):
    """Plan a moving-card step test; typing shows the plan, sending it opens the timer."""
    screen, in_force = get_screen(code), standards.current()
    found = lifecycle.verdict(screen.life, "expose", timezone.now(), in_force)
    initial = _last_light(request.user) | {
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


def run(request, pk):
    """The dark-room timer."""
    found = get_object_or_404(Run.objects.select_related("screen__frame", "step_test", "lamp", "film"), pk=pk)
    context = {
        "run": found, "state": _run_state(found), "caution": cautions.for_step("expose"), "dark": True,
        "screen": found.screen, "test": found.step_test,
    }  # fmt: skip
    return render(request, "exposures/run.html", context)


def _run_state(found: Run) -> dict:
    """All that the timer in the browser needs, taps included; times in ms on the server's clock."""
    test = found.step_test
    return {
        "id": found.pk,
        "status": found.status,
        "trouble": found.trouble,
        "moves": found.moves_s,
        "strips": [strip for _, strip in test.moves] if test else [],
        "times": test.planned_times_s if test else [],
        "card": test.card if test else "",
        "total": found.total_s,
        "warmUp": found.warm_up_s,
        "alert": standards.current()["exposure.alert_before_s"],
        "taps": [{"uid": str(t.uid), "kind": t.kind, "at": t.at.timestamp() * 1000} for t in found.taps.all()],
        "now": timezone.now().timestamp() * 1000,
    }


@require_POST
@recorders
def taps(request, pk):
    """Take taps from the timer and answer with the run as it stands."""
    get_object_or_404(Run, pk=pk)
    try:
        sent = [
            (uuid.UUID(t["uid"]), str(t["kind"])[:8], actions.tap_time(t["at"]))
            for t in json.loads(request.body)["taps"]
        ]
        found = actions.take_taps(pk, sent)
    except OutOfRange as error:
        return JsonResponse({"error": str(error), **_run_state(Run.objects.get(pk=pk))}, status=422)
    except (ValueError, KeyError, TypeError):
        return JsonResponse({"error": "The taps cannot be read."}, status=400)
    return JsonResponse(_run_state(found))


@require_POST
@recorders
def abandon(request, pk):
    """Give up a run that gave no light."""
    found = get_object_or_404(Run, pk=pk)
    try:
        actions.abandon(pk, request.user)
    except Refused as refusal:
        messages.error(request, refusal.reason)
        return redirect("exposures:run", pk)
    messages.success(request, "The run was given up; no light was recorded.")
    return redirect("screens:passport", found.screen.frame.code)


def exposure_chart(request):
    """Every calibrated time in force, with its window and what it rests on."""
    entries = sorted(calibration.entries_in_force(), key=lambda e: (e.mesh.count_per_cm, e.formula, e.lamp.name))
    now, in_force = timezone.now(), standards.current()
    stale = in_force["exposure.stale_days"]
    rows = [(e, (now - e.accepted_at).days > stale, (now - e.accepted_at).days) for e in entries]
    return render(request, "exposures/chart.html", {"rows": rows, "lamps": Lamp.objects.all()})


WASH = StepPage(
    "wash", WashForm,
    lambda form, screen, person: actions.wash(
        screen.code, person, soak_s=form.cleaned_data["soak_s"], rinse_s=form.cleaned_data["rinse_s"], **form.common()),
    "Record washed out",
    "Wet both sides, squeegee side lightly first; soak; then rinse evenly from the print side, cold or lukewarm, at one "
    "distance. Stop when every image area passes light. Dark stencil bubbling means stop: too far.",
    initial=lambda screen, s: {"soak_s": f"{s['wash.soak_s']:g}"},
)  # fmt: skip

INSPECT = StepPage(
    "inspect", InspectForm,
    lambda form, screen, person: actions.inspect(
        screen.code, person, verdict=form.cleaned_data["verdict"], pinholes=form.cleaned_data["pinholes"],
        **form.common()),
    "Record inspection",
    "Hold it against the light. Block pinholes with filler, tape the margin and the frame's inner corner.",
)  # fmt: skip


@recorders
def wash(request, code):
    return show_step(request, code, WASH, lambda screen, s, form: {"dwell_s": s["wash.soak_s"]})


@recorders
def inspect(request, code):
    return show_step(request, code, INSPECT)
