"""Registering frames with their first mesh, one or many, and mounting new mesh on a frame."""

from django.contrib import messages
from django.shortcuts import redirect, render

from frimble.core import lifecycle
from frimble.people.permissions import recorders
from frimble.screens.register import services as register_services
from frimble.screens.register.forms import MountForm, RegisterForm
from frimble.screens.steps.pages import get_screen


@recorders
def register(request):
    """Register one new frame with its mesh, or up to fifty like it."""
    start = {"line": lifecycle.Line.PHOTO, "mesh": request.GET.get("mesh")}
    form = RegisterForm(request.POST or None, initial=start)
    if request.method == "POST":
        made = form.attempt(lambda cleaned: _register(cleaned, request.user))
        if made and len(made) == 1:
            messages.success(request, f"{made[0].code} registered.")
            return redirect("screens:passport", made[0].code)
        if made:
            messages.success(request, f"{len(made)} screens registered, {made[0].code} to {made[-1].code}.")
            return redirect("screens:register")
    return render(request, "screens/register/register.html", {"form": form}, status=422 if form.errors else 200)


def _register(cleaned, person):
    inner = (cleaned.pop("inner_width_mm"), cleaned.pop("inner_height_mm"))
    return register_services.register_many(
        cleaned.pop("code"), cleaned.pop("number"), person, inner_mm=inner, **cleaned
    )


@recorders
def mount(request, code):
    """New mesh on a frame that has none."""
    screen = get_screen(code)
    form = MountForm(request.POST or None, initial={"revision": screen.revision, "line": lifecycle.Line.PHOTO})
    if request.method == "POST":
        done = form.attempt(lambda cleaned: register_services.mount(screen.code, request.user, **cleaned))
        if done:
            messages.success(request, f"{screen.code}: {done.summary}.")
            return redirect("screens:passport", screen.code)
        screen = get_screen(code)
    free = screen.state in (lifecycle.State.NO_MESH, lifecycle.State.AWAY)
    context = {"screen": screen, "form": form, "free": free}
    return render(request, "screens/register/mount.html", context, status=422 if form.errors else 200)
