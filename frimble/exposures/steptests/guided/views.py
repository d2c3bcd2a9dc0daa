"""Guided reading: one strip at a time, what is seen of it; the grades follow."""

from django.shortcuts import redirect, render
from django.urls import reverse

from frimble.exposures.models import StepTest
from frimble.exposures.steptests.guided.forms import GuidedForm
from frimble.exposures.steptests.reading import services as reading_services
from frimble.exposures.steptests.reading.views import get_test, house_start
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders


@recorders
def guided(request, pk):
    """Mark blocks, lines and openings of each strip; they are ranked, and the time is worked out."""
    test = get_test(pk)
    if test.test_kind.by_solid_step or test.status != StepTest.Status.EXPOSED:
        return redirect("exposures:reading", pk)
    form = GuidedForm(request.POST or None, times_s=test.times_s, initial=house_start(house_settings.current()))
    if request.method == "POST" and form.attempt(lambda data: _read(test, form, data, request.user)):
        return redirect(reverse("exposures:reading", args=[pk]) + "#use")
    return render(
        request, "exposures/steptests/guided.html", {"test": test, "form": form}, status=422 if form.errors else 200
    )


def _read(test, form, data, person):
    return reading_services.read_test(
        test, form.steps(), data["school"], data["wanted_opening_um"], person, marks=form.marks()
    )
