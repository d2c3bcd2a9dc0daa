"""A job's separations taken in at once."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render

from frimble.core.numbers import counted
from frimble.jobs.models import Job
from frimble.jobs.separated.forms import SeparationsForm
from frimble.jobs.separated.services import take_separations
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders


@recorders
def separations(request, number):
    """Many files become films and colours of the job, in the order of printing."""
    job = get_object_or_404(Job, number=number)
    form = SeparationsForm(request.POST, request.FILES) if request.method == "POST" else SeparationsForm()
    if request.method == "POST":
        settings = house_settings.current()
        films = form.attempt(lambda cleaned: take_separations(job, request.user, settings, **cleaned))
        if films:
            messages.success(request, f"{counted(len(films), 'film is', 'films are')} checked now.")
            return redirect("jobs:job", number)
    status = 422 if form.errors else 200
    return render(request, "jobs/separated/separations.html", {"job": job, "form": form}, status=status)
