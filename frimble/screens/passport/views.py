"""The passport: one screen, what is on it, what may be done, its whole life; and taking a record back."""

from django.contrib import messages
from django.shortcuts import redirect, render
from django.utils import timezone

from frimble.core import lifecycle
from frimble.core.mesh import life as mesh_life
from frimble.core.press.offcontact import off_contact, on_press
from frimble.core.storage.racks import why_not
from frimble.core.tension.measurement import STAGES
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders
from frimble.screens import ledger
from frimble.screens.blemishes import queries as blemish_queries
from frimble.screens.links import step_url, test_url
from frimble.screens.lives import queries as life_queries
from frimble.screens.models import Screen, Slot
from frimble.screens.passport.forms import KeepForm, TakeBackForm
from frimble.screens.racks.facts import screen_facts, slot_facts
from frimble.screens.steps.pages import get_screen
from frimble.screens.tension.queries import last_measurement

_CYCLES_SHOWN = 6
_KEEPABLE = (lifecycle.State.PRINTED, lifecycle.State.STRIPPED, lifecycle.State.READY)


def passport(request, code):
    """One screen: what it is, what is on it, what may be done next, and its whole life."""
    screen = get_screen(code)
    settings, now = house_settings.current(), timezone.now()
    steps = lifecycle.next_steps(screen.life, now, settings)
    allowed = [s for s in steps if s.allowed]
    measurement = last_measurement(screen)
    marks = list(blemish_queries.standing(screen.installation))
    has_mesh = screen.state not in (lifecycle.State.NO_MESH, lifecycle.State.AWAY)
    mesh_life = life_queries.life_of(screen, marks) if has_mesh else None
    cycles = list(screen.installation.cycles.all())
    screen.open_cycle = next((c for c in reversed(cycles) if c.closed_at is None), None)
    events = _events(screen.installation, cycles)
    by_cycle = _by_cycle(events)
    context = {
        "screen": screen,
        "life": screen.life,
        "geometry": screen.mesh.geometry(settings) if has_mesh else None,
        "has_mesh": has_mesh,
        "mesh_life": mesh_life,
        "crossing": mesh_life.crossing_days() if mesh_life else None,
        "marks": marks,
        "may_keep": screen.state in _KEEPABLE,
        "limit": settings["tension.poor_below"],
        "line_cycles": [(c.started_at, c.closed_at) for c in cycles],
        "line_events": [(e.kind, e.at) for e in events if e.kind in ("coat", "expose", "to_press", "reclaim")],
        "press_words": on_press(screen.tension_n_per_cm, settings) if screen.tension_n_per_cm and has_mesh else (),
        "off_contact": _off_contact(screen, settings) if has_mesh and screen.tension_n_per_cm else None,
        "totals": _totals(events),
        "stretching": _stretching(events),
        "installations": screen.frame.installations.select_related("mesh").order_by("-number")
        if screen.installation.number > 1
        else (),
        "main_step": _linked(steps[0], screen) if steps and not (steps[0].allowed is False and allowed) else None,
        "steps": [_linked(s, screen) for s in steps],
        "waiting": next((s for s in steps if s.overridable and not s.allowed), None),
        "test_url": _unread_test_url(screen),
        "on_it": _on_the_mesh(screen, events),
        "tension": measurement,
        "tension_due": _tension_due(screen, cycles, now, settings),
        "cycles": by_cycle if "all" in request.GET else by_cycle[:_CYCLES_SHOWN],
        "earlier": 0 if "all" in request.GET else max(0, len(by_cycle) - _CYCLES_SHOWN),
        "current_cycle": screen.open_cycle,
        "take_back": events[0] if events and events[0].kind != "taken_back" else None,
    }
    return render(request, "screens/passport.html", context)


def _events(installation, cycles) -> list:
    """The mesh's records, newest first: the few people and cycles in them are read once, not with every record."""
    events = list(installation.events.select_related("replaced_by").prefetch_related("by").order_by("-at", "-pk"))
    by_key = {c.pk: c for c in cycles}
    for event in events:
        event.cycle = by_key.get(event.cycle_id)
    return events


def _stretching(events) -> list[tuple[str, float]]:
    """The readings after a stretching here, in their order: which, and N/cm."""
    read = {e.facts["stage"]: e.facts["mean"] for e in events if e.kind == "tension" and e.facts.get("stage")}
    return [(words, read[stage]) for stage, words in STAGES.items() if stage in read]


def _totals(events) -> dict:
    """What the mesh has done and what its reclaims took, by its standing records."""
    standing = [e for e in events if not hasattr(e, "replaced_by")]
    add = lambda kind, fact: sum(e.facts.get(fact, 0) for e in standing if e.kind == kind)  # noqa: E731
    return {
        "impressions": add("from_press", "impressions"),
        "rounds": add("reclaim", "rounds"),
        "minutes": add("reclaim", "minutes"),
    }


def _off_contact(screen, settings):
    """Off-contact for an image half as wide as the free mesh."""
    frame = screen.frame
    span = frame.inner_width_mm or frame.outer_width_mm - 2 * settings["placement.profile_mm"]
    return off_contact(span, span / 2, screen.tension_n_per_cm, settings)


def _linked(found, screen):
    return {"verdict": found, "url": step_url(found.step.kind, screen.code)}


def _on_the_mesh(screen, events):
    """The coat, exposure and reading of the stencil that is on the mesh now, oldest first."""
    cycle = screen.open_cycle
    if cycle is None or screen.state == lifecycle.State.BARE:
        return []
    of_now = (e for e in events if e.cycle_id == cycle.pk and not hasattr(e, "replaced_by"))
    return [e for e in of_now if e.kind in ("coat", "thickness", "expose", "read_test")][::-1]


def _unread_test_url(screen):
    """Where the washed step test on this screen is read; empty once it has been."""
    if not (screen.is_test and screen.state == lifecycle.State.WASHED):
        return ""
    events = screen.installation.events.standing().filter(cycle=screen.open_cycle)
    exposed = events.filter(kind="expose").last()
    if events.filter(kind="read_test").exists() or not exposed or "test" not in exposed.facts:
        return ""
    return test_url(exposed.facts["test"])


def _tension_due(screen, cycles, now, settings):
    if screen.tension_at is None:
        return "Never measured on this mesh."
    days = (now - screen.tension_at).days
    if days > settings["tension.recheck_days"]:
        return f"Measured {days} days ago: measure again."
    since = sum(1 for c in cycles if c.closed_at and c.closed_at > screen.tension_at)
    if since >= settings["tension.check_cycles"]:
        return f"{since} cycles since it was measured: measure again."
    return ""


@recorders
def keep(request, code):
    """Whether a finished stencil is worth its slot until it is asked for again."""
    screen = get_screen(code)
    start = {"chance": "30", "days": "60", "minutes": "45", "goods": "6"}
    form = KeepForm(request.GET if "chance" in request.GET else start)
    verdict = form.attempt(lambda cleaned: _keep_or_reclaim(screen, **cleaned))
    context = {"screen": screen, "form": form, "verdict": verdict}
    return render(request, "screens/keep.html", context, status=422 if form.errors else 200)


def _keep_or_reclaim(screen, *, chance, days, minutes, goods):
    facts = screen_facts(screen)
    settings = house_settings.current()
    free = [slot_facts(s, None) for s in Slot.objects.filter(screen__isnull=True).select_related("rack")]
    fitting = sum(not why_not(facts, s, settings) for s in free)
    alike = Screen.objects.filter(installation__mesh=screen.installation.mesh_id, state=lifecycle.State.BARE).count()
    remake = mesh_life.RemakeCost(minutes, goods)
    return mesh_life.keep_or_reclaim(chance / 100, days, remake, fitting, alike, settings)


def _by_cycle(events):
    """The life as (cycle or None, records) in order, newest first."""
    grouped = []
    for event in events:
        if not grouped or grouped[-1][0] != event.cycle:
            grouped.append((event.cycle, []))
        grouped[-1][1].append(event)
    return grouped


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
    return render(request, "screens/take_back.html", context, status=422 if form.errors else 200)
