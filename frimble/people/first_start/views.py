"""The first start: the lead by the code from the terminal, then the schools; the room's things follow on Today."""

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.shortcuts import redirect, render
from django.views.decorators.cache import never_cache

from frimble.core.conclusions import InvalidInput
from frimble.people import settings as house_settings
from frimble.people.accounts.views import BACKEND
from frimble.people.door import throttle
from frimble.people.first_start import code as first_code
from frimble.people.first_start import services
from frimble.people.first_start.forms import FirstStartForm, SchoolsForm
from frimble.people.permissions import leads_only


@login_not_required
@never_cache
def first_start(request):
    """The lead's name and password, time zone, units and paper; only while the room has nobody."""
    if not first_code.needed():
        return redirect("people:sign-in")
    form = FirstStartForm(request.POST or None, initial={"time_zone": settings.TIME_ZONE})
    if request.method == "POST":
        lead = form.attempt(lambda data: _begin(request, data))
        if lead:
            login(request, lead, backend=BACKEND)
            return redirect("people:schools")
    status = 422 if form.errors else 200
    return render(request, "people/first_start/lead.html", {"form": form}, status=status)


def _begin(request, data):
    limits = throttle.limits_for(request, "first start")
    wait = throttle.begin(limits)
    if wait:
        raise InvalidInput(f"Too many tries: wait {throttle.in_words(wait)}.", "code")
    given = {name: value for name, value in data.items() if name != "again"}
    lead = services.begin(**given)
    throttle.succeeded(limits)
    settings.ROOM_HOSTS.learn(request.get_host().rsplit(":", 1)[0])
    return lead


@leads_only
def schools(request):
    """Which of the trade's schools the house follows, each with its reason."""
    held = house_settings.current()
    form = SchoolsForm(request.POST or None, initial=held)
    if request.method == "POST" and form.is_valid():
        services.follow(form.cleaned_data, request.user)
        messages.success(request, "The house follows these from now on. House settings change them later.")
        return redirect("jobs:setup")
    return render(request, "people/first_start/schools.html", {"form": form}, status=422 if form.errors else 200)
