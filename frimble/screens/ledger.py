"""The one way a record gets into a screen's life: checked against the core, written in one transaction, projected."""

from django.db import transaction
from django.utils import timezone

from frimble.core import facts as event_facts
from frimble.core import lifecycle
from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.people import moments
from frimble.people import settings as house_settings
from frimble.screens import requirements
from frimble.screens.models import Cycle, MeshInstallation, Screen, ScreenEvent, Slot
from frimble.screens.register.summaries import summarize_all, summarized

# Done to a frame or a bare mesh: they open no cycle.
_BETWEEN_CYCLES = frozenset({"take_off", "send_away"})
# So many of the records that a page has missed are told; a page may bear any number as its revision.
_TOLD_AT_MOST = 5


class Conflict(Exception):
    """Somebody recorded something on this screen since the page was opened; `events` are what they recorded."""

    def __init__(self, events, revision):
        self.events = events
        self.revision = revision
        others = "; ".join(f"{e.by} at {timezone.localtime(e.at):%H:%M}: {e.summary}" for e in events)
        super().__init__(f"While this page was open: {others}. What you typed is kept. Check it and send again.")


def lock(code: str, expected_revision: int | None) -> Screen:
    """The screen, held for this transaction.

    Raises:
        Conflict: its revision is no longer the one the page was made from.
    """
    screen = Screen.objects.select_for_update(of=("self",)).for_lists().get(frame__code=code)
    if expected_revision is not None and expected_revision != screen.revision:
        told = min(max(screen.revision - expected_revision, 1), _TOLD_AT_MOST)
        events = list(screen.installation.events.select_related("by").order_by("-pk")[:told])
        raise Conflict(list(reversed(events)), screen.revision)
    return screen


def check_step(screen: Screen, kind: str, now, override_reason: str, person) -> None:
    """Refuse a step the core forbids, unless a lead overrides with a reason.

    Raises:
        RuleViolation: with the core's reason.
    """
    if reason := requirements.unmet(kind, person):
        raise RuleViolation(reason)
    verdict = lifecycle.verdict(screen.life, kind, now, house_settings.current())
    if verdict.allowed:
        return
    if verdict.overridable and override_reason.strip():
        if not person.is_lead:
            raise RuleViolation(f"{verdict.reason} Only a lead may go on regardless.", field="override_reason")
        return
    raise RuleViolation(verdict.reason, overridable=verdict.overridable)


@transaction.atomic
def record(
    code, kind, person, *, summary, facts=None, at=None, revision=None, override_reason="", note="", coat_colour=None
) -> ScreenEvent:
    """Append one record to a screen's life and bring its projection up to date.

    Steps of the lifecycle are checked first; other kinds (tension, place) are checked by their own services.

    Raises:
        Conflict: the screen has moved on since `revision`.
        RuleViolation: the core forbids the step now.
    """
    screen = lock(code, revision)
    now = timezone.now()
    at = at or moments.now()
    if at > now + timezone.timedelta(minutes=1):
        raise InvalidInput("That lies in the future: check date and clock.", "at")
    if kind in lifecycle.STEPS:
        check_step(screen, kind, at, override_reason, person)
    event = ScreenEvent.objects.create(
        installation=screen.installation,
        cycle=_cycle_for(screen, kind, at),
        kind=kind,
        at=at,
        by=person,
        facts=event_facts.checked(kind, facts or {}),
        summary=summary[:240],
        note=note.strip()[:400],
        override_reason=override_reason.strip()[:300],
    )
    _store(screen, _after(screen, event), coat_colour)
    _store_lives(event)
    return event


@transaction.atomic
def take_back(code, person, reason: str, revision=None) -> ScreenEvent:
    """Take back a screen's last record with a new record that names it; the life is projected anew.

    Raises:
        InvalidInput: no reason given, or there is nothing to take back.
        RuleViolation: its old slot has been taken meanwhile.
    """
    screen = lock(code, revision)
    if not reason.strip():
        raise InvalidInput("Say what was wrong with it.", "reason")
    last = screen.installation.events.standing().order_by("-at", "-pk").first()
    if last is None:
        raise InvalidInput("There is no record to take back.", "reason")
    event = ScreenEvent.objects.create(
        installation=screen.installation,
        cycle=last.cycle,
        kind="taken_back",
        at=moments.now(),
        by=person,
        summary=f"Taken back: {last.summary}"[:240],
        note=reason.strip()[:400],
        replaces=last,
    )
    life = projected(screen.installation)
    if life.slot and Screen.objects.filter(slot__code=life.slot).exclude(pk=screen.pk).exists():
        raise RuleViolation(
            f"Slot {life.slot}, where it stood, has been taken meanwhile. Put it in another slot instead."
        )
    _store(screen, life, coat_colour=None)
    _store_lives(event, taken_back=last)
    return event


def begin_mesh(screen: Screen, installation) -> None:
    """Put a new mesh life on a screen that has none; to be called with the screen locked."""
    screen.installation = installation
    _store(screen, lifecycle.project(lifecycle.Line(installation.line), ()), coat_colour="")


def projected(installation) -> lifecycle.Life:
    """A mesh's life, replayed from its standing records."""
    events = [e.as_core() for e in installation.events.standing()]
    has_mesh = True
    return lifecycle.project(lifecycle.Line(installation.line), events, has_mesh)


def summarize_lives() -> None:
    """Bring every mesh and cycle up to date with its records, where these were written past `record`."""
    summarize_all(MeshInstallation.objects.all(), Cycle.objects.all(), ScreenEvent.objects.standing())


def differences(screen: Screen) -> list[str]:
    """Fields in which what is stored differs from the records; empty when it is true to them."""
    life = projected(screen.installation)
    compared = [(screen.code, screen.life, {name: getattr(life, name) for name in lifecycle.Life.__dataclass_fields__})]
    ended = screen.installation.events.standing().filter(kind__in=lifecycle.MESH_ENDS).order_by("at").last()
    compared.append((f"{screen.code}", screen.installation, {"ended_at": ended.at if ended else None}))
    for cycle in screen.installation.cycles.all():
        fields = summarized(cycle.closed_at, (e.as_core() for e in cycle.events.standing()))
        compared.append((f"{screen.code} cycle {cycle.number}", cycle, fields))
    return [
        f"{what}: {name} is stored as {getattr(stored, name)!r}, the records say {true!r}"
        for what, stored, fields in compared
        for name, true in fields.items()
        if getattr(stored, name) != true
    ]


def _after(screen: Screen, event: ScreenEvent) -> lifecycle.Life:
    later = screen.installation.events.standing().filter(at__gt=event.at).exists()
    return projected(screen.installation) if later else lifecycle.advance(screen.life, event.as_core())


def _store(screen: Screen, life: lifecycle.Life, coat_colour: str | None) -> None:
    for name in (
        "state",
        "since",
        "wet_until",
        "layers_done",
        "layers",
        "coated_at",
        "is_test",
        "cycles",
        "tension_n_per_cm",
        "tension_at",
    ):
        setattr(screen, name, getattr(life, name))
    screen.slot = Slot.objects.get(code=life.slot) if life.slot else None
    if coat_colour is not None:
        screen.coat_colour = coat_colour
    screen.revision += 1
    screen.save()


def _cycle_for(screen: Screen, kind: str, at) -> Cycle | None:
    """The open cycle; a first step opens the next one. Measuring and placing a bare mesh belong to none."""
    cycle = screen.open_cycle
    if kind not in lifecycle.STEPS or kind in _BETWEEN_CYCLES:
        return cycle
    if cycle is None:
        number = screen.installation.cycles.count() + 1
        return Cycle.objects.create(installation=screen.installation, number=number, started_at=at)
    if not cycle.last_min:
        # All that was done in it was taken back: it begins anew.
        cycle.started_at = at
        cycle.save(update_fields=["started_at"])
    return cycle


def _store_lives(event: ScreenEvent, taken_back: ScreenEvent | None = None) -> None:
    """Bring the event's mesh and cycle up to date; what ended one ends it no more when it is taken back."""
    step = lifecycle.STEPS.get((taken_back or event).kind)
    over_at = None if taken_back else event.at
    mesh, cycle = event.installation, event.cycle
    if step and step.ends_mesh:
        mesh.ended_at = over_at
        mesh.save(update_fields=["ended_at"])
    if cycle is None:
        return
    if step and (step.closes_cycle or step.ends_mesh):
        cycle.closed_at = over_at
    fields = summarized(cycle.closed_at, (e.as_core() for e in cycle.events.standing()))
    vars(cycle).update(fields)
    cycle.save(update_fields=["closed_at", *fields])


def wetted(life_event_facts: dict, minutes: float, at) -> dict:
    """Facts with the time until which the mesh is expected to be wet."""
    return {**life_event_facts, "wet_until": (at + timezone.timedelta(minutes=minutes)).isoformat()}
