"""Work that was refused, counted with the money it stands for."""

from django.contrib import messages
from django.shortcuts import redirect, render

from frimble.jobs.refused import presenters, services
from frimble.jobs.refused.forms import RefusedForm
from frimble.people.permissions import press_reporters


@press_reporters
def refused(request):
    """What a year's refused work comes to by reason, and one more of it."""
    form = RefusedForm(request.POST or None)
    if request.method == "POST" and form.attempt(lambda cleaned: services.refuse(request.user, **cleaned)):
        messages.success(request, "Kept.")
        return redirect("jobs:refused")
    context = {"page": presenters.refused_page(), "form": form}
    return render(request, "jobs/refused/refused.html", context, status=422 if form.errors else 200)
