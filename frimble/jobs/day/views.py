"""The day's plan: made, shown, and given out as a calendar."""

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone

from frimble.core.conclusions import RuleViolation
from frimble.jobs.day import presenters, queries, services
from frimble.jobs.day.calendar import as_calendar
from frimble.people.permissions import recorders


@recorders
def day(request):
    """Who does what on which screen when; planned again, or a screen frozen where it stands, by a tap."""
    if request.method == "POST":
        try:
            _plan_or_freeze(request)
        except RuleViolation as violation:
            messages.error(request, violation.reason)
        return redirect("jobs:day")
    kept = queries.last_plan()
    page = None
    if kept:
        page = presenters.day_page(kept, queries.done_in(kept), timezone.localtime())
    return render(request, "jobs/day/day.html", {"page": page})


def _plan_or_freeze(request) -> None:
    freeze = request.POST.get("freeze") or request.POST.get("let_move")
    if freeze:
        services.freeze(freeze, request.user, frozen="freeze" in request.POST)
    else:
        services.plan_now(request.user, anew="anew" in request.POST)


def calendar(request):
    """The plan's steps as a calendar file, all of them or one person's."""
    kept = queries.last_plan()
    if kept is None:
        raise Http404("No day is planned yet.")
    person = request.GET.get("person", "")
    rows = [row for row in kept.plan["tasks"] if row["person"] and person in ("", row["person"])]
    answer = HttpResponse(as_calendar(rows, kept.at, kept.plan["jobs"]), content_type="text/calendar; charset=utf-8")
    answer["Content-Disposition"] = 'attachment; filename="day.ics"'
    return answer
