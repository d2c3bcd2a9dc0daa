"""Readings of a dry coat written down."""

from django.db import transaction

from frimble.coatings.coats.queries import current_coat
from frimble.coatings.models import CoatThickness
from frimble.core.coating import thickness as coat_thickness
from frimble.core.conclusions import RuleViolation
from frimble.core.lifecycle import State
from frimble.people import moments
from frimble.people import settings as house_settings
from frimble.screens import ledger
from frimble.screens.models import ScreenEvent


@transaction.atomic
def record_thickness(code, person, *, coated_um, bare_um, simulated=False, revision=None, note="") -> ScreenEvent:
    """Store readings of a dry coat with the emulsion over mesh they give.

    Raises:
        InvalidInput: a reading is absurd, or the coat thinner than its mesh. RuleViolation: no finished coat, or a wet one.
    """
    screen = ledger.lock(code, revision)
    if screen.state != State.COATED:
        raise RuleViolation("There is no finished coat on it to measure.")
    if screen.life.wet(moments.now()):
        raise RuleViolation("The coat is wet: the gauge would mark it, and wet it is thicker than it will be.")
    thickness = coat_thickness.measure(coated_um, bare_um, house_settings.current())
    event = ledger.record(
        code,
        "thickness",
        person,
        revision=revision,
        note=note,
        facts={"eom_um": round(thickness.eom_um, 1)},
        summary=f"Emulsion over mesh {thickness.eom_um:.0f} µm, {thickness.share * 100:.0f} % of the mesh, "
        f"{thickness.verdict.verdict}",
    )
    CoatThickness.objects.create(
        event=event,
        coat=current_coat(screen),
        bare_um=bare_um,
        readings_um=list(coated_um),
        eom_um=thickness.eom_um,
        spread_um=thickness.spread_um,
        simulated=simulated,
    )
    return event
