"""Reading a step test by eye, and accepting its time into the exposure chart."""

from django.contrib import messages
from django.core.paginator import Paginator
from django.db.models import OuterRef, Subquery
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from frimble.core.conclusions import RuleViolation
from frimble.core.exposure.steptest.reading import GRADE_MEANING, SCHOOLS
from frimble.core.units import show_seconds
from frimble.core.verdicts import TestOutcome
from frimble.exposures.chart import prediction
from frimble.exposures.chart import queries as chart_queries
from frimble.exposures.chart import services as chart_services
from frimble.exposures.models import ChartEntry, StepTest, TestComparison, TestReading
from frimble.exposures.steptests import wash as wash_protocol
from frimble.exposures.steptests.photo import queries as photo_queries
from frimble.exposures.steptests.reading import services as reading_services
from frimble.exposures.steptests.reading.forms import GreyScaleForm, ReadingForm
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders
from frimble.screens.links import step_url

_ON_A_PAGE = 40


def tests(request):
    """Every step test, newest first, with what its newest reading came to."""
    newest = TestReading.objects.filter(step_test=OuterRef("pk")).order_by("-read_at", "-pk")
    step_tests = StepTest.objects.select_related(
        "screen__frame", "mesh", "emulsion", "lamp", "film_process", "planned_by"
    ).annotate(outcome=Subquery(newest.values("outcome")[:1]), read_as=Subquery(newest.values("recommended_s")[:1]))
    comparisons = TestComparison.objects.select_related("by")[:20]
    page = Paginator(step_tests.order_by("-planned_at", "-pk"), _ON_A_PAGE).get_page(request.GET.get("page"))
    rows = [(test, _outcome(test)) for test in page]
    return render(request, "exposures/steptests/tests.html", {"page": page, "rows": rows, "trials": comparisons})


def _outcome(test) -> str:
    """What its newest reading came to; empty while nobody has read it."""
    return show_seconds(test.read_as) if test.outcome == TestOutcome.WINDOW else test.outcome or ""


@recorders
def reading(request, pk):
    """Grade the strips; see the time, the window and the reason; accept."""
    test, settings = get_test(pk), house_settings.current()
    readings = list(
        test.readings.select_related("read_by", "photo", "step_test")
        .prefetch_related("steps")
        .order_by("-read_at", "-pk")
    )
    # Nobody's grades but one's own are filled in: a second reader looks for himself.
    mine = next((r for r in readings if r.read_by_id == request.user.pk), None)
    form = _form_of(request, test, mine, settings)
    if request.method == "POST" and form.attempt(lambda data: _read(test, form, data, request.user)):
        return redirect(reverse("exposures:reading", args=[pk]) + "#use")
    washes = wash_protocol.washes_of(test)
    context = {
        "test": test,
        "screen": test.screen,
        "wash_url": step_url("wash", test.screen.code),
        "form": form,
        # Once somebody has read it, what it says comes first; it is read again where that is asked for.
        "asked": not readings or bool(form.errors) or "again" in request.GET,
        "is_grey": test.test_kind.by_solid_step,
        "aim": settings["greyscale.aim"],
        "washes": washes,
        "unkept": wash_protocol.kept(test, washes),
        "others": sorted({str(r.read_by) for r in readings}) if readings and mine is None else [],
        "meanings": GRADE_MEANING,
        "waiting": photo_queries.not_taken_over(test),
    }
    if readings:
        context |= _told(test, readings[0], settings, request.user)
    return render(request, "exposures/steptests/reading.html", context, status=422 if form.errors else 200)


def get_test(pk) -> StepTest:
    """The step test with its conditions, or the plain “not found” page."""
    joined = StepTest.objects.select_related(
        "screen__frame", "mesh", "emulsion", "lamp", "film_process", "batch__emulsion"
    )
    return get_object_or_404(joined, pk=pk)


def _form_of(request, test, mine, settings):
    typed = request.POST or None
    if test.test_kind.by_solid_step:
        return GreyScaleForm(typed, initial={"school": settings["exposure.school"]})
    return ReadingForm(typed, times_s=test.times_s, factors=test.factors, initial=_initial(mine, settings))


def _read(test, form, data, person) -> TestReading:
    if test.test_kind.by_solid_step:
        return reading_services.read_grey_scale(test, data["solid_step"], data["school"], person)
    return reading_services.read_test(test, form.steps(), data["school"], data["wanted_opening_um"], person)


def _told(test, last: TestReading, settings, person) -> dict:
    """What the newest reading says, by itself, with all others, and against the chart."""
    result = chart_queries.conclude(last)
    accepted = ChartEntry.objects.filter(reading=last).select_related("accepted_by").first()
    old = chart_queries.previous_entry(test, accepted)
    calibrated = result.usable and result.outcome == TestOutcome.WINDOW
    return {
        "reading": last,
        "found": result,
        "by_school": [
            {"words": words, "time_s": result.by_school.get(key), "chosen": key == last.school}
            for key, words in SCHOOLS.items()
        ],
        "together": chart_queries.together(test, last, settings),
        "accepted": accepted,
        "ranked": [s for s in last.steps.all() if s.marks],
        "against": chart_queries.against_chart(old, result.recommended.value),
        "film_first": chart_queries.film_before_shorter(test.film_process, result, old and old.time_s),
        "refine": result.next_test if calibrated else "",
        "may_accept": calibrated or (result.usable and person.is_lead),
        "far_off": prediction.far_off(test, result.recommended.known, settings) if result.usable else "",
    }


def house_start(settings) -> dict:
    """How the house reads where nobody has said otherwise."""
    wanted = settings["steptest.wanted_opening_um"]
    return {"school": settings["exposure.school"], "wanted_opening_um": f"{wanted:g}"}


def _initial(last, settings):
    if last is None:
        return house_start(settings)
    initial = {"school": last.school, "wanted_opening_um": f"{last.wanted_opening_um:g}"}
    for step in last.steps.all():
        initial[f"grade_{step.strip}"] = step.grade
        initial[f"opening_{step.strip}"] = _shown(step.finest_opening_um)
        initial[f"line_{step.strip}"] = _shown(step.thinnest_line_um)
        initial[f"dot_{step.strip}"] = _shown(step.smallest_dot)
        initial[f"slimy_{step.strip}"], initial[f"pale_{step.strip}"] = step.slimy, step.pale
    return initial


def _shown(value):
    return "" if value is None else f"{value:g}"


@require_POST
@recorders
def accept(request, pk):
    """Accept a reading into the exposure chart."""
    reading = get_object_or_404(TestReading.objects.select_related("step_test"), pk=pk)
    try:
        entry = chart_services.accept(reading, request.user, sure="sure" in request.POST)
    except RuleViolation as refusal:
        messages.error(request, refusal.reason)
        return redirect("exposures:reading", reading.step_test_id)
    messages.success(request, f"In the exposure chart: {entry}.")
    return redirect("exposures:chart")
