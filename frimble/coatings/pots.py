"""Pots of emulsion: mixed, topped up, put warm or cold, measured, and how long what is in them lasts."""

import re
from datetime import timedelta

from django.db import transaction
from django.utils import timezone

from frimble.coatings.models import Batch, Emulsion, PotRecord
from frimble.core.conclusions import Conclusion, OutOfRange, require_between, require_positive
from frimble.core.emulsion import batch as rules
from frimble.core.emulsion import mixing
from frimble.people import standards

_USE_OVER_WEEKS = 8
_FLOWS = (PotRecord.Kind.POURED, PotRecord.Kind.RETURNED)
_COLOUR = re.compile(r"#[0-9A-Fa-f]{6}")
_ADDS = {PotRecord.Kind.RETURNED: 1.0, PotRecord.Kind.POURED: -1.0, PotRecord.Kind.THROWN: -1.0}


def keep_emulsion(found: Emulsion | None, data) -> Emulsion:
    """Write down a new emulsion, or what is known better of one.

    Raises:
        OutOfRange: the name is taken, solids that are no share, or a ratio no maker states.
    """
    in_force, solids = standards.current(), data["solids"] / 100
    others = Emulsion.objects.exclude(pk=found.pk if found else None).filter(name__iexact=data["name"].strip())
    if others.exists():
        raise OutOfRange(f"An emulsion is called {others.first()} already.", "name")
    require_between(solids, 0.05, 0.95, "Solids, as a share of 1,", "solids")
    if data["ratio"] is not None:
        mixing.mix(1, data["ratio"], in_force)
    for name in ("colour", "exposed_colour"):
        if not _COLOUR.fullmatch(data[name]):
            raise OutOfRange("A colour is written as #7FA99B.", name)
    kept = found or Emulsion()
    for name, value in {**data, "solids": solids, "name": data["name"].strip()}.items():
        setattr(kept, name, value)
    kept.save()
    return kept


def mix_batch(code, emulsion, mixed_at, kept_c, person, *, base_l=None, ratio=None, pot_l=None) -> Batch:
    """A new pot.

    Args:
        base_l: unsensitised emulsion, or all of it where it comes ready-sensitised; None when nobody measured.

    Raises:
        OutOfRange: the code exists, it was mixed in the future, kept at an impossible temperature, or more than the pot
            holds.
    """
    in_force = standards.current()
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
    in_force, now = standards.current(), timezone.now()
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
    rules.life_days(batch.emulsion.kind, kept_c, standards.current())
    return PotRecord.objects.create(
        batch=batch, kind=PotRecord.Kind.MOVED, kept_c=kept_c, at=timezone.now(), by=person, note=note
    )


def change_litres(batch: Batch, kind: str, litres: float, person, *, run=None, note="") -> PotRecord:
    """Poured, returned, thrown away, or measured anew.

    Raises:
        OutOfRange: less than nothing, more than is left, or more than the pot holds.
    """
    _must_be_open(batch, "litres")
    in_force, left = standards.current(), litres_left(batch)
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


def litres_left(batch: Batch) -> float | None:
    """What is in the pot by its records; None when nobody ever measured."""
    left = batch.litres
    for record in batch.records.all():
        if record.kind == PotRecord.Kind.COUNTED:
            left = record.litres
        elif record.kind in _ADDS and left is not None:
            left = max(0.0, left + _ADDS[record.kind] * record.litres)
    return left


def warm_up_left_min(batch: Batch, in_force, now) -> float:
    """Minutes the pot still has to stand since it was taken from the cold."""
    spans = batch.kept(now)
    if len(spans) < 2 or spans[-1].kept_c < in_force["emulsion.cold_below_c"]:
        return 0.0
    return rules.warm_up_min(spans[-1].days * 1440, spans[-2].kept_c, in_force)


def warming(now) -> list[Batch]:
    """Pots lately taken from the cold, each with `warm_at`, the moment it may be used."""
    in_force = standards.current()
    since = now - timedelta(minutes=in_force["emulsion.warm_up_min"])
    moved = Batch.objects.in_use().filter(records__kind=PotRecord.Kind.MOVED, records__at__gt=since).distinct()
    found = []
    for batch in moved:
        if left := warm_up_left_min(batch, in_force, now):
            batch.warm_at = now + timedelta(minutes=left)
            found.append(batch)
    return found


def stands_cold(batch: Batch, in_force, now) -> bool:
    return batch.kept(now)[-1].kept_c < in_force["emulsion.cold_below_c"]


def outlooks(in_force, planned_l=0.0, pots=None) -> list[tuple[Emulsion, Conclusion | None]]:
    """Each emulsion with how long its pots last; None where nobody measured any of them.

    Args:
        pots: those in use, where they were read already.
    """
    now = timezone.now()
    pots, used = list(Batch.objects.in_use()) if pots is None else pots, _litres_a_week(now)
    return [(e, _outlook(e, pots, used, in_force, planned_l, now)) for e in Emulsion.objects.all()]


def outlook(emulsion: Emulsion, in_force, planned_l=0.0) -> Conclusion | None:
    """How long one emulsion's pots last."""
    now = timezone.now()
    return _outlook(emulsion, Batch.objects.in_use(), _litres_a_week(now), in_force, planned_l, now)


def _outlook(emulsion, in_use, used, in_force, planned_l, now) -> Conclusion | None:
    pots, litres_a_week = [b for b in in_use if b.emulsion_id == emulsion.pk], used.get(emulsion.pk, 0.0)
    usable = [(b, litres_left(b)) for b in pots if b.age(now, in_force).verdict != "past its life"]
    known = [(b, left) for b, left in usable if left is not None]
    if not known:
        return None
    life_left = max(_life_left_days(b, in_force, now) for b, _ in known)
    return rules.stock_lasts(sum(left for _, left in known), litres_a_week, planned_l, life_left)


def _life_left_days(batch, in_force, now) -> float:
    used = batch.age(now, in_force).value
    return (1 - used) * rules.life_days(batch.emulsion.kind, batch.kept(now)[-1].kept_c, in_force)


def _litres_a_week(now) -> dict[int, float]:
    """Poured less returned, over the last weeks, by emulsion."""
    flows = PotRecord.objects.filter(at__gte=now - timedelta(weeks=_USE_OVER_WEEKS), kind__in=_FLOWS)
    used: dict[int, float] = {}
    for emulsion, kind, litres in flows.values_list("batch__emulsion", "kind", "litres"):
        used[emulsion] = used.get(emulsion, 0.0) - _ADDS[kind] * litres / _USE_OVER_WEEKS
    return used


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
