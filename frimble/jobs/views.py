"""Today, the slate and jobs."""

from django.contrib import messages
from django.contrib.auth.decorators import login_not_required
from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone

from frimble.core.numbers import counted
from frimble.exposures.chart import queries as chart_queries
from frimble.jobs import queries, stock, today
from frimble.jobs.designs import history_of
from frimble.jobs.forms import JobPhotoForm, NeedForm
from frimble.jobs.line import floor_of, open_runs
from frimble.jobs.models import Job, Photo
from frimble.jobs.photos import keep_photo
from frimble.jobs.setup import presenters as setup
from frimble.people import settings as house_settings
from frimble.people.permissions import press_reporters
from frimble.screens.search.queries import find
from frimble.ui.roomlight import in_room_light, picture_answer

_COATED_SHOWN, _JOBS_A_PAGE = 40, 25


def show_today(request):
    """Which screens stand where, and what to do next."""
    floor, settings, calibrated = floor_of(request), house_settings.current(), chart_queries.calibrated()
    context = {
        "next": today.next_thing(floor, settings, open_runs()),
        "rows": today.rows(floor, calibrated),
        "look": today.wants_a_look(floor, settings, calibrated),
        "day": timezone.localdate(),
        "wanting": counted(sum(floor.asking.values()), "screen wants you", "screens want you"),
        "empty": not floor.total,
        "missing": [] if calibrated else setup.missing(),
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
    target = find(text)
    if target is None:
        return render(request, "jobs/not_found.html", {"text": text}, status=404)
    name, argument = target
    if name == "screens:rack":
        return redirect(f"{reverse(name)}?slot={argument}#slot-{argument}")
    return redirect(name, argument)


def jobs(request):
    """What is to be printed, the next first; below it what was, the latest first."""
    sought = request.GET.get("q", "").strip()[:80]
    found = queries.search(sought)
    page = Paginator(found.printed, _JOBS_A_PAGE).get_page(request.GET.get("page"))
    coming = found.coming if page.number == 1 else []
    return render(request, "jobs/jobs.html", {"coming": coming, "page": page, "sought": sought})


@press_reporters
def job(request, number):
    """One job with its design's history: films, screens, press visits and photographs, to which one can be added."""
    shown = get_object_or_404(Job, number=number)
    wants = request.POST.get("act") == "need"
    need = NeedForm(request.POST if wants else None)
    if wants and need.attempt(lambda cleaned: stock.add_need(shown, settings=house_settings.current(), **cleaned)):
        return redirect("jobs:job", number)
    form = JobPhotoForm(None if wants else request.POST or None, request.FILES or None)
    if (
        request.method == "POST"
        and not wants
        and form.attempt(lambda cleaned: keep_photo(shown, request.user, **cleaned))
    ):
        messages.success(request, "Photograph kept.")
        return redirect("jobs:job", number)
    context = {"job": shown, "history": history_of(shown), "form": form, "need": need}
    return render(request, "jobs/job.html", context, status=422 if form.errors or need.errors else 200)


def coated(request):
    """Coated screens, oldest first, and which mesh runs short for the coming jobs."""
    settings, now = house_settings.current(), timezone.now()
    rows, needs = stock.stock(settings, now), stock.coming()
    balances = stock.balances(rows, needs, timezone.localdate())
    litres, outlooks = stock.emulsion_needed(balances, needs, settings)
    context = {
        "rows": rows[:_COATED_SHOWN],
        "more": max(0, len(rows) - _COATED_SHOWN),
        "balances": balances,
        "litres": litres,
        "outlooks": outlooks,
        "keeps": settings["coat.keeps_days"],
    }
    return render(request, "jobs/coated.html", context)


def photo(request, pk):
    """A photograph in the light of the room."""
    shown = get_object_or_404(Photo, pk=pk)
    return picture_answer(in_room_light(shown.picture, request))


@login_not_required
def alive(request):
    """Answers when the server is up; tells nothing else."""
    return HttpResponse("up", content_type="text/plain")
