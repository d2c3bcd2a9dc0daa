"""How stencils stood their runs, from the records."""

from collections.abc import Collection

from django.db.models import FloatField, IntegerField, QuerySet
from django.db.models.fields.json import KeyTextTransform
from django.db.models.functions import Cast

from frimble.core.stencil.wear import PrintedStencil
from frimble.exposures.models import Exposure
from frimble.jobs.losses.queries import broke_since
from frimble.people.cached import Prepared
from frimble.screens.models import ScreenEvent
from frimble.stencils.washing.learning import dose_of

# Stencils that tell how they stand their runs.
MOST = 500
# When, in minutes, a cycle was hardened last.
_HARDENED = Cast(KeyTextTransform("harden", "cycle__last_min"), FloatField())


def _newest_back(start) -> QuerySet:
    back = ScreenEvent.objects.standing().filter(kind="from_press", at__gte=start, cycle__isnull=False)
    made = Cast(KeyTextTransform("impressions", "facts"), IntegerField())
    return back.order_by("-at").values_list("cycle_id", made, _HARDENED, "at")[:MOST]


_NEWEST_BACK = Prepared(_newest_back)
_BROKE = Prepared(lambda start: broke_since(start).values_list("cycle_id", _HARDENED))


def printed_since(start) -> list[PrintedStencil]:
    """Stencils that came back from press since `start`, or were spoken of there; of very many the newest."""
    newest = _NEWEST_BACK.rows(start)
    impressions: dict[int, int] = {}
    for cycle, made, *_ in newest:
        impressions[cycle] = impressions.get(cycle, 0) + (made or 0)
    # Of the same time as those that came back, or too many would seem to break.
    since = newest[-1][-1] if len(newest) == MOST else start
    broke = dict(_BROKE.rows(since))
    hardened = {cycle for cycle, _, at_min, _ in newest if at_min is not None}
    hardened |= {cycle for cycle, at_min in broke.items() if at_min is not None}
    cycles = impressions.keys() | broke
    doses = _doses(cycles)
    return [
        PrintedStencil(cycle in hardened, doses.get(cycle), cycle in broke, impressions.get(cycle, 0))
        for cycle in sorted(cycles)
    ]


def _doses(cycles: Collection[int]) -> dict[int, float | None]:
    """Cycle → light ÷ calibrated time. Asked by number: to find the cycles again takes longer than to name them."""
    given = Exposure.objects.filter(event__cycle__in=cycles, event__replaced_by=None).order_by("pk")
    times = given.values_list("event__cycle_id", "given_s", "entry__time_s")
    return {cycle: dose_of(given_s, calibrated_s) for cycle, given_s, calibrated_s in times}
