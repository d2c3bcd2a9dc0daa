"""From bare frame to press: how long, where screens wait, and what would shorten it."""

from datetime import timedelta

from django import forms
from django.shortcuts import render
from django.utils import timezone

from frimble.core.planning.lead import by_week, lead_time
from frimble.core.units import show_minutes
from frimble.jobs.lead import queries
from frimble.people import settings as house_settings
from frimble.screens.models import MeshType
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import RecordField

# Less than this much shorter is no help.
_SHORTER = 0.99
_PERIODS = ((30, "30 days"), (90, "90 days"), (365, "a year"))


_WEEKS = 26


def _offset_min(now) -> float:
    """Of the shop's clock from UTC."""
    offset = timezone.localtime(now).utcoffset()
    return offset.total_seconds() / 60 if offset else 0.0


class PeriodForm(ActForm):
    days = forms.TypedChoiceField(label="Of the last", choices=_PERIODS, coerce=int, initial=90)
    mesh = RecordField(MeshType.objects.all(), label="Mesh", required=False, empty_label="every mesh")


def lead(request):
    """Lead time by stage, and the last whole week with one thing more."""
    form = PeriodForm(request.GET if request.GET else {"days": 90})
    settings, now = house_settings.current(), timezone.now()
    found, weeks, every = None, [], 1
    if form.is_valid():
        since = now - timedelta(days=form.cleaned_data["days"])
        lives = queries.lives_since(since, form.cleaned_data["mesh"])
        found, weeks = lead_time(lives.minutes), by_week(lives.minutes, _offset_min(now))[-_WEEKS:]
        every = lives.every
    week = queries.last_week(settings, now)
    as_it_was, *others = queries.replayed(week.day) if week else [None]
    helps = [r for r in others if r.unfinished < as_it_was.unfinished or r.mean_min < as_it_was.mean_min * _SHORTER]
    context = {
        "form": form,
        "lead": found,
        "every": every,
        "weeks": weeks,
        "as_it_was": show_minutes(as_it_was.mean_min) if as_it_was else "",
        "unfinished": as_it_was.unfinished if as_it_was else 0,
        "replays": [(r.words, show_minutes(r.mean_min), r.unfinished) for r in helps],
        "week": week,
    }
    return render(request, "jobs/lead/lead.html", context, status=200 if form.is_valid() else 422)
