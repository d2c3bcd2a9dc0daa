"""What a job costs, a screen and a print, and what would change it."""

from django.shortcuts import get_object_or_404, render

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.core.costing.screen import changes, job_cost
from frimble.jobs.cost.queries import JobFacts
from frimble.jobs.models import Job
from frimble.people import settings as house_settings
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import WholeField

_PRINTS = 100
_CHANGES = 8


class PrintsForm(ActForm):
    prints = WholeField(label="Prints", min_value=1, initial=_PRINTS)


def cost(request, number):
    """A job's cost by screen and part, for a number of prints."""
    job = get_object_or_404(Job, number=number)
    settings = house_settings.current()
    form = PrintsForm(request.GET if "prints" in request.GET else None)
    prints = form.cleaned_data["prints"] if form.is_bound and form.is_valid() else _PRINTS
    found, others, refused = None, [], ""
    try:
        facts = JobFacts(job, settings)
        found = job_cost(facts.screens, prints, settings)
        others = [c for c in changes(facts.screens, list(facts.others()), prints, settings) if abs(c.more) >= 0.01]
    except InvalidInput as error:
        refused = str(error)
    except RuleViolation as violation:
        refused = violation.reason
    rows = [(f"{c.more:+.2f}".replace("-", "−"), c.words) for c in others[:_CHANGES]]
    context = {"job": job, "form": form, "cost": found, "changes": rows, "refused": refused}
    return render(request, "jobs/cost/cost.html", context, status=422 if form.errors else 200)
