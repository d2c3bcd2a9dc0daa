"""What was lost by cause, month, lamp, person and batch; and trials."""

from datetime import timedelta

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone

from frimble.core.stencil.losses import pareto
from frimble.core.stencil.wear import wear
from frimble.jobs.losses import presenters, queries
from frimble.jobs.losses import services as loss_services
from frimble.jobs.losses.forms import LossesForm, ResultForm, TrialForm
from frimble.jobs.losses.models import TrialNote
from frimble.jobs.losses.printed import printed_since
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders

_TRIALS = 30


@recorders
def losses(request):
    """The Pareto of losses, and what is tried against them; a trial is begun here."""
    trial_form = TrialForm(request.POST or None)
    if request.method == "POST":
        begun = trial_form.attempt(lambda cleaned: loss_services.begin(request.user, **cleaned))
        if begun:
            messages.success(request, f"Begun: {begun}.")
            return redirect("jobs:losses")
    form = LossesForm(request.GET if "by" in request.GET else {"by": "cause", "days": "365"})
    part = form.attempt(_looked_at)
    context = {
        "form": form,
        "part": part,
        "trial_form": trial_form,
        "trials": TrialNote.objects.select_related("by", "outcome__by")[:_TRIALS],
    }
    failed = form.errors or trial_form.errors
    return render(request, "jobs/losses/losses.html", context, status=422 if failed else 200)


def _looked_at(cleaned):
    settings, days = house_settings.current(), int(cleaned["days"])
    start = timezone.now() - timedelta(days=days)
    period = queries.lost_since(start, settings)
    by, found = cleaned["by"], pareto(period.losses, cleaned["by"], period.begun, days, settings)
    stands = wear(printed_since(start))
    return presenters.part(found, by, period.losses, stands)


@recorders
def trial(request, pk):
    """What came of a trial."""
    shown = get_object_or_404(TrialNote.objects.select_related("by", "outcome__by"), pk=pk)
    form = ResultForm(request.POST or None)
    done = request.method == "POST" and form.attempt(
        lambda cleaned: loss_services.conclude(shown, request.user, **cleaned)
    )
    if done:
        messages.success(request, "Conclusion kept.")
        return redirect("jobs:losses")
    context = {"trial": shown, "form": form}
    return render(request, "jobs/losses/trial.html", context, status=422 if form.errors else 200)
