"""Emulsion over mesh: readings of the gauge recorded, and what they teach about the next coat."""

from dataclasses import dataclass, replace

from django.db import transaction
from django.utils import timezone

from frimble.coatings.actions import current_coat
from frimble.coatings.models import Coat, CoatThickness
from frimble.core.coating import thickness as coat_thickness
from frimble.core.coating.formula import parse_formula
from frimble.core.coating.wet import FILLS
from frimble.core.conclusions import Conclusion, Refused
from frimble.core.lifecycle import State
from frimble.core.statistics import control as control_chart
from frimble.people import standards
from frimble.people.kept import Kept
from frimble.screens import ledger
from frimble.screens.models import LifeEvent

_LEARNED_FROM, _CHARTED = 300, 60
KEPT = Kept("coat-thickness", 600)
_USUAL = 12
_TOLD = 6


@dataclass(frozen=True)
class Off:
    """A measured coat that chance does not explain: which rule it broke, and what of it was not as usual."""

    taken: CoatThickness
    words: str
    moved: list[coat_thickness.Moved]


@dataclass(frozen=True)
class Steadiness:
    """A control chart of coats: shares of what was expected, the coats behind them, and the newest of those that are off."""

    chart: control_chart.Chart | None
    taken: list[CoatThickness]
    off: list[Off]


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
    found = coat_thickness.measure(coated_um, bare_um, standards.current())
    event = ledger.record(
        code, "thickness", person, revision=revision, note=note, facts={"eom_um": round(found.eom_um, 1)},
        summary=f"Emulsion over mesh {found.eom_um:.0f} µm, {found.share * 100:.0f} % of the mesh, {found.verdict.verdict}",
    )  # fmt: skip
    CoatThickness.objects.create(
        event=event, coat=current_coat(screen), bare_um=bare_um, readings_um=list(coated_um), eom_um=found.eom_um,
        spread_um=found.spread_um, simulated=simulated,
    )  # fmt: skip
    return event


def _measured(most=_LEARNED_FROM, **which) -> list[CoatThickness]:
    """The newest measured coats, newest first."""
    taken = CoatThickness.objects.filter(event__replaced_by__isnull=True, **which).select_related(
        "coat__batch__emulsion", "coat__event__by", "coat__coater", "event__meshing__mesh", "event__meshing__frame"
    )
    return list(taken.prefetch_related("coat__batch__records").order_by("-pk")[:most])


def learned(in_force) -> coat_thickness.Learned:
    """What the shop's own measured coats teach, the newest few hundred; kept until another is measured."""
    return KEPT.get(
        lambda: coat_thickness.learn(((_facts_of(t, in_force), t.eom_um) for t in _measured()), in_force), in_force
    )


def _facts_of(taken: CoatThickness, in_force) -> coat_thickness.CoatFacts:
    facts = facts_of(taken.coat, taken.event.meshing.mesh, in_force)
    return replace(facts, fabric_um=taken.bare_um)


def facts_of(coat: Coat, mesh, in_force) -> coat_thickness.CoatFacts:
    """What the thickness of a coat that was laid rests on."""
    return coat_thickness.CoatFacts(
        parse_formula(coat.formula, in_force), mesh.geometry(in_force).fabric_thickness_um, coat.batch.emulsion.solids,
        FILLS.get(coat.fill), coat.stroke_s, min(1.0, coat.batch.age(coat.event.at, in_force).value), str(mesh),
        coat.event.by.first_name,
    )  # fmt: skip


def expected(mesh, formula, emulsion, in_force, *, fill="", person=None, known=None) -> Conclusion:
    """Emulsion over mesh to expect on a mesh from a formula and an emulsion, laid by somebody with a coater so full."""
    fabric = mesh.geometry(in_force).fabric_thickness_um
    facts = coat_thickness.CoatFacts(
        formula, fabric, emulsion.solids, FILLS.get(fill), mesh=str(mesh), person=person.first_name if person else ""
    )
    return coat_thickness.predict(facts, known or learned(in_force), in_force)


def steadiness(in_force, *, person_id=None, formula="") -> Steadiness:
    """The control chart of the newest measured coats, of one person or formula or of all, oldest first."""
    known = learned(in_force)
    which = ({"coat__event__by": person_id} if person_id else {}) | ({"coat__formula": formula} if formula else {})
    taken = sorted(_measured(_CHARTED, **which), key=lambda t: t.event.at)
    coats = [(_facts_of(t, in_force), t.eom_um) for t in taken]
    chart = control_chart.individuals(coat_thickness.steady(coats, known)) if coats else None
    newest = chart.signals[::-1][:_TOLD] if chart else ()
    off = [_off(signal, taken, coats, known) for signal in newest]
    return Steadiness(chart, taken, off)


def _off(signal, taken, coats, known) -> Off:
    """What a coat had that those before it had not."""
    facts = coats[signal.at][0]
    others = [f for k, (f, _) in enumerate(coats) if k != signal.at][-_USUAL:]
    # The chart has taken formula and mesh out already: the others count as if they had been coated so.
    alike = [
        replace(f, formula=facts.formula, fabric_um=facts.fabric_um, solids=facts.solids, mesh=facts.mesh)
        for f in others
    ]
    return Off(taken[signal.at], signal.words, coat_thickness.what_moved(facts, alike, known))
