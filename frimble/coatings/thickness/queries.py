"""Emulsion over mesh: what the gauge's readings teach about the next coat, and their control chart."""

from dataclasses import dataclass, replace
from datetime import datetime
from typing import NamedTuple

from frimble.coatings.models import Batch, CoatThickness
from frimble.core.coating import thickness as coat_thickness
from frimble.core.coating.formula import parse_formula
from frimble.core.coating.wet import FILLS
from frimble.core.conclusions import Conclusion
from frimble.core.statistics import control as control_chart
from frimble.people.cached import CachedValue
from frimble.screens.models import MeshType

_LEARNED_FROM, _CHARTED = 300, 60


CACHED = CachedValue("coat-thickness", 600)


_USUAL = 12


_TOLD = 6


class MeasuredCoat(NamedTuple):
    """A coat and what the gauge read of it, as plain values: some hundreds are learned from."""

    eom_um: float
    bare_um: float
    at: datetime
    frame: str
    formula: str
    fill: str
    stroke_s: float | None
    laid_at: datetime
    first_name: str
    username: str
    batch: Batch
    mesh: MeshType

    @property
    def by(self) -> str:
        return self.first_name or self.username


_COLUMNS = (
    "eom_um", "bare_um", "event__at", "event__installation__frame__code", "coat__formula", "coat__fill",
    "coat__stroke_s", "coat__event__at", "coat__event__by__first_name", "coat__event__by__username",
)  # fmt: skip


@dataclass(frozen=True)
class UnusualCoat:
    """A measured coat that chance does not explain: which rule it broke, and what of it was not as usual."""

    taken: MeasuredCoat
    words: str
    moved: list[coat_thickness.ChangedFactor]


@dataclass(frozen=True)
class Steadiness:
    """A control chart of coats: shares of what was expected, the coats behind them, and the newest of those that are off."""

    chart: control_chart.Chart | None
    taken: list[MeasuredCoat]
    off: list[UnusualCoat]


def _measured(most=_LEARNED_FROM, **which) -> list[MeasuredCoat]:
    """The newest measured coats, newest first."""
    taken = CoatThickness.objects.filter(event__replaced_by__isnull=True, **which).order_by("-pk")
    rows = list(taken.values_list(*_COLUMNS, "coat__batch", "event__installation__mesh")[:most])
    batches = Batch.objects.select_related("emulsion").prefetch_related("records").in_bulk({row[-2] for row in rows})
    meshes = MeshType.objects.in_bulk({row[-1] for row in rows})
    return [MeasuredCoat(*row[:-2], batches[row[-2]], meshes[row[-1]]) for row in rows]


def learned(settings) -> coat_thickness.ThicknessModel:
    """What the shop's own measured coats teach, the newest few hundred; kept until another is measured."""
    return CACHED.get(
        lambda: coat_thickness.learn(((_facts_of(t, settings), t.eom_um) for t in _measured()), settings), settings
    )


def _facts_of(taken: MeasuredCoat, settings) -> coat_thickness.CoatConditions:
    """What the thickness of a coat that was laid rests on."""
    return coat_thickness.CoatConditions(
        parse_formula(taken.formula, settings),
        taken.bare_um,
        taken.batch.emulsion.solids,
        FILLS.get(taken.fill),
        taken.stroke_s,
        min(1.0, taken.batch.age(taken.laid_at, settings).value),
        str(taken.mesh),
        taken.first_name,
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
    taken = sorted(_measured(_CHARTED, **which), key=lambda t: t.at)
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
