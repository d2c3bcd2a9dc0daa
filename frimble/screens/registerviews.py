"""Registering a frame with its first mesh."""

from django.contrib import messages
from django.shortcuts import redirect, render

from frimble.core import lifecycle
from frimble.people.permissions import recorders
from frimble.screens import actions
from frimble.screens.forms import RegisterForm


@recorders
def register(request):
    """Register one new frame with its mesh."""
    form = RegisterForm(request.POST or None, initial={"line": lifecycle.Line.PHOTO})
    if request.method == "POST":
        screen = form.attempt(
            lambda c: actions.register_screen(
                c["code"],
                c["material"],
                c["width_mm"],
                c["height_mm"],
                c["mesh"],
                lifecycle.Line.THERMAL if c["mesh"].thermal else c["line"] or lifecycle.Line.PHOTO,
                request.user,
            )
        )
        if screen:
            messages.success(request, f"{screen.code} registered.")
            return redirect("screens:passport", screen.code)
    return render(request, "screens/register.html", {"form": form}, status=422 if form.errors else 200)
