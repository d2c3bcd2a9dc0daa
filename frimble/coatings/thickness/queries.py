"""Emulsion over mesh: what the gauge's readings teach about the next coat, and their control chart."""

from dataclasses import dataclass, replace

from frimble.coatings.models import Coat, CoatThickness
from frimble.core.coating import thickness as coat_thickness
from frimble.core.coating.formula import parse_formula
from frimble.core.coating.wet import FILLS
from frimble.core.conclusions import Conclusion
from frimble.core.statistics import control as control_chart
from frimble.people.cached import CachedValue

_LEARNED_FROM, _CHARTED = 300, 60


CACHED = CachedValue("coat-thickness", 600)


_USUAL = 12


_TOLD = 6


@dataclass(frozen=True)
class UnusualCoat:
    """A measured coat that chance does not explain: which rule it broke, and what of it was not as usual."""

    taken: CoatThickness
    words: str
    moved: list[coat_thickness.ChangedFactor]


@dataclass(frozen=True)
class Steadiness:
    """A control chart of coats: shares of what was expected, the coats behind them, and the newest of those that are off."""

    chart: control_chart.Chart | None
    taken: list[CoatThickness]
    off: list[UnusualCoat]


def _measured(most=_LEARNED_FROM, **which) -> list[CoatThickness]:
    """The newest measured coats, newest first."""
    taken = CoatThickness.objects.filter(event__replaced_by__isnull=True, **which).select_related(
        "coat__batch__emulsion",
        "coat__event__by",
        "coat__coater",
        "event__installation__mesh",
        "event__installation__frame",
    )
    return list(taken.prefetch_related("coat__batch__records").order_by("-pk")[:most])


def learned(settings) -> coat_thickness.ThicknessModel:
    """What the shop's own measured coats teach, the newest few hundred; kept until another is measured."""
    return CACHED.get(
        lambda: coat_thickness.learn(((_facts_of(t, settings), t.eom_um) for t in _measured()), settings), settings
    )


def _facts_of(taken: CoatThickness, settings) -> coat_thickness.CoatConditions:
    facts = facts_of(taken.coat, taken.event.installation.mesh, settings)
    return replace(facts, fabric_um=taken.bare_um)


def facts_of(coat: Coat, mesh, settings) -> coat_thickness.CoatConditions:
    """What the thickness of a coat that was laid rests on."""
    return coat_thickness.CoatConditions(
        parse_formula(coat.formula, settings),
        mesh.geometry(settings).fabric_thickness_um,
        coat.batch.emulsion.solids,
        FILLS.get(coat.fill),
        coat.stroke_s,
        min(1.0, coat.batch.age(coat.event.at, settings).value),
        str(mesh),
        coat.event.by.first_name,
    )


def expected(mesh, formula, emulsion, settings, *, fill="", person=None, known=None) -> Conclusion:
    """Emulsion over mesh to expect on a mesh from a formula and an emulsion, laid by somebody with a coater so full."""
    fabric = mesh.geometry(settings).fabric_thickness_um
    facts = coat_thickness.CoatConditions(
        formula, fabric, emulsion.solids, FILLS.get(fill), mesh=str(mesh), person=person.first_name if person else ""
    )
    return coat_thickness.predict(facts, known or learned(settings), settings)


def steadiness(settings, *, person_id=None, formula="") -> Steadiness:
    """The control chart of the newest measured coats, of one person or formula or of all, oldest first."""
    known = learned(settings)
    which = ({"coat__event__by": person_id} if person_id else {}) | ({"coat__formula": formula} if formula else {})
    taken = sorted(_measured(_CHARTED, **which), key=lambda t: t.event.at)
    coats = [(_facts_of(t, settings), t.eom_um) for t in taken]
    chart = control_chart.individuals(coat_thickness.steady(coats, known)) if coats else None
    newest = chart.signals[::-1][:_TOLD] if chart else ()
    off = [_off(signal, taken, coats, known) for signal in newest]
    return Steadiness(chart, taken, off)


def _off(signal, taken, coats, known) -> UnusualCoat:
    """What a coat had that those before it had not."""
    facts = coats[signal.at][0]
    others = [f for k, (f, _) in enumerate(coats) if k != signal.at][-_USUAL:]
    # The chart has taken formula and mesh out already: the others count as if they had been coated so.
    alike = [
        replace(f, formula=facts.formula, fabric_um=facts.fabric_um, solids=facts.solids, mesh=facts.mesh)
        for f in others
    ]
    return UnusualCoat(taken[signal.at], signal.words, coat_thickness.what_moved(facts, alike, known))
