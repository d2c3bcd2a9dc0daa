"""Batches mixed, topped up, put warm or cold, poured from, measured and finished."""

from django.db import transaction
from django.utils import timezone

from frimble.coatings.batches.queries import FLOW_SIGN, litres_left
from frimble.coatings.models import Batch, BatchRecord
from frimble.core.conclusions import InvalidInput, require_between, require_positive
from frimble.core.emulsion import batch as rules
from frimble.core.emulsion import mixing
from frimble.people import settings as house_settings


def mix_batch(code, emulsion, mixed_at, kept_c, person, *, base_l=None, ratio=None, capacity_l=None) -> Batch:
    """A new batch.

    Args:
        base_l: unsensitised emulsion, or all of it where it comes ready-sensitised; None when nobody measured.

    Raises:
        InvalidInput: the code exists, it was mixed in the future, kept at an impossible temperature, or more than the batch
            holds; sensitiser for an emulsion that comes ready.
    """
    settings = house_settings.current()
    if ratio is not None:
        mixing.refuse_sensitiser(emulsion.kind)
    batch = Batch(
        code=_free_code(code),
        emulsion=emulsion,
        mixed_at=mixed_at,
        mixed_by=person,
        kept_c=kept_c,
        ratio=ratio or emulsion.ratio,
        litres=_mixed_litres(base_l, ratio or emulsion.ratio, settings),
        capacity_l=capacity_l,
    )
    rules.batch_age(emulsion.kind, (timezone.now() - mixed_at).total_seconds() / 86400, kept_c, settings)
    _must_hold(batch.litres, capacity_l, settings)
    batch.save()
    return batch


def _mixed_litres(base_l, ratio, settings) -> float | None:
    if base_l is None:
        return None
    require_positive(base_l, "The emulsion, in l,", "base_l")
    return mixing.mix(base_l, ratio, settings).total if ratio else base_l


@transaction.atomic
def top_up(old: Batch, code, base_l, person) -> Batch:
    """A blend of what is left of an old batch and new base; it counts as old as its oldest part.

    Raises:
        InvalidInput: the code exists, nobody knows what is left, or more than the batch holds.
    """
    _must_be_open(old, "code")
    settings, now = house_settings.current(), timezone.now()
    left = litres_left(old)
    if left is None:
        raise InvalidInput("Measure what is left in the container first.", "base_l")
    ratio = old.ratio or old.emulsion.ratio
    age_days = (now - old.born_at).total_seconds() / 86400
    if ratio:
        total = mixing.top_up(left, base_l, ratio, age_days, settings).total
    else:
        total = left + require_positive(base_l, "The new base", "base_l")
    _must_hold(total, old.capacity_l, settings)
    blend = Batch.objects.create(
        code=_free_code(code),
        emulsion=old.emulsion,
        mixed_at=now,
        oldest_at=old.born_at,
        mixed_by=person,
        kept_c=old.kept_c,
        ratio=ratio,
        litres=total,
        capacity_l=old.capacity_l,
        topped_from=old,
    )
    # The blend goes on from where its oldest part stood, warm or cold.
    for move in old.records.filter(kind=BatchRecord.Kind.MOVED):
        BatchRecord.objects.create(
            batch=blend, kind=move.kind, kept_c=move.kept_c, at=move.at, by=move.by, note=move.note
        )
    finish(old)
    return blend


def move(batch: Batch, kept_c: float, person, note="") -> BatchRecord:
    """The batch now stands at another temperature.

    Raises:
        InvalidInput: a temperature no store has, or a finished batch.
    """
    _must_be_open(batch, "kept_c")
    rules.life_days(batch.emulsion.kind, kept_c, house_settings.current())
    return BatchRecord.objects.create(
        batch=batch, kind=BatchRecord.Kind.MOVED, kept_c=kept_c, at=timezone.now(), by=person, note=note
    )


def change_litres(batch: Batch, kind: str, litres: float, person, *, run=None, note="") -> BatchRecord:
    """Poured, returned, thrown away, or measured anew.

    Raises:
        InvalidInput: less than nothing, more than is left, or more than the batch holds.
    """
    _must_be_open(batch, "litres")
    settings, left = house_settings.current(), litres_left(batch)
    require_between(litres, 0, settings["emulsion.most_container_l"], "Litres", "litres")
    # What was mixed is read off a scale on the batch: a tenth more than it says may be there.
    if left is not None and FLOW_SIGN.get(kind) == -1.0 and litres > left * 1.1 + 0.05:
        raise InvalidInput(f"{batch.code} holds about {left:.2f} l: measure it, if there is more.", "litres")
    after = litres if kind == BatchRecord.Kind.COUNTED else (left or 0) + FLOW_SIGN[kind] * litres
    if batch.capacity_l and after > batch.capacity_l:
        raise InvalidInput(f"The container holds {batch.capacity_l:g} l; that would make {after:.2f} l.", "litres")
    return BatchRecord.objects.create(
        batch=batch, kind=kind, litres=litres, at=timezone.now(), by=person, run=run, note=note
    )


def finish(batch: Batch) -> None:
    """The batch is empty or given up."""
    batch.finished_at = timezone.now()
    batch.save()


def _must_be_open(batch, field) -> None:
    if batch.finished_at:
        raise InvalidInput(f"{batch.code} is finished.", field)


def _free_code(code: str) -> str:
    code = code.strip().upper()
    if Batch.objects.filter(code=code).exists():
        raise InvalidInput(f"Batch {code} exists already.", "code")
    return code


def _must_hold(litres, capacity_l, settings) -> None:
    if capacity_l is None:
        return
    require_between(capacity_l, 0.01, settings["emulsion.most_container_l"], "The container, in l,", "capacity_l")
    if litres and litres > capacity_l:
        raise InvalidInput(f"{litres:.2f} l do not go into a container of {capacity_l:g} l.", "base_l")
