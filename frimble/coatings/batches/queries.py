"""Batches: what is left of each, how warm it is, and how long what there is lasts."""

from collections.abc import Collection
from datetime import datetime, timedelta

from django.db.models import QuerySet
from django.utils import timezone

from frimble.coatings.models import Batch, BatchRecord, Emulsion
from frimble.core.conclusions import Conclusion
from frimble.core.emulsion import batch as rules
from frimble.core.verdicts import BatchAge
from frimble.people import settings as house_settings

_USE_OVER_WEEKS = 8


_FLOWS = (BatchRecord.Kind.POURED, BatchRecord.Kind.RETURNED)


FLOW_SIGN = {BatchRecord.Kind.RETURNED: 1.0, BatchRecord.Kind.POURED: -1.0, BatchRecord.Kind.THROWN: -1.0}


def litres_left(batch: Batch) -> float | None:
    """What is in the batch by its records; None when nobody ever measured."""
    left = batch.litres
    for record in batch.records.all():
        if record.kind == BatchRecord.Kind.COUNTED:
            left = record.litres
        elif record.kind in FLOW_SIGN and left is not None:
            left = max(0.0, left + FLOW_SIGN[record.kind] * record.litres)
    return left


def warm_up_left_min(batch: Batch, settings, now) -> float:
    """Minutes the batch still has to stand since it was taken from the cold."""
    spans = batch.kept(now)
    if len(spans) < 2 or spans[-1].kept_c < settings["emulsion.cold_below_c"]:
        return 0.0
    return rules.warm_up_min(spans[-1].days * 1440, spans[-2].kept_c, settings)


def warming_since(now: datetime) -> datetime:
    """A batch moved before this moment is warm now, however cold it stood."""
    return now - timedelta(minutes=house_settings.current()["emulsion.warm_up_min"])


def moved_since(moment: datetime) -> QuerySet[BatchRecord]:
    """Moves of batches after a moment."""
    return BatchRecord.objects.filter(kind=BatchRecord.Kind.MOVED, at__gt=moment).order_by()


def warming(moved: Collection[int], now) -> list[Batch]:
    """Of the batches lately moved those taken from the cold, each with `warm_at`, the moment it may be used."""
    waiting = []
    # Seldom is there one: the batches are read only then.
    if not moved:
        return waiting
    settings = house_settings.current()
    for batch in Batch.objects.in_use().filter(pk__in=moved):
        if left := warm_up_left_min(batch, settings, now):
            batch.warm_at = now + timedelta(minutes=left)
            waiting.append(batch)
    return waiting


def stands_cold(batch: Batch, settings, now) -> bool:
    return batch.kept(now)[-1].kept_c < settings["emulsion.cold_below_c"]


def outlooks(settings, planned_l=0.0, batches=None) -> list[tuple[Emulsion, Conclusion | None]]:
    """Each emulsion with how long its batches last; None where nobody measured any of them.

    Args:
        batches: those in use, where they were read already.
    """
    now = timezone.now()
    batches, used = list(Batch.objects.in_use()) if batches is None else batches, _litres_a_week(now)
    return [(e, _outlook(e, batches, used, settings, planned_l, now)) for e in Emulsion.objects.all()]


def outlook(emulsion: Emulsion, settings, planned_l=0.0) -> Conclusion | None:
    """How long one emulsion's batches last."""
    now = timezone.now()
    return _outlook(emulsion, Batch.objects.in_use(), _litres_a_week(now), settings, planned_l, now)


def _outlook(emulsion, in_use, used, settings, planned_l, now) -> Conclusion | None:
    batches, litres_a_week = [b for b in in_use if b.emulsion_id == emulsion.pk], used.get(emulsion.pk, 0.0)
    usable = [(b, litres_left(b)) for b in batches if b.age(now, settings).verdict != BatchAge.PAST]
    known = [(b, left) for b, left in usable if left is not None]
    if not known:
        return None
    life_left = max(_life_left_days(b, settings, now) for b, _ in known)
    return rules.stock_lasts(sum(left for _, left in known), litres_a_week, planned_l, life_left)


def _life_left_days(batch, settings, now) -> float:
    used = batch.age(now, settings).value
    return (1 - used) * rules.life_days(batch.emulsion.kind, batch.kept(now)[-1].kept_c, settings)


def _litres_a_week(now) -> dict[int, float]:
    """Poured less returned, over the last weeks, by emulsion."""
    flows = BatchRecord.objects.filter(at__gte=now - timedelta(weeks=_USE_OVER_WEEKS), kind__in=_FLOWS)
    used: dict[int, float] = {}
    for emulsion, kind, litres in flows.values_list("batch__emulsion", "kind", "litres"):
        used[emulsion] = used.get(emulsion, 0.0) - FLOW_SIGN[kind] * litres / _USE_OVER_WEEKS
    return used
