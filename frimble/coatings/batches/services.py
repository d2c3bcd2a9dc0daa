"""Batches mixed, topped up, put warm or cold, poured from, measured and finished."""

from django.db import transaction
from django.utils import timezone

from frimble.coatings.batches.queries import _ADDS, litres_left
from frimble.coatings.models import Batch, PotRecord
from frimble.core.conclusions import OutOfRange, require_between, require_positive
from frimble.core.emulsion import batch as rules
from frimble.core.emulsion import mixing
from frimble.people import settings as house_settings


def mix_batch(code, emulsion, mixed_at, kept_c, person, *, base_l=None, ratio=None, pot_l=None) -> Batch:
    """A new pot.

    Args:
        base_l: unsensitised emulsion, or all of it where it comes ready-sensitised; None when nobody measured.

    Raises:
        OutOfRange: the code exists, it was mixed in the future, kept at an impossible temperature, or more than the pot
            holds.
    """
    in_force = house_settings.current()
    batch = Batch(
        code=_free_code(code), emulsion=emulsion, mixed_at=mixed_at, mixed_by=person, kept_c=kept_c,
        ratio=ratio or emulsion.ratio, litres=_mixed_litres(base_l, ratio or emulsion.ratio, in_force), pot_l=pot_l,
    )  # fmt: skip
    rules.batch_age(emulsion.kind, (timezone.now() - mixed_at).total_seconds() / 86400, kept_c, in_force)
    _must_hold(batch.litres, pot_l, in_force)
    batch.save()
    return batch


def _mixed_litres(base_l, ratio, in_force) -> float | None:
    if base_l is None:
        return None
    require_positive(base_l, "The emulsion, in l,", "base_l")
    return mixing.mix(base_l, ratio, in_force).total if ratio else base_l


@transaction.atomic
def top_up(old: Batch, code, base_l, person) -> Batch:
    """A blend of what is left of an old pot and new base; it counts as old as its oldest part.

    Raises:
        OutOfRange: the code exists, nobody knows what is left, or more than the pot holds.
    """
    _must_be_open(old, "code")
    in_force, now = house_settings.current(), timezone.now()
    left = litres_left(old)
    if left is None:
        raise OutOfRange("Measure what is left in the pot first.", "base_l")
    ratio = old.ratio or old.emulsion.ratio
    age_days = (now - old.born_at).total_seconds() / 86400
    if ratio:
        total = mixing.top_up(left, base_l, ratio, age_days, in_force).total
    else:
        total = left + require_positive(base_l, "The new base", "base_l")
    _must_hold(total, old.pot_l, in_force)
    blend = Batch.objects.create(
        code=_free_code(code), emulsion=old.emulsion, mixed_at=now, oldest_at=old.born_at, mixed_by=person,
        kept_c=old.kept_c, ratio=ratio, litres=total, pot_l=old.pot_l, topped_from=old,
    )  # fmt: skip
    # The blend goes on from where its oldest part stood, warm or cold.
    for move in old.records.filter(kind=PotRecord.Kind.MOVED):
        PotRecord.objects.create(
            batch=blend, kind=move.kind, kept_c=move.kept_c, at=move.at, by=move.by, note=move.note
        )
    finish(old)
    return blend


def move(batch: Batch, kept_c: float, person, note="") -> PotRecord:
    """The pot now stands at another temperature.

    Raises:
        OutOfRange: a temperature no store has, or a finished pot.
    """
    _must_be_open(batch, "kept_c")
    rules.life_days(batch.emulsion.kind, kept_c, house_settings.current())
    return PotRecord.objects.create(
        batch=batch, kind=PotRecord.Kind.MOVED, kept_c=kept_c, at=timezone.now(), by=person, note=note
    )


def change_litres(batch: Batch, kind: str, litres: float, person, *, run=None, note="") -> PotRecord:
    """Poured, returned, thrown away, or measured anew.

    Raises:
        OutOfRange: less than nothing, more than is left, or more than the pot holds.
    """
    _must_be_open(batch, "litres")
    in_force, left = house_settings.current(), litres_left(batch)
    require_between(litres, 0, in_force["emulsion.most_pot_l"], "Litres", "litres")
    # What was mixed is read off a scale on the pot: a tenth more than it says may be there.
    if left is not None and _ADDS.get(kind) == -1.0 and litres > left * 1.1 + 0.05:
        raise OutOfRange(f"{batch.code} holds about {left:.2f} l: measure it, if there is more.", "litres")
    after = litres if kind == PotRecord.Kind.COUNTED else (left or 0) + _ADDS[kind] * litres
    if batch.pot_l and after > batch.pot_l:
        raise OutOfRange(f"The pot holds {batch.pot_l:g} l; that would make {after:.2f} l.", "litres")
    return PotRecord.objects.create(
        batch=batch, kind=kind, litres=litres, at=timezone.now(), by=person, run=run, note=note
    )


def finish(batch: Batch) -> None:
    """The pot is empty or given up."""
    batch.finished_at = timezone.now()
    batch.save()


def _must_be_open(batch, field) -> None:
    if batch.finished_at:
        raise OutOfRange(f"{batch.code} is finished.", field)


def _free_code(code: str) -> str:
    code = code.strip().upper()
    if Batch.objects.filter(code=code).exists():
        raise OutOfRange(f"Batch {code} exists already.", "code")
    return code


def _must_hold(litres, pot_l, in_force) -> None:
    if pot_l is None:
        return
    require_between(pot_l, 0.01, in_force["emulsion.most_pot_l"], "The pot, in l,", "pot_l")
    if litres and litres > pot_l:
        raise OutOfRange(f"{litres:.2f} l do not go into a pot of {pot_l:g} l.", "base_l")
