"""The one page shape for doing a step to a screen: what it is, whether it may be done, the form, the cautions."""

from collections.abc import Callable
from dataclasses import dataclass

from django.contrib import messages
from django.http import Http404
from django.shortcuts import redirect, render

from frimble.core import cautions, lifecycle, practice
from frimble.people import moments
from frimble.people import settings as house_settings
from frimble.screens import reminders
from frimble.screens.links import page_url
from frimble.screens.models import Screen, ScreenEvent

# Where it is seen that something went wrong.
_SHOWS_TROUBLE = ("wash", "inspect", "from_press", "reclaim")


def get_screen(code: str) -> Screen:
    """The screen with this code, or the plain “no such screen” page."""
    try:
        return Screen.objects.for_lists().get(frame__code=code.upper())
    except Screen.DoesNotExist:
        raise Http404(f"No screen is called {code}. Check the code on its frame.") from None


@dataclass(frozen=True)
class StepPage:
    """What one step's page needs: its kind, form, action, and the words on the page."""

    kind: str
    form: type
    act: object
    button: str
    lead: str = ""
    template: str = "screens/steps/step.html"
    initial: object = None
    done: str = "screens:passport"
    # What to say of a step that was done by its form, beyond its own words; empty where there is nothing.
    tell: Callable[[object, ScreenEvent], str] | None = None


def show_step(request, code: str, page: StepPage, extra=None, form_kwargs=None):
    """Show a step's page, or do the step and go on to where it leads."""
    screen = get_screen(code)
    settings = house_settings.current()
    verdict = lifecycle.verdict(screen.life, page.kind, moments.now(), settings)
    initial = {"revision": screen.revision} | (page.initial(screen, settings) if page.initial else {})
    form = page.form(request.POST or None, initial=initial, **(form_kwargs or {}))
    if request.method == "POST":
        result = form.attempt(lambda cleaned: page.act(form, screen, request.user))
        if result:
            messages.success(request, f"{screen.code}: {result.summary}.")
            if page.tell and (words := page.tell(form, result)):
                messages.warning(request, words)
            return redirect(page.done, screen.code)
        screen = get_screen(code)
        verdict = lifecycle.verdict(screen.life, page.kind, moments.now(), settings)
    context = {
        "screen": screen,
        "verdict": verdict,
        "form": form,
        "page": page,
        "caution": cautions.for_step(page.kind),
        "hands": practice.hands(page.kind),
        "learning": request.user.is_learning,
        "reminders": reminders.of(page.kind, request.user),
        "may_override": (verdict.overridable or form.overridable) and request.user.is_lead,
        "settings": settings,
        "trouble_url": page_url("diagnosis", screen.code) if page.kind in _SHOWS_TROUBLE else "",
    } | (extra(screen, settings, form) if extra else {})
    status = 422 if form.errors and request.method == "POST" else 200
    return render(request, page.template, context, status=status)
