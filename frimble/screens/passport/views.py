"""The passport: one screen, what is on it, what may be done, its whole life; and taking a record back."""

from django.contrib import messages
from django.shortcuts import redirect, render
from django.utils import timezone

from frimble.core import lifecycle
from frimble.core.mesh import life as mesh_life
from frimble.core.storage.racks import why_not
from frimble.core.tension.limits import poor_below
from frimble.core.verdicts import Keeping
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders
from frimble.screens import ledger
from frimble.screens.blemishes import queries as blemish_queries
from frimble.screens.models import Screen, open_among
from frimble.screens.passport import presenters
from frimble.screens.passport.forms import KeepForm, TakeBackForm
from frimble.screens.racks.facts import free_slots, screen_facts
from frimble.screens.steps.pages import get_screen


def passport(request, code):
    """One screen: what it is, what is on it, what may be done next, and its whole life."""
    screen = get_screen(code)
    settings, now = house_settings.current(), timezone.now()
    cycles = list(screen.installation.cycles.all())
    screen.open_cycle = open_among(cycles)
    events = presenters.events_of(screen.installation, cycles)
    marks = list(blemish_queries.standing(screen.installation))
    on_frame = presenters.has_mesh(screen)
    installations = screen.frame.installations.select_related("mesh").order_by("-number")
    context = {
        "screen": screen,
        "has_mesh": on_frame,
        "geometry": screen.mesh.geometry(settings) if on_frame else None,
        "marks": marks,
        "limit": poor_below(screen.frame.material, settings),
        "todo": presenters.to_do(screen, events, now, settings),
        "mesh_life": presenters.life_part(screen, marks, cycles, events) if on_frame else None,
        "records": presenters.records_part(screen, events, "all" in request.GET),
        "tension": presenters.tension_part(screen, cycles, events, now, settings),
        "installations": installations if screen.installation.number > 1 else (),
    }
    return render(request, "screens/passport/passport.html", context)


@recorders
def keep(request, code):
    """Whether a finished stencil is worth its slot until it is asked for again."""
    screen = get_screen(code)
    start = {"chance": "30", "days": "60", "minutes": "45", "goods": "6"}
    form = KeepForm(request.GET if "chance" in request.GET else start)
    verdict = form.attempt(lambda cleaned: _keep_or_reclaim(screen, **cleaned))
    worth_keeping = bool(verdict) and verdict.verdict == Keeping.KEEP
    context = {"screen": screen, "form": form, "verdict": verdict, "worth_keeping": worth_keeping}
    return render(request, "screens/passport/keep.html", context, status=422 if form.errors else 200)


def _keep_or_reclaim(screen, *, chance, days, minutes, goods):
    facts = screen_facts(screen)
    settings = house_settings.current()
    fitting = sum(number for slot, number in free_slots() if not why_not(facts, slot, settings))
    alike = Screen.objects.filter(installation__mesh=screen.installation.mesh_id, state=lifecycle.State.BARE).count()
    remake = mesh_life.RemakeCost(minutes, goods)
    return mesh_life.keep_or_reclaim(chance / 100, days, remake, fitting, alike, settings)


@recorders
def take_back(request, code):
    """Take back the last record of a screen."""
    screen = get_screen(code)
    last = screen.installation.events.standing().select_related("by").order_by("-at", "-pk").first()
    form = TakeBackForm(request.POST or None, initial={"revision": screen.revision})
    if request.method == "POST":
        done = form.attempt(
            lambda cleaned: ledger.take_back(screen.code, request.user, cleaned["reason"], cleaned["revision"])
        )
        if done:
            messages.success(request, f"{screen.code}: {done.summary}.")
            return redirect("screens:passport", screen.code)
    context = {"screen": screen, "form": form, "last": last}
    return render(request, "screens/passport/take_back.html", context, status=422 if form.errors else 200)
