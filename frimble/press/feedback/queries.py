"""What is known of a screen whose prints are spoken of, and what the press said of formulas."""

from collections import defaultdict
from dataclasses import dataclass

from frimble.coatings.coats.queries import current_coat
from frimble.coatings.models import Coat, CoatThickness
from frimble.coatings.thickness import queries as thickness_queries
from frimble.core.coating.formula import parse_formula
from frimble.core.conclusions import InvalidInput
from frimble.core.press.feedback import Opacity, ScreenPrinted
from frimble.core.tension.limits import poor_below
from frimble.press.feedback.models import PressFeedback
from frimble.screens.models import TensionMeasurement

_SHOWN, _COUNTED = 20, 500


def printed_screen(screen, settings) -> ScreenPrinted:
    """Tension, coat and limits of a screen, for what the press says to be held against."""
    coat = current_coat(screen)
    measured = CoatThickness.objects.filter(coat=coat).order_by("-pk").first() if coat else None
    return ScreenPrinted(
        tension=screen.tension_n_per_cm,
        tension_before=_tension_before(screen),
        slack_below=poor_below(screen.frame.material, settings),
        eom_um=measured.eom_um if measured else None,
        eom_aim_um=_usual_um(screen, coat, settings) if measured else None,
    )


def _tension_before(screen) -> float | None:
    taken = TensionMeasurement.objects.filter(event__installation=screen.installation_id, event__replaced_by=None)
    two = list(taken.order_by("-event__at", "-pk").values_list("event__facts", flat=True)[:2])
    return two[1]["mean"] if len(two) == 2 else None


def _usual_um(screen, coat: Coat, settings) -> float | None:
    try:
        formula = parse_formula(coat.formula, settings)
        usual = thickness_queries.expected(screen.mesh, formula, coat.batch.emulsion, settings, fill=coat.fill)
    except InvalidInput:
        return None
    return usual.value


def of_run(screen) -> list[PressFeedback]:
    """What the press said of this stencil, newest first."""
    said = PressFeedback.objects.filter(installation=screen.installation_id, cycle__closed_at=None)
    return list(said.select_related("by", "visit__job")[:_SHOWN])


@dataclass(frozen=True)
class FormulaPrints:
    """How prints through a formula on a mesh covered: opaque ones of all, and passes they took."""

    formula: str
    prints: int
    opaque: int
    passes: tuple[int, ...]

    @property
    def passes_words(self) -> str:
        if not self.passes:
            return "not written down"
        least, most = min(self.passes), max(self.passes)
        return f"{least}" if least == most else f"{least} to {most}"


def prints_on(mesh) -> list[FormulaPrints]:
    """What the press said of each formula on a mesh, the most printed first; the newest of each run counts."""
    said = PressFeedback.objects.filter(installation__mesh=mesh).exclude(opacity="")
    newest: dict[object, PressFeedback] = {}
    for feedback in said[:_COUNTED]:
        newest.setdefault(feedback.visit_id or f"pk {feedback.pk}", feedback)
    cycles = {f.cycle_id for f in newest.values()}
    formulas = dict(Coat.objects.filter(event__cycle_id__in=cycles).values_list("event__cycle_id", "formula"))
    by_formula = defaultdict(list)
    for feedback in newest.values():
        if feedback.cycle_id in formulas:
            by_formula[formulas[feedback.cycle_id]].append(feedback)
    rows = [
        FormulaPrints(
            formula,
            len(prints),
            sum(p.opacity == Opacity.OPAQUE for p in prints),
            tuple(p.passes for p in prints if p.passes and p.opacity == Opacity.OPAQUE),
        )
        for formula, prints in by_formula.items()
    ]
    return sorted(rows, key=lambda r: (-r.prints, r.formula))
