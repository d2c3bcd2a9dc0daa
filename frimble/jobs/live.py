"""Whether anything changed in the room: one short text that differs after each record, in whatever process it was made."""

import time

from django.db import connection
from django.http import HttpResponse
from django.views.decorators.http import require_safe

from frimble.coatings.models import AirReading, BatchRecord, DryCheck
from frimble.exposures.models import ChartEntry, ChartWithdrawal, ControlStrip, LampRecord, Run, Tap
from frimble.jobs.models import PlannedDay, ScreenChoice
from frimble.screens.models import Frame, Rack, ScreenEvent

# Append-only tables, and those whose new rows are seen on lists: the last number of each says whether one came.
_WATCHED = (
    ScreenEvent, Tap, Run, BatchRecord, DryCheck, AirReading, ChartEntry, ChartWithdrawal, ControlStrip, LampRecord,
    Frame, Rack, PlannedDay, ScreenChoice,
)  # fmt: skip


# When this process last looked, and what it saw.
_seen: tuple[float, str] = (0.0, "")
_GOOD_FOR_S = 5.0


def version_for_page() -> str:
    """A version that is no newer than the page that bears it.

    An older one makes a page fetch itself once more than it must; a newer one would hide a change from it.
    """
    at, seen = _seen
    return seen if time.monotonic() - at < _GOOD_FOR_S else version()


def version() -> str:
    """The last numbers of what is watched; read from the ends of their indexes, in one query."""
    name = connection.ops.quote_name
    parts = ", ".join(f"(SELECT MAX({name('id')}) FROM {name(m._meta.db_table)})" for m in _WATCHED)  # noqa: S608
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT {parts}")
        global _seen
        at, now = time.monotonic(), ".".join(str(number or 0) for number in cursor.fetchone())
    _seen = at, now
    return now


@require_safe
def changes(request):
    """The version now; a page that was made from another fetches itself anew."""
    return HttpResponse(version(), content_type="text/plain")
