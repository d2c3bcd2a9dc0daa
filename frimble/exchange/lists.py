"""Lists of screens written out, as CSV and as a workbook."""

import csv
import io

from django.utils import timezone

from frimble.core import lifecycle

COLUMNS = (
    ("Code", lambda s: s.code),
    ("Mesh", lambda s: f"{s.mesh.count_per_cm:g}-{s.mesh.thread_um:g}"),
    ("Colour", lambda s: s.mesh.colour),
    ("Width mm", lambda s: s.frame.outer_width_mm),
    ("Height mm", lambda s: s.frame.outer_height_mm),
    ("Frame", lambda s: s.frame.material),
    ("State", lambda s: lifecycle.STATE_WORDS[lifecycle.State(s.state)]),
    ("Tension N/cm", lambda s: None if s.tension_n_per_cm is None else round(s.tension_n_per_cm, 2)),
    ("Measured", lambda s: timezone.localdate(s.tension_at).isoformat() if s.tension_at else ""),
    ("Mounted", lambda s: timezone.localdate(s.installation.mounted_at).isoformat()),
    ("Cycles", lambda s: s.cycles),
    ("Slot", lambda s: s.slot.code if s.slot else ""),
)


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
