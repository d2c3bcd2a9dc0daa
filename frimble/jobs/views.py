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
from frimble.jobs import queries, services, stock, today
from frimble.jobs.choosing import colours
from frimble.jobs.designs import history_of
from frimble.jobs.forms import JobForm, JobPhotoForm, NeedForm, TimeForm
from frimble.jobs.frame.floor import floor_of
from frimble.jobs.models import Job, Photo
from frimble.jobs.photos import keep_photo
from frimble.jobs.setup import presenters as setup
from frimble.jobs.turn import turn_of
from frimble.people import settings as house_settings
from frimble.people.permissions import press_reporters, recorders
from frimble.screens.search.queries import find
from frimble.ui.roomlight import in_room_light, picture_answer

_COATED_SHOWN, _JOBS_A_PAGE = 24, 25
_SAVED = {"need": "Kept.", "when": "Kept.", "photo": "Photograph kept."}


def show_today(request):
    """Which screens stand where, and what to do next."""
    floor, settings, calibrated = floor_of(request), house_settings.current(), chart_queries.entries_in_force()
    open_runs, troubled = today.lamp_runs(floor.now)
    turn = turn_of(request.user, floor.now, settings)
    context = {
        "next": today.next_thing(floor, settings, open_runs, turn),
        "rows": today.rows(floor, calibrated),
        "look": today.wants_a_look(floor, settings, calibrated, troubled),
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
    return render(
        request, "jobs/jobs.html", {"coming": coming, "page": page, "sought": sought, "today": timezone.localdate()}
    )


@recorders
def new_job(request):
    """A job taken in, from nothing or like an earlier one."""
    form = JobForm(request.POST or None, initial={"like": request.GET.get("like")})
    made = None
    if request.method == "POST":
        settings = house_settings.current()
        made = form.attempt(lambda cleaned: services.add_job(person=request.user, settings=settings, **cleaned))
    if made:
        if kept := services.kept_words(made):
            messages.success(request, kept)
        return redirect("jobs:job", made.number)
    return render(request, "jobs/new_job.html", {"form": form}, status=422 if form.errors else 200)


@press_reporters
def job(request, number):
    """One job with its design's history: its colours, films, screens, press visits and photographs."""
    shown = get_object_or_404(Job, number=number)
    history, settings = history_of(shown), house_settings.current()
    act = request.POST.get("act", "photo") if request.method == "POST" else ""
    when_now = {"press_on": shown.press_on, "press_time": shown.press_time}
    forms = {
        "need": NeedForm(request.POST if act == "need" else None, films=history.films),
        "when": TimeForm(request.POST if act == "when" else None, initial=when_now),
        "photo": JobPhotoForm(request.POST if act == "photo" else None, request.FILES or None),
    }
    acts = {
        "need": lambda cleaned: services.add_need(shown, settings=settings, **cleaned),
        "when": lambda cleaned: services.set_time(shown, **cleaned),
        "photo": lambda cleaned: keep_photo(shown, request.user, **cleaned),
    }
    if act in acts and forms[act].attempt(acts[act]):
        messages.success(request, _SAVED[act])
        return redirect("jobs:job", number)
    found = colours.colours_of(shown, settings, timezone.now(), history.films)
    context = {
        "job": shown, "history": history, "form": forms["photo"], "need": forms["need"], "when": forms["when"],
        "colours": found, "ready": colours.readiness(found),
    }  # fmt: skip
    return render(request, "jobs/job.html", context, status=422 if any(f.errors for f in forms.values()) else 200)


def coated(request):
    """Coated screens, oldest first, and which mesh runs short for the coming jobs."""
    settings, now = house_settings.current(), timezone.now()
    needs = stock.coming()
    rows, balances = stock.stock(needs, settings, now, _COATED_SHOWN + 1)
    litres, outlooks = stock.emulsion_needed(balances, needs, settings)
    context = {
        "rows": rows[:_COATED_SHOWN],
        "more": len(rows) > _COATED_SHOWN,
        "balances": balances,
        "wanted": bool(needs),
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
