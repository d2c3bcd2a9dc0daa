"""A list of screens taken over, all or nothing, beside the pages and in short parts."""

import logging
from dataclasses import asdict
from datetime import datetime, time
from uuid import uuid4

from django.db import transaction
from django.utils import timezone

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.core.numbers import counted
from frimble.exchange import matching
from frimble.exchange.models import Draft
from frimble.people import settings as house_settings
from frimble.people.room_time import task
from frimble.screens.models import Frame, MeshType, Slot
from frimble.screens.register import many

logger = logging.getLogger(__name__)
_NOTHING = "Nothing was taken over."
_BROKE_OFF = f"It broke off: a fault of Frimble's, not of the list. {_NOTHING} The log says where."


class Overtaken(Exception):
    """Another run, of a worker that was started meanwhile, has begun the list anew."""


def look(draft: Draft, choices: matching.Choices) -> matching.DryRun:
    """The dry run of a list against the shop as it is."""
    return matching.dry_run(
        draft.headings, draft.rows, choices, _in_shop, timezone.localdate(), house_settings.current()
    )


def _in_shop(rows) -> matching.InShop:
    frames = Frame.objects.only("code").in_bulk({row.code for row in rows}, field_name="code")
    held = {code: slot.screen.frame.code if hasattr(slot, "screen") else "" for code, slot in _slots(rows).items()}
    return matching.InShop(frozenset(frames), held)


def _slots(rows) -> dict[str, Slot]:
    """The slots that the rows name, by their codes."""
    return Slot.objects.select_related("rack", "screen__frame").in_bulk({row.slot for row in rows}, field_name="code")


def take_over(draft: Draft, choices: matching.Choices) -> Draft:
    """Put the taking over of a list in the queue.

    Raises:
        InvalidInput: a cell that cannot be read.
    """
    errors = look(draft, choices).errors
    if errors:
        raise InvalidInput(f"{counted(len(errors), 'cell')} still cannot be read: nothing was taken over.")
    with transaction.atomic():
        draft.choices, draft.number = asdict(choices), len(draft.rows)
        draft.state, draft.done, draft.refusal = Draft.State.TAKING, 0, ""
        draft.save()
        transaction.on_commit(lambda: run.enqueue(draft.pk))
    return draft


def take_up_left() -> int:
    """Begin anew with lists that a killed worker left half written; how many there were."""
    left = list(Draft.objects.filter(state=Draft.State.TAKING).values_list("pk", flat=True))
    for pk in left:
        run.enqueue(pk)
    return len(left)


@task
def run(pk: int) -> None:
    """Take one list over; in the end all its screens stand in the shop, or none and why."""
    draft = Draft.objects.filter(pk=pk, state=Draft.State.TAKING).first()
    if draft is None:
        return
    draft.claim = uuid4()
    Draft.objects.filter(pk=pk).update(claim=draft.claim)
    choices = matching.Choices(**draft.choices)
    codes = [row.code for row in look(draft, choices).rows]
    many.clear(codes)
    try:
        _take(draft, choices)
    except Overtaken:
        return
    except (InvalidInput, RuleViolation) as error:
        refusal = f"{error} {_NOTHING}"
    except Exception:  # whatever breaks it off is said on the page, and nothing half written stays
        logger.exception("draft=%s failed", pk)
        refusal = _BROKE_OFF
    else:
        return
    many.clear(codes)
    Draft.objects.filter(pk=pk).update(state=Draft.State.REFUSED, refusal=refusal[:400], done=0)


def _take(draft: Draft, choices: matching.Choices) -> None:
    dry = look(draft, choices)
    if dry.errors:
        raise InvalidInput(f"{counted(len(dry.errors), 'cell')} cannot be read any more: {dry.errors[0].reason}")
    new = _checked(dry.rows)
    screens = []
    for k in range(0, len(new), many.A_PART):
        part = new[k : k + many.A_PART]
        with transaction.atomic():
            _go_on(draft, done=len(screens) + len(part))
            screens += many.write_part(part, draft.by)
    with transaction.atomic():
        _go_on(draft, state=Draft.State.DONE)
        many.show(screens)


def _go_on(draft: Draft, **values) -> None:
    """Note how far it is. The draft's row is held until the part is written: another run waits, then clears it away.

    Raises:
        Overtaken: another run has begun the list anew.
    """
    if not Draft.objects.filter(pk=draft.pk, claim=draft.claim).update(**values):
        raise Overtaken


def _checked(rows) -> list[many.NewScreen]:
    """Each row as a screen, held against the rules of frames and racks.

    Raises:
        InvalidInput: a row cannot be made; it is named.
    """
    meshes: dict[tuple, MeshType] = {}
    slots = _slots(rows)
    made = []
    for row in rows:
        new = _new_screen(row, meshes, slots)
        try:
            many.check(new)
        except (InvalidInput, RuleViolation) as error:
            raise InvalidInput(f"Row {row.number}, {row.code}: {error}") from None
        made.append(new)
    return made


def _new_screen(row: matching.Row, meshes, slots) -> many.NewScreen:
    key = (row.count_per_cm, row.thread_um, row.colour)
    if key not in meshes:
        meshes[key], _ = MeshType.objects.get_or_create(
            count_per_cm=key[0], thread_um=key[1], colour=key[2], thermal=False
        )
    mounted = row.mounted or row.measured
    return many.NewScreen(
        row.code,
        row.kind,
        row.width_mm,
        row.height_mm,
        meshes[key],
        _moment(mounted) if mounted else None,
        row.tension,
        _moment(row.measured) if row.measured else None,
        slots[row.slot] if row.slot else None,
    )


def _moment(day) -> datetime:
    """Noon of a day, or now when that is earlier today."""
    return min(timezone.make_aware(datetime.combine(day, time(12))), timezone.now())
