"""The page on which it is said who is there when."""

from datetime import timedelta

from django.contrib import messages
from django.shortcuts import redirect, render
from django.utils import timezone

from frimble.core.planning.hours import AWAY
from frimble.jobs.day.hours import services
from frimble.jobs.day.hours.forms import DayForm, WeekForm
from frimble.jobs.day.hours.queries import Hours
from frimble.jobs.models import DayHours, UsualHours
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders
from frimble.ui.input import row_number


@recorders
def hours(request):
    """Who is there today, each person's usual week, and days that are otherwise."""
    act = request.POST.get("act", "") if request.method == "POST" else ""
    week, day = WeekForm(request.POST if act == "week" else None), DayForm(request.POST if act == "day" else None)
    acts = {
        "week": (week, lambda data: services.say_usual(data["person"], data["week"])),
        "day": (day, lambda data: services.say_day(data["person"], data["on"], data["hours"])),
    }
    if act in acts and (words := acts[act][0].attempt(acts[act][1])):
        messages.success(request, f"{words}. Plan the day again to go by it.")
        return redirect("jobs:hours")
    if act == "usual":
        services.as_usual(row_number(request.POST.get("day")))
        return redirect("jobs:hours")
    if week.errors.get("person"):
        messages.error(request, "That person does not work here any more. Nothing was kept.")
    today = timezone.localdate()
    settings = house_settings.current()
    there = Hours(settings, today)
    context = {
        "opens": _clock(settings["day.starts_h"] * 60),
        "closes": _clock(settings["day.ends_h"] * 60),
        "rows": _rows(there, today, week),
        "days": DayHours.objects.filter(on__gte=today, on__lt=today + timedelta(days=60)).select_related("person"),
        "day_form": day,
        "today": today,
    }
    return render(request, "jobs/day/hours.html", context, status=422 if week.errors or day.errors else 200)


def _rows(there: Hours, today, sent: WeekForm) -> list[dict]:
    """Each person with today's hours in words and the form of the usual week, the one that was sent as it was sent."""
    usual = {u.person_id: u.week for u in UsualHours.objects.all()}
    rows = []
    for person in there.people:
        form = sent
        if not sent.is_bound or sent.data.get("person") != str(person.pk):
            form = WeekForm(initial={"person": person.pk, "week": usual.get(person.pk, "")})
        form.auto_id = f"id_{person.pk}_%s"
        rows.append({"person": person, "today": _words(there.spans(person, today)), "form": form})
    return rows


def _words(spans) -> str:
    return ", ".join(f"{_clock(begins)} to {_clock(ends)}" for begins, ends in spans if begins < ends) or AWAY


def _clock(minutes: float) -> str:
    hour, minute = divmod(round(minutes), 60)
    return f"{hour}:{minute:02d}"
