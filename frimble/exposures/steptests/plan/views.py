"""Planning a step test of any kind."""

from dataclasses import dataclass
from urllib.parse import urlencode

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from frimble.coatings.coats.queries import current_coat
from frimble.core import cautions, lifecycle
from frimble.core.conclusions import RuleViolation
from frimble.core.exposure.steptest import plan as steptest
from frimble.core.exposure.steptest.factorfilm import USUAL_FACTORS
from frimble.exposures.chart import prediction
from frimble.exposures.models import StepTest, TestScreen
from frimble.exposures.production.forms import LightForm
from frimble.exposures.production.views import last_light
from frimble.exposures.room import LightRoom
from frimble.exposures.steptests import wash as wash_protocol
from frimble.exposures.steptests.kinds import KINDS, USUAL, screens
from frimble.exposures.steptests.plan import services as plan_services
from frimble.exposures.steptests.plan.forms import PlanForm, StartTestForm
from frimble.exposures.steptests.plan.presenters import against_nearest
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders
from frimble.screens.steps.pages import get_screen
from frimble.ui.tabs import Tab


@dataclass(frozen=True)
class PlanOffer:
    """A slower plan to take instead: what it is, and the query of the page that holds it."""

    words: str
    query: str


@recorders
def plan_test(request, code):
    """Plan a step test; typing shows the plan, sending it opens the timer."""
    screen, settings = get_screen(code), house_settings.current()
    verdict = lifecycle.verdict(screen.life, "expose", timezone.now(), settings)
    kind = request.POST.get("kind") or request.GET.get("kind", USUAL.key)
    light = _light_of(request)
    suggestion = prediction.suggest_test(screen, light["lamp"], light["film_process"], settings)
    initial = light | _start_of(kind, suggestion, settings) | {"revision": screen.revision}
    if request.method == "POST":
        form = StartTestForm(request.POST, initial=initial, kind=kind)
        started = form.attempt(lambda data: _start_test(form, screen, request.user, data, settings))
        if started:
            return _to(started)
    else:
        asked = _following(_with_defaults(request.GET, initial), initial) if "guess_s" in request.GET else None
        form = PlanForm(asked, initial=initial, kind=kind)
    plan = edges = None
    offers = []
    if form.is_bound:
        # A tick that is missing must not hide the plan it belongs to.
        asked = PlanForm(request.POST, initial=initial, kind=kind) if request.method == "POST" else form
        plan, edges, offers = _worked_out(asked, settings)
    context = {
        "screen": screen,
        "verdict": verdict,
        "form": form,
        "plan": plan,
        "edges": edges,
        "offers": offers,
        "coat": current_coat(screen),
        "caution": cautions.for_step("expose"),
        "suggestion": suggestion,
        "suggested": initial["guess_s"],
        "suggested_for": "-".join(str(getattr(light[part], "pk", "")) for part in ("lamp", "film_process")),
        "start_form": form
        if isinstance(form, StartTestForm)
        else StartTestForm(initial=initial, kind=form.test_kind.key),
        "may_override": verdict.overridable and request.user.is_lead,
        "kinds": [Tab(k.words, f"?kind={k.key}", k == form.test_kind) for k in KINDS.values()],
        "failed": request.method == "POST",
        "sun": _is_sun(form),
        "revision": _revision(request, screen),
        "coarse": _coarse(form, plan, settings),
        "nearest": against_nearest(screen, light["lamp"], light["film_process"], LightRoom(settings)),
        "wash": _wash(screen, settings),
    }
    return render(request, "exposures/steptests/plan.html", context, status=422 if form.errors else 200)


def _light_of(request) -> dict:
    """Lamp and film chosen on the page, else those last used."""
    chosen = LightForm(request.POST or request.GET)
    return chosen.cleaned_data if chosen.is_valid() else last_light(request.user)


def _following(asked: dict, initial: dict) -> dict:
    """A guess that nobody typed follows the lamp and film: it is replaced when it was suggested for others."""
    light = f"{asked['lamp']}-{asked['film_process']}"
    untouched = asked.get("suggested") == asked.get("guess_s") and asked.get("suggested_for") != light
    return asked | {"guess_s": initial["guess_s"]} if untouched and initial["guess_s"] else asked


def _revision(request, screen) -> int:
    """Of the screen now: a refused sending may have met somebody who was quicker."""
    return get_screen(screen.code).revision if request.method == "POST" else screen.revision


def _coarse(form, plan, settings) -> str:
    """Why a photo of the planned test would be hard to read; nothing where none is to be taken."""
    wanted = plan and getattr(form, "cleaned_data", {}).get("own_film")
    return steptest.too_coarse_for_photo(plan.times_s, settings) if wanted else ""


def _wash(screen, settings) -> dict:
    """How the test is to be washed out; nothing without a coat."""
    coat = current_coat(screen)
    return wash_protocol.protocol(screen.mesh, coat.formula, coat.batch.emulsion, settings) if coat else {}


def _is_sun(form) -> bool:
    lamp = getattr(form, "cleaned_data", {}).get("lamp")
    return bool(lamp and lamp.is_sun)


def _start_of(kind, suggestion, settings) -> dict:
    """What the form begins with: the suggested test where there is one, else the house's usual."""
    start = {
        "kind": kind,
        "guess_s": "",
        "steps": f"{settings['steptest.steps']:g}",
        "series": settings["steptest.series"],
        "card": settings["steptest.card"],
        "length_mm": f"{settings['steptest.length_mm']:g}",
        "others": "",
        "factors": " ".join(f"{f:g}" for f in USUAL_FACTORS),
    }
    if suggestion:
        start |= {"guess_s": f"{suggestion.guess_s:.3g}", "steps": suggestion.steps, "series": suggestion.series}
    return start


def _with_defaults(given, initial):
    """What the address names, with the form's own start for the rest, so that a short link works."""
    start = {key: getattr(value, "pk", value) for key, value in initial.items()}
    return start | given.dict()


def _worked_out(form, settings):
    """(plan, card edges, slower plans to offer); the form carries the message when there is no plan."""
    result = []

    def work(data):
        plan = form.plan(settings)
        result.append((plan, form.edges(plan, settings)))
        return plan

    form.attempt(work)
    if result:
        return (*result[0], [])
    offers = []
    if form.refusal is not None and form.refusal.field == "series":
        data = form.cleaned_data
        series = form.data.get("series")
        slower = steptest.slower_plans(data["guess_s"], data["steps"], series, settings)
        offers = [PlanOffer(o.words, _address_of(form, o)) for o in slower]
    return None, None, offers


def _address_of(form, offer) -> str:
    """The query of this page with the offered steps and series in place of those typed."""
    kept = {f.name: f.value() for f in (form["guess_s"], *form.asked(), form["lamp"], form["film_process"])}
    return urlencode(kept | {"steps": offer.steps, "series": offer.series})


def _start_test(form, screen, person, data, settings):
    plan = form.plan(settings)
    light = {"lamp": data["lamp"], "film_process": data["film_process"]}
    if form.test_kind.of_several:
        return plan_services.start_test_of_screens(
            [screen.code, *screens.codes(data)],
            person,
            plan.times_s,
            plan.guess_s,
            series=plan.series,
            **light,
            **form.common(),
        )
    edges = form.edges(plan, settings)
    return plan_services.start_test(
        screen.code,
        person,
        plan,
        length_mm=edges[-1] if edges else 1,
        kind=form.test_kind.key,
        own_film=data.get("own_film", False),
        factor_film=data.get("factor_film"),
        meter=data["meter"],
        sky=data["sky"],
        **light,
        **form.common(),
    )


def _to(started):
    if isinstance(started, StepTest):
        return redirect("exposures:test-screens", started.pk)
    return redirect("exposures:run", started.pk)


@recorders
def test_screens(request, pk):
    """The screens of a test that gives each a time of its own: which had its light, and which is next."""
    test = get_object_or_404(StepTest.objects.select_related("mesh", "emulsion", "lamp", "film_process"), pk=pk)
    members = test.screens.select_related("screen__frame", "run")
    rows = [(m, time) for m, time in zip(members, test.planned_times_s, strict=False)]
    first = next((m for m in members if m.run is None or m.run.status == "abandoned"), None)
    return render(
        request, "exposures/steptests/test_screens.html", {"test": test, "rows": rows, "next_one": first, "dark": True}
    )


@require_POST
@recorders
def start_test_screen(request, pk):
    """Open the timer for one screen of such a test."""
    member = get_object_or_404(TestScreen.objects.select_related("step_test__lamp", "screen__frame", "run"), pk=pk)
    try:
        return redirect("exposures:run", plan_services.start_test_screen(member, request.user).pk)
    except RuleViolation as refusal:
        messages.error(request, refusal.reason)
        return redirect("exposures:test-screens", member.step_test_id)
