"""Times of combinations nobody has tested, as records: what the shop's tests teach, and which test would teach most."""

from dataclasses import asdict, dataclass
from datetime import timedelta

from django.utils import timezone

from frimble.coatings import thickness
from frimble.coatings.actions import current_coat
from frimble.coatings.models import Coat
from frimble.core.coating import parse_formula
from frimble.core.conclusion import Conclusion, OutOfRange
from frimble.core.exposure import chart, chartlearning, steptest
from frimble.core.exposure.chartlearning import CellFacts
from frimble.exposures import calibration, lamps
from frimble.exposures.models import ChartEntry, Exposure

_LOOKED_BACK_DAYS = 365
_MOST_UNTESTED = 30
_LEARNED_FROM = 300
# An end of which only the best estimate was stored lies within this factor.
_END_WITHIN = 1.12


@dataclass(frozen=True)
class Untested:
    """A combination in use without a calibrated time."""

    words: str
    facts: CellFacts
    time: Conclusion
    found: chartlearning.Predicted


def facts_of(mesh, formula: str, emulsion, lamp, film, in_force, *, age=0.0, eom_known=None) -> CellFacts:
    """What an exposure of this combination rests on, as of now."""
    fabric = mesh.geometry(in_force).fabric_thickness_um
    try:
        eom = thickness.expected(mesh, parse_formula(formula, in_force), emulsion, in_force, known=eom_known).value
    except OutOfRange:
        eom = in_force["coat.eom_share"] * fabric
    density = film.density("uv") or film.density("visible")
    return CellFacts(
        fabric + eom, mesh.colour == mesh.Colour.YELLOW, density.dmin if density else in_force["film.usual_clear"],
        emulsion.name, lamp.name, None if lamp.is_sun else lamp.distance_mm, lamps.hours_at(lamp), min(1.0, age),
    )  # fmt: skip


def as_stored(test, in_force) -> dict:
    """The facts of a test's combination at the time it is accepted."""
    age = test.batch.age(test.planned_at, in_force).value
    return asdict(facts_of(test.mesh, test.formula, test.emulsion, test.lamp, test.film, in_force, age=age))


def learned(in_force) -> chartlearning.Learned:
    """What every accepted step test of the shop teaches."""
    entries = ChartEntry.objects.exclude(facts=None).order_by("-accepted_at")[:_LEARNED_FROM]
    return chartlearning.learn([_tested(e) for e in entries], in_force)


def _tested(entry: ChartEntry) -> chartlearning.Tested:
    around = lambda s: (s / _END_WITHIN, s * _END_WITHIN)  # noqa: E731
    cured = (entry.cured_low_s, entry.cured_high_s) if entry.cured_low_s else around(entry.low_s)
    closes = (entry.closes_low_s, entry.closes_high_s) if entry.closes_low_s else None
    return chartlearning.Tested(entry.cell_facts, cured, closes)


def for_screen(screen, lamp, film, in_force, known=None):
    """(conclusion, prediction) for exposing this screen's coat; (None, None) without a coat."""
    coat = current_coat(screen)
    if coat is None:
        return None, None
    age = coat.batch.age(timezone.now(), in_force).value
    facts = facts_of(screen.mesh, coat.formula, coat.batch.emulsion, lamp, film, in_force, age=age)
    known = known or learned(in_force)
    return chartlearning.predict(facts, known), known.prediction(facts)


def suggest_test(screen, lamp, film, in_force) -> steptest.Suggestion | None:
    """Where the steps of a test on this screen would tell most; None without a coat, lamp or film."""
    if not (lamp and film):
        return None
    _, found = for_screen(screen, lamp, film, in_force)
    return steptest.suggest(found.cured_s, found.closes_s, in_force) if found else None


def trial_against(screen, lamp, film):
    """(nearest calibrated cell, what differs in words) of a test on this screen; (None, []) without a cell or coat."""
    coat = current_coat(screen)
    if coat is None or not (lamp and film):
        return None, []
    wanted = chart.Conditions(str(screen.mesh), coat.formula, coat.batch.emulsion.name, lamp.name, film.name)
    return chart.nearest(wanted, [e.as_core() for e in calibration.entries_in_force()])


def untested(in_force, known=None):
    """(combinations in use without a calibrated time, index of the one whose test would teach most or None)."""
    known = known or learned(in_force)
    since = timezone.now() - timedelta(days=_LOOKED_BACK_DAYS)
    coats = Coat.objects.filter(event__at__gte=since, event__replaced_by__isnull=True).select_related(
        "event__meshing__mesh", "batch__emulsion"
    )
    works = {(c.event.meshing.mesh, c.formula, c.batch.emulsion) for c in coats.order_by("-event__at")[:_LEARNED_FROM]}
    lights = (
        Exposure.objects.filter(event__at__gte=since).select_related("lamp", "film").order_by("-pk")[:_LEARNED_FROM]
    )
    lights = {(e.lamp, e.film) for e in lights}
    tested = {e.conditions for e in calibration.entries_in_force()}
    eom_known = thickness.learned(in_force)
    found = []
    for mesh, formula, emulsion in sorted(works, key=str):
        for lamp, film in sorted(lights, key=str):
            if chart.Conditions(str(mesh), formula, emulsion.name, lamp.name, film.name) in tested or lamp.is_sun:
                continue
            facts = facts_of(mesh, formula, emulsion, lamp, film, in_force, eom_known=eom_known)
            words = f"{mesh}, {formula}, {emulsion}, {lamp}, {film}"
            found.append(Untested(words, facts, chartlearning.predict(facts, known), known.prediction(facts)))
            if len(found) == _MOST_UNTESTED:
                break
    return found, chartlearning.teaches_most([u.facts for u in found], known)


def current_facts(entry: ChartEntry, screen, in_force) -> CellFacts:
    """What an exposure of a calibrated cell rests on now, on this screen's coat."""
    coat = current_coat(screen)
    age = coat.batch.age(timezone.now(), in_force).value
    return facts_of(entry.mesh, entry.formula, entry.emulsion, entry.lamp, entry.film, in_force, age=age)
