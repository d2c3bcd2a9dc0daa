"""Today, the slate, jobs, and the way to and from the press."""

from django.contrib.auth.decorators import login_not_required
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone

from frimble.jobs import actions, today
from frimble.jobs.forms import FromPressForm, ToPressForm
from frimble.jobs.line import floor_of
from frimble.jobs.models import Job
from frimble.people import standards
from frimble.people.permissions import press_reporters
from frimble.screens.finding import find
from frimble.screens.models import Screen
from frimble.screens.stepviews import StepPage, show_step


def show_today(request):
    """Which screens stand where, and what to do next."""
    floor, in_force = floor_of(request), standards.current()
    context = {
        "next": today.next_thing(floor, in_force),
        "rows": today.rows(floor),
        "look": today.wants_a_look(floor, in_force),
        "day": timezone.localdate(),
        "due": sum(len(floor.due(name)) for name in floor.stations),
        "empty": not Screen.objects.exists(),
    }
    return render(request, "jobs/today.html", context)


def slate(request):
    """Where a scanned or typed text leads: a screen, a slot, a mesh or a job."""
    text = request.GET.get("q", "").strip()
    if not text:
        return redirect("jobs:today")
    job = Job.objects.filter(number__iexact=text).first()
    if job:
        return redirect("jobs:job", job.number)
    found = find(text)
    if found is None:
        return render(request, "jobs/not_found.html", {"text": text}, status=404)
    name, argument = found
    if name == "screens:rack":
        return redirect(f"{reverse(name)}?slot={argument}#slot-{argument}")
    return redirect(name, argument)


def jobs(request):
    return render(request, "jobs/jobs.html", {"jobs": Job.objects.all()})


def job(request, number):
    """One job and the screens that went to press for it."""
    found = get_object_or_404(Job, number=number)
    visits = found.visits.select_related("event__meshing__frame", "event__by").order_by("-event__at")[:60]
    return render(request, "jobs/job.html", {"job": found, "visits": visits})


TO_PRESS = StepPage(
    "to_press", ToPressForm,
    lambda form, screen, person: actions.send_to_press(
        screen.code, person, job=form.cleaned_data["job"], **form.common()),
    "Send to press", "Taped, pinholes blocked, dry. Pull a test on scrap first.",
)  # fmt: skip

FROM_PRESS = StepPage(
    "from_press", FromPressForm,
    lambda form, screen, person: actions.back_from_press(
        screen.code, person, impressions=form.cleaned_data["impressions"], **form.common()),
    "Record back from press", "How many prints this screen made, test pulls included.",
)  # fmt: skip


@press_reporters
def to_press(request, code):
    return show_step(request, code, TO_PRESS)


@press_reporters
def from_press(request, code):
    return show_step(request, code, FROM_PRESS)


@login_not_required
def alive(request):
    """Answers when the server is up; tells nothing else."""
    return HttpResponse("up", content_type="text/plain")
