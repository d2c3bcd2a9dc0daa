"""Coating a screen, and noting what is wrong with its coat."""

from django.db import transaction

from frimble.coatings.coats.queries import current_coat, next_layer
from frimble.coatings.coats.stops import refuse_stopped
from frimble.coatings.drying import learning as drying_learning
from frimble.coatings.models import Coat, CoatDefect
from frimble.core.coating.defects import DEFECTS
from frimble.core.coating.drying import Air, hold_minutes
from frimble.core.coating.formula import parse_formula
from frimble.core.conclusions import InvalidInput, RuleViolation, require_between
from frimble.core.lifecycle import State
from frimble.core.units import show_minutes
from frimble.core.verdicts import BatchAge
from frimble.people import moments
from frimble.people import settings as house_settings
from frimble.screens import ledger


@transaction.atomic
def coat(
    code,
    person,
    *,
    formula,
    batch,
    air: Air,
    coater=None,
    fill="",
    stroke_s=None,
    ink="",
    revision=None,
    override_reason="",
    note="",
) -> Coat:
    """Lay the next layer of a coat formula.

    Args:
        coater, fill, stroke_s: with which, how full, and seconds of one stroke, where somebody wrote them down.
        ink: that the stencil is to stand, where it is known.

    Raises:
        InvalidInput: the formula does not parse, or differs from the one begun.
        RuleViolation: the mesh is wet, the batch is past its life, the air takes up no water, or what was recorded of
            the screen, the coater or the emulsion speaks against it.
    """
    settings, now = house_settings.current(), moments.now()
    screen = ledger.lock(code, revision)
    layer = next_layer(screen)
    parsed = parse_formula(formula, settings)
    _same_as_begun(screen, parsed)
    _batch_usable(batch, now, settings, person, override_reason)
    _round_edge_there(parsed.layers[layer - 1], coater)
    if stroke_s is not None:
        require_between(
            stroke_s,
            settings["coat.shortest_stroke_s"],
            settings["coat.longest_stroke_s"],
            "A stroke, in s,",
            "stroke_s",
        )
    if layer == 1:
        laid = {"coater": coater, "fill": fill, "emulsion": batch.emulsion, "ink": ink}
        refuse_stopped(screen, settings, person, override_reason, **laid)
    drying = drying_learning.expected(screen.mesh, parsed, layer, batch.emulsion, air, settings, fill=fill)
    if drying.refused:
        raise RuleViolation(drying.reason, field="humidity")
    layers, hold = len(parsed.layers), hold_minutes(drying.interval, settings)
    event = ledger.record(
        code,
        "coat",
        person,
        at=now,
        revision=revision,
        override_reason=override_reason,
        note=note,
        coat_colour=batch.emulsion.colour,
        facts=ledger.wetted({"layer": layer, "layers": layers}, hold, now),
        summary=f"Coated {parsed}"
        + (f", layer {layer} of {layers}" if layers > 1 else "")
        + f", {batch}. Look from {show_minutes(drying.value)}, held for {show_minutes(hold)}",
    )
    return Coat.objects.create(
        event=event,
        batch=batch,
        formula=str(parsed),
        layer=layer,
        coater=coater,
        fill=fill,
        stroke_s=stroke_s,
        ink=ink,
        air_c=air.air_c,
        humidity=air.humidity,
        fan=air.fan,
        dry_min=drying.value,
        dry_low_min=drying.low,
        dry_high_min=drying.high,
    )


def note_defect(coat: Coat, kind: str, person) -> CoatDefect:
    """Record something wrong with a coat, once for each kind.

    Raises:
        InvalidInput: an unknown defect, or one noted already.
    """
    if kind not in DEFECTS:
        raise InvalidInput(f"Choose one of {', '.join(d.word for d in DEFECTS.values())}.", "kind")
    if coat.defects.filter(kind=kind).exists():
        raise InvalidInput(f"{DEFECTS[kind].word.capitalize()} is noted for this coat already.", "kind")
    return CoatDefect.objects.create(coat=coat, kind=kind, at=moments.now(), by=person)


def remedy_words(defect: CoatDefect) -> str:
    """A fault with its usual cause and what to do."""
    kind = DEFECTS[defect.kind]
    return f"{defect}: usually {kind.cause}. {kind.remedy}"


def _same_as_begun(screen, parsed) -> None:
    if screen.state != State.PART_COATED:
        return
    begun = current_coat(screen)
    if begun and begun.formula != str(parsed):
        raise InvalidInput(f"This screen was begun with {begun.formula}: finish it with that formula.", "formula")


def _batch_usable(batch, now, settings, person, override_reason) -> None:
    age = batch.age(now, settings)
    if age.verdict == BatchAge.PAST and not (override_reason.strip() and person.is_lead):
        raise RuleViolation(f"Batch {batch.code} is {age.verdict}. {age.reason}", overridable=True, field="batch")


def _round_edge_there(layer, coater) -> None:
    if coater and not coater.round_edge and any(s.round_edge for s in layer.strokes):
        raise InvalidInput(f"{coater} has no round edge, which {layer} wants.", "coater")
