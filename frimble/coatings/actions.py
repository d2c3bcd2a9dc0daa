"""Coating a screen, and mixing a batch."""

from django.db import transaction
from django.utils import timezone

from frimble.coatings.models import Batch, Coat
from frimble.core import drying
from frimble.core.coating import parse_formula
from frimble.core.conclusion import OutOfRange, Refused
from frimble.core.lifecycle import State
from frimble.core.units import show_minutes
from frimble.people import standards
from frimble.screens import ledger


def current_coat(screen) -> Coat | None:
    """The last layer on the mesh now, or None when nothing is on it."""
    cycle = screen.open_cycle
    if cycle is None:
        return None
    return (
        Coat.objects.filter(event__cycle=cycle, event__replaced_by__isnull=True)
        .select_related("batch__emulsion")
        .order_by("-event__at", "-pk")
        .first()
    )


def predict(mesh, formula_text, layer, emulsion, air_c, humidity, in_force):
    """Drying time of one layer, as the core concludes it."""
    formula, air = parse_formula(formula_text, in_force), drying.Air(air_c, humidity)
    facts = drying.layer_facts(formula, layer, mesh.geometry(in_force), emulsion.solids, air, in_force)
    return drying.drying_minutes(facts, drying.prior(in_force), in_force)


@transaction.atomic
def coat(code, person, *, formula, batch, air_c, humidity, revision=None, override_reason="", note=""):
    """Lay the next layer of a coat formula.

    Raises:
        OutOfRange: the formula does not parse, or differs from the one begun.
        Refused: the mesh is wet, the batch is past its life, or the air takes up no water.
    """
    in_force, now = standards.current(), timezone.now()
    screen = ledger.lock(code, revision)
    layer = screen.layers_done + 1 if screen.state == State.PART_COATED else 1
    parsed = parse_formula(formula, in_force)
    _same_as_begun(screen, parsed)
    _batch_usable(batch, now, in_force, person, override_reason)
    drying = predict(screen.mesh, formula, layer, batch.emulsion, air_c, humidity, in_force)
    if drying.refused:
        raise Refused(drying.reason, field="humidity")
    layers = len(parsed.layers)
    event = ledger.record(
        code, "coat", person, at=now, revision=revision, override_reason=override_reason, note=note,
        coat_colour=batch.emulsion.colour,
        facts=ledger.wetted({"layer": layer, "layers": layers}, drying.value, now),
        summary=f"Coated {parsed}" + (f", layer {layer} of {layers}" if layers > 1 else "")
        + f", {batch}. Dry in about {show_minutes(drying.value)}",
    )  # fmt: skip
    return Coat.objects.create(
        event=event, batch=batch, formula=str(parsed), layer=layer, air_c=air_c, humidity=humidity,
        dry_min=drying.value, dry_low_min=drying.low, dry_high_min=drying.high,
    ).event  # fmt: skip


def _same_as_begun(screen, parsed) -> None:
    if screen.state != State.PART_COATED:
        return
    begun = current_coat(screen).formula
    if begun != str(parsed):
        raise OutOfRange(f"This screen was begun with {begun}: finish it with that formula.", "formula")


def _batch_usable(batch, now, in_force, person, override_reason) -> None:
    age = batch.age(now, in_force)
    if age.verdict == "past its life" and not (override_reason.strip() and person.is_lead):
        raise Refused(f"Batch {batch.code} is {age.verdict}. {age.reason}", overridable=True, field="batch")


def mix_batch(code, emulsion, mixed_at, kept_c, person) -> Batch:
    """A new pot.

    Raises:
        OutOfRange: the code exists, it was mixed in the future, or kept at an impossible temperature.
    """
    code = code.strip().upper()
    if Batch.objects.filter(code=code).exists():
        raise OutOfRange(f"Batch {code} exists already.", "code")
    batch = Batch(code=code, emulsion=emulsion, mixed_at=mixed_at, mixed_by=person, kept_c=kept_c)
    batch.age(timezone.now(), standards.current())
    batch.save()
    return batch
