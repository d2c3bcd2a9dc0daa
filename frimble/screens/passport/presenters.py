"""What the passport shows of a screen: what to do, the life of its mesh, its records, its tension."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from urllib.parse import urlencode

from django.urls import reverse

from frimble.core import lifecycle
from frimble.core.press.offcontact import off_contact, on_press
from frimble.core.tension.measurement import STAGES
from frimble.core.verdicts import LossVerdict
from frimble.screens.links import page_url, step_url
from frimble.screens.lives import queries as life_queries
from frimble.screens.tension.queries import last_measurement

_CYCLES_SHOWN = 6
_KEEPABLE = (lifecycle.State.PRINTED, lifecycle.State.STRIPPED, lifecycle.State.READY)
_MESHLESS = (lifecycle.State.NO_MESH, lifecycle.State.AWAY)
# What the life line marks.
# These may be hardened before they print.
_HARDENED = (lifecycle.State.READY, lifecycle.State.STRIPPED)
# Of these there are prints to speak of.
_PRINTS = (lifecycle.State.AT_PRESS, lifecycle.State.PRINTED, lifecycle.State.STRIPPED)
# On these nothing can have gone wrong yet.
_NOTHING_ON_IT = (lifecycle.State.BARE, lifecycle.State.DEGREASED, lifecycle.State.NO_MESH, lifecycle.State.AWAY)
_MARKED = ("coat", "expose", "to_press", "reclaim")


def has_mesh(screen) -> bool:
    """Whether there is a mesh on the frame, in this room."""
    return screen.state not in _MESHLESS


@dataclass(frozen=True)
class Action:
    """A button: its words, where it leads, whether it is the one next thing."""

    words: str
    url: str
    main: bool = False


@dataclass(frozen=True)
class NextStep:
    """A step of the work with its verdict and the page where it is done."""

    label: str
    reason: str
    warning: str
    allowed: bool
    overridable: bool
    url: str

    @property
    def open(self) -> bool:
        """It may be gone to: allowed, or for the lead with a reason."""
        return self.allowed or self.overridable


@dataclass(frozen=True)
class ToDo:
    """The largest thing on the page: what comes next and why, with its buttons; then every other step."""

    headline: str
    reason: str
    warning: str
    actions: tuple[Action, ...]
    steps: tuple[NextStep, ...]


def to_do(screen, events, now, settings) -> ToDo:
    """What may be done to the screen now; the first allowed step leads, or what it waits for."""
    steps = tuple(_next_step(step, screen) for step in lifecycle.next_steps(screen.life, now, settings))
    waiting = next((s for s in steps if s.overridable and not s.allowed), None)
    first = steps[0] if steps and (steps[0].allowed or not any(s.allowed for s in steps)) else None
    reading = _unread_test_url(screen, events)
    actions = (*_main_actions(first, reading), *_other_actions(screen, waiting is not None))
    if waiting:
        return ToDo(waiting.reason, "", "", actions, steps)
    if reading:
        return ToDo("Read the step test", "", "", actions, steps)
    if first:
        return ToDo(first.label, first.reason, first.warning, actions, steps)
    return ToDo("Nothing to do", "", "", actions, steps)


def _next_step(found: lifecycle.StepVerdict, screen) -> NextStep:
    url = step_url(found.step.kind, screen.code)
    return NextStep(found.step.label, found.reason, found.warning, found.allowed, found.overridable, url)


def _main_actions(first: NextStep | None, reading: str) -> list[Action]:
    onward = [Action(first.label, first.url, not reading)] if first and first.allowed else []
    return [Action("Read the test", reading, True), *onward] if reading else onward


def _other_actions(screen, waiting: bool) -> list[Action]:
    """What else is done to a screen as it is, whatever comes next."""
    code, state = screen.code, screen.state
    label = reverse("screens:labels") + "?" + urlencode({"codes": code, "sheet": "roll", "start": 1})
    coated = state == lifecycle.State.COATED and not waiting
    offered = [
        (state in lifecycle.LIVE, Action("Is it dry", page_url("dry_check", code))),
        (coated, Action("Plan a step test", page_url("plan_test", code))),
        (coated, Action("Measure the coat", page_url("thickness", code))),
        (
            state not in _NOTHING_ON_IT and not screen.mesh.thermal,
            Action("What went wrong", page_url("diagnosis", code)),
        ),
        (state in _HARDENED and not screen.mesh.thermal, Action("Harden it", page_url("harden", code))),
        (state not in _NOTHING_ON_IT, Action("This stencil", page_url("stencil_life", code))),
        (state in _PRINTS, Action("How it prints", page_url("feedback", code))),
        (not screen.slot and state != lifecycle.State.AT_PRESS, _own("Put in rack", "place", code)),
        (has_mesh(screen), _own("Measure tension", "tension", code)),
        (not has_mesh(screen), Action("Mount new mesh", reverse("screens:mount", args=[code]), True)),
        (state in _KEEPABLE and not screen.mesh.thermal, _own("Keep or reclaim", "keep", code)),
        (True, Action("Label", label)),
    ]
    return [action for wanted, action in offered if wanted]


def _own(words: str, page: str, code: str) -> Action:
    return Action(words, reverse(f"screens:{page}", args=[code]))


@dataclass(frozen=True)
class LifePart:
    """The mesh's life: its line, the forecast in words, and what to do with it."""

    life: life_queries.MeshLife
    cycles: Sequence[tuple[datetime, datetime | None]]
    events: Sequence[tuple[str, datetime]]
    headline: str


def life_part(screen, marks, cycles, events) -> LifePart:
    """What is drawn and said of the life of the mesh that is on."""
    life = life_queries.life_of(screen, marks)
    spans = [(c.started_at, c.closed_at) for c in cycles]
    return LifePart(life, spans, [(e.kind, e.at) for e in events if e.kind in _MARKED], _forecast_words(life))


def _forecast_words(life: life_queries.MeshLife) -> str:
    """The day from which it is more likely than not under its limit, and the day by which one in ten such would be."""
    if not life.forecast:
        return ""
    verdict = life.forecast.crossing.verdict
    if verdict == LossVerdict.BELOW:
        return "Its tension is below the limit."
    early = life.one_in_ten_day()
    tenth = f"one in ten such by {early:%-d %B %Y}" if early else "fewer than one in ten such cross"
    if verdict == LossVerdict.HOLDS:
        return f"Its tension holds as far as is predicted; {tenth}."
    day, _, _ = life.crossing_days()
    return f"More likely than not under the limit from {day:%-d %B %Y}, {tenth}."


@dataclass(frozen=True)
class RecordsPart:
    """The mesh's records by cycle, newest first, and what they come to."""

    on_it: Sequence
    by_cycle: Sequence
    earlier: int
    totals: dict
    may_take_back: bool


def records_part(screen, events, whole: bool) -> RecordsPart:
    """The records; the newest few cycles unless the whole is asked for."""
    by_cycle = _by_cycle(events)
    shown = by_cycle if whole else by_cycle[:_CYCLES_SHOWN]
    may_take_back = bool(events) and events[0].kind != "taken_back"
    return RecordsPart(_on_the_mesh(screen, events), shown, len(by_cycle) - len(shown), _totals(events), may_take_back)


@dataclass(frozen=True)
class TensionPart:
    """The last measurement, when the next is due, and what the tension asks of the press."""

    measurement: object
    due: str
    stretching: Sequence[tuple[str, float]]
    off_contact: object
    press_words: Sequence[str]


def tension_part(screen, cycles, events, now, settings) -> TensionPart:
    """What is known of the tension of the mesh that is on."""
    tight = has_mesh(screen) and screen.tension_n_per_cm
    return TensionPart(
        last_measurement(screen),
        _tension_due(screen, cycles, now, settings) if has_mesh(screen) else "",
        _stretching(events),
        _off_contact(screen, settings) if tight else None,
        on_press(screen.tension_n_per_cm, settings) if tight else (),
    )


def events_of(installation, cycles) -> list:
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
    standing = [e for e in events if e.stands]
    add = lambda kind, fact: sum(e.facts.get(fact, 0) for e in standing if e.kind == kind)  # noqa: E731
    return {
        "impressions": add("from_press", "impressions"),
        "rounds": add("reclaim", "rounds"),
        "minutes": add("reclaim", "minutes"),
    }


def _off_contact(screen, settings):
    """Off-contact for an image half as wide as the free mesh."""
    frame = screen.frame
    span, _ = frame.inside_mm(settings)
    return off_contact(span, span / 2, screen.tension_n_per_cm, settings)


def _on_the_mesh(screen, events):
    """The coat, exposure and reading of the stencil that is on the mesh now, oldest first."""
    cycle = screen.open_cycle
    if cycle is None or screen.state == lifecycle.State.BARE:
        return []
    of_now = (e for e in events if e.cycle_id == cycle.pk and e.stands)
    return [e for e in of_now if e.kind in ("coat", "thickness", "expose", "read_test", "harden")][::-1]


def _unread_test_url(screen, events) -> str:
    """Where the washed step test on this screen is read; empty once it has been."""
    if not (screen.is_test and screen.state == lifecycle.State.WASHED) or screen.open_cycle is None:
        return ""
    of_now = [e for e in events if e.cycle_id == screen.open_cycle.pk and e.stands]
    exposed = next((e for e in of_now if e.kind == "expose"), None)
    if exposed is None or "test" not in exposed.facts or any(e.kind == "read_test" for e in of_now):
        return ""
    return page_url("read_test", exposed.facts["test"])


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


def _by_cycle(events):
    """The life as (cycle or None, records) in order, newest first."""
    grouped = []
    for event in events:
        if not grouped or grouped[-1][0] != event.cycle:
            grouped.append((event.cycle, []))
        grouped[-1][1].append(event)
    return grouped
