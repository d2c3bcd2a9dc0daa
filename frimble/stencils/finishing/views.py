"""Hardening a stencil for its run."""

from django.contrib import messages
from django.shortcuts import redirect, render

from frimble.core import cautions
from frimble.core.stencil.hardening import advise
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders
from frimble.screens.steps.pages import get_screen
from frimble.stencils.finishing import queries
from frimble.stencils.finishing import services as finishing_services
from frimble.stencils.finishing.forms import HardenForm, RunForm


@recorders
def harden(request, code):
    """Whether its run asks for it, by the address; the hardening is posted."""
    screen = get_screen(code)
    run = RunForm(request.GET)
    run.is_valid()
    asked = run.cleaned_data
    stencil = queries.stencil_for_run(screen, asked.get("ink", ""), asked.get("impressions"))
    start = {"revision": screen.revision, "how": "light", "seconds": f"{stencil.given_s:g}" if stencil.given_s else ""}
    form = HardenForm(request.POST or None, initial=start)
    if request.method == "POST":
        done = form.attempt(lambda data: _harden(form, screen, request.user))
        if done:
            messages.success(request, f"{screen.code}: {done.summary}.")
            return redirect("screens:passport", screen.code)
    context = {
        "screen": screen,
        "run": run,
        "form": form,
        "advice": advise(stencil, house_settings.current()),
        "may_be": screen.state in finishing_services.MAY_BE,
        "caution": cautions.for_step("harden"),
    }
    return render(request, "stencils/finishing/harden.html", context, status=422 if form.errors else 200)


def _harden(form, screen, person):
    said = {name: form.cleaned_data[name] for name in ("how", "seconds", "for_good")}
    return finishing_services.harden(screen.code, person, **said, **form.common())
