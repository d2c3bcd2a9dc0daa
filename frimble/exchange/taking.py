"""Taking a list over, all or nothing, and writing lists of screens."""

import csv
import io
from datetime import datetime, time

from django.db import transaction
from django.utils import timezone

from frimble.core import lifecycle
from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.core.numbers import counted
from frimble.exchange import matching
from frimble.exchange.models import Draft
from frimble.people import settings as house_settings
from frimble.screens import ledger
from frimble.screens.models import Frame, MeshType, Slot
from frimble.screens.racks import services as rack_services
from frimble.screens.register import services as register_services

COLUMNS = (
    ("Code", lambda s: s.code),
    ("Mesh", lambda s: f"{s.mesh.count_per_cm:g}-{s.mesh.thread_um:g}"),
    ("Colour", lambda s: s.mesh.colour),
    ("Width mm", lambda s: s.frame.outer_width_mm),
    ("Height mm", lambda s: s.frame.outer_height_mm),
    ("Frame", lambda s: s.frame.material),
    ("State", lambda s: lifecycle.STATE_WORDS[lifecycle.State(s.state)]),
    ("Tension N/cm", lambda s: None if s.tension_n_per_cm is None else round(s.tension_n_per_cm, 2)),
    ("Measured", lambda s: s.tension_at.date().isoformat() if s.tension_at else ""),
    ("Mounted", lambda s: s.installation.mounted_at.date().isoformat()),
    ("Cycles", lambda s: s.cycles),
    ("Slot", lambda s: s.slot.code if s.slot else ""),
)


def look(draft: Draft, choices: matching.Choices) -> matching.DryRun:
    """The dry run of a list against the shop as it is."""
    slots = {code: holder or "" for code, holder in Slot.objects.values_list("code", "screen__frame__code")}
    known = set(Frame.objects.values_list("code", flat=True))
    return matching.dry_run(
        draft.headings, draft.rows, choices, known, slots, timezone.localdate(), house_settings.current()
    )


@transaction.atomic
def take_over(draft: Draft, choices: matching.Choices, person) -> int:
    """Make every screen of the list, or none.

    Raises:
        InvalidInput: a row cannot be made; it is named.
    """
    run = look(draft, choices)
    if run.errors:
        raise InvalidInput(f"{counted(len(run.errors), 'cell')} still cannot be read: nothing was taken over.")
    kinds: dict[tuple, MeshType] = {}
    for row in run.rows:
        try:
            _make(row, person, kinds)
        except (InvalidInput, RuleViolation) as error:
            raise InvalidInput(f"Row {row.number}, {row.code}: {error}. Nothing was taken over.") from None
    draft.delete()
    return len(run.rows)


def _make(row: matching.Row, person, kinds) -> None:
    key = (row.count_per_cm, row.thread_um, row.colour)
    if key not in kinds:
        kinds[key], _ = MeshType.objects.get_or_create(
            count_per_cm=key[0], thread_um=key[1], colour=key[2], thermal=False
        )
    mounted = _moment(row.mounted or row.measured) if row.mounted or row.measured else None
    register_services.register_screen(
        row.code, row.kind, row.width_mm, row.height_mm, kinds[key], lifecycle.Line.PHOTO, person, at=mounted
    )
    if row.tension is not None:
        at = _moment(row.measured) if row.measured else None
        ledger.record(
            row.code,
            "tension",
            person,
            at=at,
            facts={"mean": round(row.tension, 2)},
            summary=f"Tension {row.tension:.1f} N/cm, from a list",
        )
    if row.slot:
        rack_services.place(row.code, Slot.objects.select_related("rack").get(code=row.slot), person)


def _moment(day) -> datetime:
    """Noon of a day, or now when that is earlier today."""
    return min(timezone.make_aware(datetime.combine(day, time(12))), timezone.now())


def as_csv(screens) -> bytes:
    """Screens as CSV in UTF-8 with a mark, which spreadsheets want."""
    file = io.StringIO()
    writer = csv.writer(file)
    writer.writerow([heading for heading, _ in COLUMNS])
    writer.writerows([_shown(value(s)) for _, value in COLUMNS] for s in screens)
    return file.getvalue().encode("utf-8-sig")


def as_xlsx(screens) -> bytes:
    """Screens as a workbook of one sheet."""
    from openpyxl import Workbook

    book = Workbook(write_only=True)
    sheet = book.create_sheet("Screens")
    sheet.append([heading for heading, _ in COLUMNS])
    for screen in screens:
        sheet.append([_shown(value(screen)) for _, value in COLUMNS])
    file = io.BytesIO()
    book.save(file)
    return file.getvalue()


def _shown(value):
    """Nothing a spreadsheet would take for a formula."""
    return f"'{value}" if isinstance(value, str) and value[:1] in "=+-@" else value
