"""Emulsion over mesh: readings of the gauge recorded, and what they teach about the next coat."""

from django.db import transaction
from django.utils import timezone

from frimble.coatings.actions import current_coat
from frimble.coatings.models import CoatThickness
from frimble.core import eom, learning
from frimble.core.coating import parse_formula
from frimble.core.conclusion import Conclusion, Refused
from frimble.core.lifecycle import State
from frimble.people import standards
from frimble.screens import ledger
from frimble.screens.models import LifeEvent

_LEARNED_FROM = 300


@transaction.atomic
def record_thickness(code, person, *, coated_um, bare_um, simulated=False, revision=None, note="") -> LifeEvent:
    """Store readings of a dry coat with the emulsion over mesh they give.

    Raises:
        OutOfRange: a reading is absurd, or the coat thinner than its mesh. Refused: no finished coat, or a wet one.
    """
    screen = ledger.lock(code, revision)
    if screen.state != State.COATED:
        raise Refused("There is no finished coat on it to measure.")
    if screen.life.wet(timezone.now()):
        raise Refused("The coat is wet: the gauge would mark it, and wet it is thicker than it will be.")
    found = eom.measure(coated_um, bare_um, standards.current())
    event = ledger.record(
        code, "thickness", person, revision=revision, note=note, facts={"eom_um": round(found.eom_um, 1)},
        summary=f"Emulsion over mesh {found.eom_um:.0f} µm, {found.share * 100:.0f} % of the mesh, {found.verdict.verdict}",
    )  # fmt: skip
    CoatThickness.objects.create(
        event=event, coat=current_coat(screen), bare_um=bare_um, readings_um=list(coated_um), eom_um=found.eom_um,
        spread_um=found.spread_um, simulated=simulated,
    )  # fmt: skip
    return event


def belief(in_force) -> learning.Belief:
    """What the shop's own measured coats teach, the newest few hundred."""
    taken = CoatThickness.objects.filter(event__replaced_by__isnull=True).select_related(
        "coat__batch__emulsion", "event__meshing__mesh"
    )
    return eom.learn(
        ((_facts_of(t, in_force), t.eom_um) for t in taken.order_by("-event__at")[:_LEARNED_FROM]), in_force
    )


def _facts_of(taken: CoatThickness, in_force) -> eom.CoatFacts:
    return eom.CoatFacts(parse_formula(taken.coat.formula, in_force), taken.bare_um, taken.coat.batch.emulsion.solids)


def expected(screen, formula, emulsion, in_force) -> Conclusion:
    """Emulsion over mesh to expect on this screen from a formula and an emulsion."""
    fabric = screen.mesh.geometry(in_force).fabric_thickness_um
    return eom.predict(eom.CoatFacts(formula, fabric, emulsion.solids), belief(in_force), in_force)
