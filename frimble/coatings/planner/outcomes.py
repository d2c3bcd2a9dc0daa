"""What coats came to: by formula, by person, and what is coated and waiting."""

from collections import Counter
from dataclasses import dataclass
from datetime import timedelta
from statistics import fmean
from typing import NamedTuple

from django.utils import timezone

from frimble.coatings.models import Coat, CoatDefect, CoatRecipe, CoatThickness
from frimble.core import lifecycle
from frimble.core.coating import defects as coat_defects
from frimble.core.coating import wet as wet_coat
from frimble.people.cached import CachedValue
from frimble.screens.models import Screen, ScreenEvent

_OVER_DAYS = 365
# Of a works that coats more in a year, the newest tell.
_MOST_COATS = 2000
CACHED = CachedValue("coats-of-the-year", 600)
_STEADY = 0.9


class LaidCoat(NamedTuple):
    """A coat that was laid, as plain values: a page reads some thousands of them."""

    pk: int
    formula: str
    fill: str
    cycle_id: int
    mesh_id: int
    by_id: int
    first_name: str


_LAID_COLUMNS = (
    "pk", "formula", "fill", "event__cycle_id", "event__installation__mesh_id", "event__by_id", "event__by__first_name",
)  # fmt: skip


class Year(NamedTuple):
    """The coats of the last year and what became of them.

    Attributes:
        faults: (coat, kind) of every fault seen. eom_um: (coat, emulsion over mesh) of every measurement.
        failed_cycles: of which a stencil did not pass inspection.
    """

    laid: list[LaidCoat]
    faults: list[tuple[int, str]]
    eom_um: list[tuple[int, float]]
    failed_cycles: set[int]


def last_year() -> Year:
    """The year up to now, shared between pages; kept until another coat is laid, measured, found at fault or inspected."""
    return CACHED.get(_read_year)


def _read_year() -> Year:
    # By their numbers: asked for by date, the database goes through every record of every screen.
    newest = list(Coat.objects.order_by("-pk").values_list("pk", flat=True)[:_MOST_COATS])
    since = timezone.now() - timedelta(days=_OVER_DAYS)
    held = Coat.objects.filter(pk__in=newest, event__replaced_by__isnull=True, event__at__gte=since)
    laid = [LaidCoat(*row) for row in held.values_list(*_LAID_COLUMNS)]
    coats, cycles = [c.pk for c in laid], {c.cycle_id for c in laid}
    measured = CoatThickness.objects.filter(coat__in=coats, event__replaced_by__isnull=True)
    inspected = ScreenEvent.objects.standing().filter(cycle__in=cycles, kind="inspect")
    return Year(
        laid,
        list(CoatDefect.objects.filter(coat__in=coats).values_list("coat_id", "kind")),
        list(measured.values_list("coat_id", "eom_um")),
        {cycle for cycle, facts in inspected.values_list("cycle_id", "facts") if facts.get("passed") is False},
    )


@dataclass
class FormulaHistory:
    """What a coat formula came to on a mesh over the last year."""

    formula: str
    recipe: CoatRecipe | None
    suits: bool
    coats: int = 0
    faulty: int = 0
    failed: int = 0
    eom_um: float | None = None

    @property
    def good(self) -> float | None:
        return 1 - self.failed / self.coats if self.coats else None


def formulas_on(mesh, ink="", recipes=None) -> list[FormulaHistory]:
    """Formulas for a mesh and an ink: those named for it first, then by how often they were laid on it.

    Args:
        recipes: the shop's own, where they were read already.
    """
    year, recipes = last_year(), CoatRecipe.objects.all() if recipes is None else recipes
    histories = {r.formula: FormulaHistory(r.formula, r, _suits(r, mesh, ink)) for r in recipes}
    on_mesh: dict[str, list[LaidCoat]] = {}
    for coat in year.laid:
        if coat.mesh_id == mesh.pk:
            on_mesh.setdefault(coat.formula, []).append(coat)
    for formula, coats in on_mesh.items():
        _tell(histories.setdefault(formula, FormulaHistory(formula, None, False)), coats, year)
    return sorted(histories.values(), key=lambda h: (not h.suits, -h.coats, h.formula))


def _tell(history: FormulaHistory, coats: list[LaidCoat], year: Year) -> None:
    """Write what these coats came to; the layers of one coat are one."""
    cycle_of = {c.pk: c.cycle_id for c in coats}
    cycles = set(cycle_of.values())
    measured = [eom for pk, eom in year.eom_um if pk in cycle_of]
    history.coats = len(cycles)
    history.faulty = len({cycle_of[pk] for pk, _ in year.faults if pk in cycle_of})
    history.failed = len(cycles & year.failed_cycles)
    history.eom_um = fmean(measured) if measured else None


def _suits(recipe, mesh, ink) -> bool:
    on_mesh = recipe.coarsest_per_cm <= mesh.count_per_cm <= recipe.finest_per_cm
    return on_mesh and (not ink or not recipe.inks or ink in recipe.inks)


def by_person(settings) -> list[coat_defects.Tally]:
    """What each person's coats of the last year showed, and what to practise."""
    year = last_year()
    laid = Counter(c.by_id for c in year.laid)
    names, by = {c.by_id: c.first_name for c in year.laid}, {c.pk: c.by_id for c in year.laid}
    faults: dict[int, list[tuple[int, str]]] = {}
    for coat, kind in year.faults:
        faults.setdefault(by[coat], []).append((coat, kind))
    tallies = [coat_defects.tally(names[pk], coats, faults.get(pk, ()), settings) for pk, coats in laid.items()]
    return sorted(tallies, key=lambda t: -t.coats)


def coated_stock(settings, now, most: int) -> list[dict]:
    """The oldest coated screens, at most so many, with age and use-by date; "late" when a coat has kept too long."""
    keeps = timedelta(days=settings["coat.keeps_days"])
    coated = Screen.objects.for_lists().filter(state=lifecycle.State.COATED).order_by("coated_at")[:most]
    return [
        {
            "screen": s,
            "days": (now - s.coated_at).days,
            "use_by": s.coated_at + keeps,
            "late": now > s.coated_at + keeps,
            "wet": s.life.wet(now),
        }
        for s in coated
    ]


def fills_by_person() -> list[tuple[str, list[tuple[int, float]], bool]]:
    """(person, (coats, share) at each fill in the order of the fills, whether it drifts) over the last year.

    A hand drifts when it keeps to no one fill: less than nine in ten at its usual one.
    """
    counts: dict[str, Counter] = {}
    for coat in last_year().laid:
        if coat.fill:
            counts.setdefault(coat.first_name, Counter())[coat.fill] += 1
    rows = []
    for who, by_fill in sorted(counts.items()):
        cells = [(by_fill[fill], by_fill[fill] / by_fill.total()) for fill in wet_coat.FILLS]
        rows.append((who, cells, max(share for _, share in cells) < _STEADY))
    return rows
