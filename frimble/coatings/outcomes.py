"""What coats came to: by formula, by person, and what is coated and waiting."""

from dataclasses import dataclass
from datetime import timedelta

from django.db.models import Avg, Count, Q
from django.utils import timezone

from frimble.coatings.models import Coat, CoatDefect, CoatRecipe
from frimble.core import coatdefects, lifecycle, wetcoat
from frimble.people.models import Person
from frimble.screens.models import LifeEvent, Screen

_OVER_DAYS = 365
_STEADY = 0.9


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


def formulas_on(mesh, ink="") -> list[FormulaHistory]:
    """Formulas for a mesh and an ink: those named for it first, then by how often they were laid on it."""
    found = {r.formula: FormulaHistory(r.formula, r, _suits(r, mesh, ink)) for r in CoatRecipe.objects.all()}
    laid = _laid().filter(event__meshing__mesh=mesh)
    faulty = Count("event__cycle", distinct=True, filter=Q(defects__isnull=False))
    told = laid.values("formula").annotate(
        coats=Count("event__cycle", distinct=True), faulty=faulty, eom=Avg("thicknesses__eom_um")
    )
    failures = _failures(mesh)
    for row in told.order_by():
        history = found.setdefault(row["formula"], FormulaHistory(row["formula"], None, False))
        history.coats, history.faulty, history.eom_um = row["coats"], row["faulty"], row["eom"]
        history.failed = failures.get(row["formula"], 0)
    return sorted(found.values(), key=lambda h: (not h.suits, -h.coats, h.formula))


def _laid():
    since = timezone.now() - timedelta(days=_OVER_DAYS)
    return Coat.objects.filter(event__replaced_by__isnull=True, event__at__gte=since)


def _suits(recipe, mesh, ink) -> bool:
    on_mesh = recipe.coarsest_per_cm <= mesh.count_per_cm <= recipe.finest_per_cm
    return on_mesh and (not ink or not recipe.inks or ink in recipe.inks)


def _failures(mesh) -> dict[str, int]:
    """Stencils that did not pass inspection, by the formula of their coat."""
    failed = LifeEvent.objects.standing().filter(meshing__mesh=mesh, kind="inspect", facts__passed=False)
    cycles = set(failed.values_list("cycle", flat=True))
    told: dict[str, int] = {}
    for _, formula in set(_laid().filter(event__cycle__in=cycles).values_list("event__cycle", "formula")):
        told[formula] = told.get(formula, 0) + 1
    return told


def by_person(in_force) -> list[coatdefects.Tally]:
    """What each person's coats of the last year showed, and what to practise."""
    laid = dict(_laid().order_by().values_list("event__by").annotate(Count("pk")))
    faults: dict[int, list[tuple[int, str]]] = {}
    for by, coat, kind in CoatDefect.objects.filter(coat__in=_laid()).values_list("coat__event__by", "coat", "kind"):
        faults.setdefault(by, []).append((coat, kind))
    people = Person.objects.in_bulk(laid)
    tallies = [
        coatdefects.tally(people[pk].first_name, coats, faults.get(pk, ()), in_force) for pk, coats in laid.items()
    ]
    return sorted(tallies, key=lambda t: -t.coats)


def coated_stock(in_force, now) -> list[dict]:
    """Every coated screen, oldest first, with its age and use-by date; "late" when its coat has kept too long."""
    keeps = timedelta(days=in_force["coat.keeps_days"])
    coated = Screen.objects.for_lists().filter(state=lifecycle.State.COATED).order_by("coated_at")
    return [
        {"screen": s, "days": (now - s.coated_at).days, "use_by": s.coated_at + keeps, "late": now > s.coated_at + keeps,
         "wet": s.life.wet(now)}
        for s in coated
    ]  # fmt: skip


def fills_by_person() -> list[tuple[str, list[tuple[int, float]], bool]]:
    """(person, (coats, share) at each fill in the order of the fills, whether it drifts) over the last year.

    A hand drifts when it keeps to no one fill: less than nine in ten at its usual one.
    """
    laid = _laid().exclude(fill="").order_by().values_list("event__by__first_name", "fill").annotate(Count("pk"))
    counts: dict[str, dict[str, int]] = {}
    for who, fill, number in laid:
        counts.setdefault(who, {})[fill] = number
    rows = []
    for who, by_fill in sorted(counts.items()):
        total = sum(by_fill.values())
        cells = [(by_fill.get(fill, 0), by_fill.get(fill, 0) / total) for fill in wetcoat.FILLS]
        rows.append((who, cells, max(share for _, share in cells) < _STEADY))
    return rows
