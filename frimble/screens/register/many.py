"""Many screens registered in parts, so that nobody waits for them, and seen all at once.

A frame is a screen only once its `Screen` stands beside it. Frames, meshes and first records are written in short parts that
no page shows; the screens themselves come last, in one transaction. Frames that never became screens are cleared away.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime

from django.db import models, transaction
from django.utils import timezone

from frimble.core import facts as event_facts
from frimble.core import lifecycle
from frimble.core.conclusions import RuleViolation
from frimble.core.storage import racks as rack_rules
from frimble.people import settings as house_settings
from frimble.screens.models import Frame, MeshInstallation, MeshType, Screen, ScreenEvent, Slot
from frimble.screens.racks.facts import slot_facts
from frimble.screens.register.services import check_sizes

# Rows a part: some 30 ms of a database that others wait for.
A_PART = 100


@dataclass(frozen=True)
class NewScreen:
    """A frame with its mesh, and what a list knows of it besides."""

    code: str
    material: str
    width_mm: float
    height_mm: float
    mesh: MeshType
    mounted_at: datetime | None = None
    tension_n_per_cm: float | None = None
    measured_at: datetime | None = None
    slot: Slot | None = None


def check(new: NewScreen) -> None:
    """Whether it can be registered, as the shop stands.

    Raises:
        InvalidInput: an impossible size. RuleViolation: its slot does not take it.
    """
    check_sizes(new.width_mm, new.height_mm, (None, None), 0.0)
    if new.slot is None:
        return
    # A bare mesh is neither live nor wet.
    screen = rack_rules.ScreenFacts(new.code, new.width_mm, new.height_mm, False, False)
    slot = slot_facts(new.slot, getattr(new.slot, "screen", None))
    if reason := rack_rules.why_not(screen, slot, house_settings.current()):
        raise RuleViolation(reason, field="slot")


@transaction.atomic
def write_part(part: Sequence[NewScreen], person) -> list[Screen]:
    """Frames, meshes and first records of a part; the screens, still to be seen, are given back."""
    now = timezone.now()
    frames = Frame.objects.bulk_create(_frame(new, person, new.mounted_at or now) for new in part)
    installations = MeshInstallation.objects.bulk_create(
        MeshInstallation(
            frame=frame, number=1, mesh=new.mesh, line=lifecycle.Line.PHOTO, mounted_at=new.mounted_at or now
        )
        for frame, new in zip(frames, part, strict=True)
    )
    records = [_records(*pair, person, now) for pair in zip(installations, part, strict=True)]
    ScreenEvent.objects.bulk_create(event for events in records for event in events)
    return [_screen(*row) for row in zip(frames, installations, (new.slot for new in part), records, strict=True)]


@transaction.atomic
def show(screens: Sequence[Screen]) -> None:
    """All screens at once.

    Raises:
        RuleViolation: a slot was taken meanwhile.
    """
    slots = [screen.slot_id for screen in screens if screen.slot_id]
    taken = Screen.objects.filter(slot__in=slots).select_related("frame", "slot").first() if slots else None
    if taken:
        raise RuleViolation(f"{taken} was put in slot {taken.slot} meanwhile.")
    Screen.objects.bulk_create(screens, batch_size=500)


def clear(codes: Iterable[str]) -> int:
    """Take away the frames of these codes that never became screens; how many there were. In parts, too."""
    left = list(Frame.objects.filter(code__in=list(codes), screen__isnull=True).values_list("pk", flat=True))
    for k in range(0, len(left), A_PART):
        part = left[k : k + A_PART]
        with transaction.atomic():
            # Records are append-only once they are a screen's; these never were.
            models.QuerySet(ScreenEvent).filter(installation__frame__in=part).delete()
            MeshInstallation.objects.filter(frame__in=part).delete()
            Frame.objects.filter(pk__in=part).delete()
    return len(left)


def _frame(new: NewScreen, person, at: datetime) -> Frame:
    return Frame(
        code=new.code,
        material=new.material,
        outer_width_mm=new.width_mm,
        outer_height_mm=new.height_mm,
        registered_at=at,
        registered_by=person,
    )


def _records(installation: MeshInstallation, new: NewScreen, person, now: datetime) -> list[ScreenEvent]:
    """What a list knows of a screen's life: a tension, and where it stands."""
    made = []
    if new.tension_n_per_cm is not None:
        mean = round(new.tension_n_per_cm, 2)
        words = f"Tension {new.tension_n_per_cm:.1f} N/cm, from a list"
        made.append(_event(installation, "tension", new.measured_at or now, person, {"mean": mean}, words))
    if new.slot is not None:
        words = f"Put in slot {new.slot.code}, {new.slot.rack}"
        made.append(_event(installation, "place", now, person, {"slot": new.slot.code}, words))
    return made


def _event(installation, kind, at, person, facts, summary) -> ScreenEvent:
    checked = event_facts.checked(kind, facts)
    return ScreenEvent(installation=installation, kind=kind, at=at, by=person, facts=checked, summary=summary[:240])


def _screen(frame, installation, slot, events: Sequence[ScreenEvent]) -> Screen:
    """The projection of its records, as the ledger would have left it."""
    in_order = sorted(events, key=lambda event: event.at)
    life = lifecycle.project(lifecycle.Line(installation.line), [event.as_core() for event in in_order], True)
    return Screen(
        frame=frame,
        installation=installation,
        state=life.state,
        since=life.since,
        tension_n_per_cm=life.tension_n_per_cm,
        tension_at=life.tension_at,
        slot=slot,
        revision=len(events),
    )
