"""A session at the press limited by its pads."""

from django.shortcuts import get_object_or_404, render

from frimble.core.planning.session import session as planned_session
from frimble.jobs.models import Job
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import SecondsField, WholeField


class SessionForm(ActForm):
    pieces = WholeField(label="Pieces", min_value=1, initial=24)
    pads = WholeField(label="Pads or platens", min_value=1, initial=4)
    colours = WholeField(label="Colours", min_value=1, initial=1)
    print_s = SecondsField(label="One print, with loading", initial=25)
    dry_s = SecondsField(label="Drying before the next colour", initial=60)


def session(request, number):
    """How long a job's session takes, and what the pads cost in waiting."""
    job = get_object_or_404(Job, number=number)
    first = {"colours": max(1, job.needs.count())}
    form = SessionForm(request.GET if request.GET else None, initial=first)
    found = form.attempt(lambda cleaned: planned_session(**cleaned)) if request.GET else None
    context = {"job": job, "form": form, "session": found}
    return render(request, "jobs/day/session.html", context, status=422 if form.errors else 200)
