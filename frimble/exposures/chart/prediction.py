"""Times of combinations nobody has tested, as records: what the shop's tests teach, and which test would teach most."""

import itertools
from collections import Counter
from dataclasses import asdict, astuple, dataclass, replace
from datetime import timedelta

from django.utils import timezone

from frimble.coatings.coats.queries import current_coat
from frimble.coatings.models import Coat
from frimble.coatings.thickness import queries as thickness_queries
from frimble.core.coating.formula import parse_formula
from frimble.core.conclusions import Conclusion, InvalidInput
from frimble.core.exposure.chart import learning as exposure_learning
from frimble.core.exposure.chart import times as chart_times
from frimble.core.exposure.chart.learning import CellFacts
from frimble.core.exposure.light.kinds import kind_of
from frimble.core.exposure.steptest import plan as steptest
from frimble.exposures.chart import queries as chart_queries
from frimble.exposures.chart import staleness
from frimble.exposures.models import ChartEntry, Exposure
from frimble.exposures.room import LightRoom
from frimble.people.cached import CachedValue

_LOOKED_BACK_DAYS = 365
_MOST_UNTESTED = 30
_KEPT_S = 600
_UNTESTED, _TESTS = CachedValue("untested-times", _KEPT_S), CachedValue("exposure-learned", _KEPT_S)
_LEARNED_FROM = 300
_LAMP = chart_times.CONDITION_WORDS["lamp"]
# An end of which only the best estimate was stored lies within this factor.
_END_WITHIN = 1.12


@dataclass(frozen=True)
class UntestedCombination:
    """A combination in use without a calibrated time."""

    conditions: chart_times.Conditions
    facts: CellFacts
    time: Conclusion
    found: exposure_learning.WindowPrediction

    @property
    def words(self) -> str:
        return ", ".join(astuple(self.conditions))


def facts_of(mesh, formula: str, emulsion, lamp, film_process, room: LightRoom, *, age=0.0) -> CellFacts:
    """What an exposure of this combination rests on, as of now."""
    settings, kind = room.settings, kind_of(lamp.kind)
    fabric = mesh.geometry(settings).fabric_thickness_um
    try:
        eom = thickness_queries.expected(mesh, parse_formula(formula, settings), emulsion, settings).value
    except InvalidInput:
        eom = settings["coat.eom_share"] * fabric
    return CellFacts(
        fabric + eom,
        mesh.colour == mesh.Colour.YELLOW,
        room.dmin(film_process),
        emulsion.name,
        lamp.name,
        _falls_off_from(lamp),
        room.hours(lamp) or 0.0,
        min(1.0, age),
        kind.usual_s,
        kind.fades,
        fabric,
    )


def _falls_off_from(lamp) -> float | None:
    """The distance that light falls off with the square of: that of a small lamp alone."""
    return lamp.distance_mm if lamp.geometry == "point" else None


def as_stored(test, settings) -> dict:
    """The facts of a test's combination at the time it is accepted."""
    age = test.batch.age(test.planned_at, settings).value
    return asdict(
        facts_of(test.mesh, test.formula, test.emulsion, test.lamp, test.film_process, LightRoom(settings), age=age)
    )


def learned(settings) -> exposure_learning.ExposureModel:
    """What every accepted step test of the shop teaches; kept for some minutes, learned anew with every accepted test."""
    return _TESTS.get(lambda: _learned(settings), settings)


def _learned(settings) -> exposure_learning.ExposureModel:
    # One that was superseded, or never bracketed, teaches nothing.
    entries = ChartEntry.objects.in_force().filter(bracketed=True).exclude(facts=None).select_related("lamp", "mesh")
    entries = entries.order_by("-accepted_at")[:_LEARNED_FROM]
    return exposure_learning.learn([_tested(e, settings) for e in entries], settings)


def _tested(entry: ChartEntry, settings) -> exposure_learning.CalibratedTest:
    around = lambda s: (s / _END_WITHIN, s * _END_WITHIN)  # noqa: E731
    cured = (entry.cured_low_s, entry.cured_high_s) if entry.cured_low_s else around(entry.low_s)
    closes = (entry.closes_low_s, entry.closes_high_s) if entry.closes_low_s else None
    # What such lamps take, how they fade, and whether distance counts, is known of the lamp as it stands now.
    kind, fabric = kind_of(entry.lamp.kind), entry.mesh.geometry(settings).fabric_thickness_um
    facts = replace(entry.cell_facts, usual_s=kind.usual_s, fades=kind.fades, fabric_um=fabric)
    if entry.lamp.geometry != "point":
        facts = replace(facts, distance_mm=None)
    return exposure_learning.CalibratedTest(facts, cured, closes)


def far_off(test, time_s: float, settings) -> str:
    """Why this test's time should be looked at once more before the chart learns from it; empty when it need not."""
    age = test.batch.age(test.planned_at, settings).value
    room = LightRoom(settings)
    facts = facts_of(test.mesh, test.formula, test.emulsion, test.lamp, test.film_process, room, age=age)
    return exposure_learning.far_off(time_s, facts, learned(settings), settings)


def for_screen(screen, lamp, film_process, room: LightRoom, coat=None):
    """(conclusion, prediction) for exposing this screen's coat, which may be read already; (None, None) without one."""
    coat, settings = coat or current_coat(screen), room.settings
    if coat is None:
        return None, None
    age = coat.batch.age(timezone.now(), settings).value
    facts = facts_of(screen.mesh, coat.formula, coat.batch.emulsion, lamp, film_process, room, age=age)
    known = learned(settings)
    return exposure_learning.told(facts, known, settings), known.prediction(facts)


def suggest_test(screen, lamp, film_process, settings) -> steptest.Suggestion | None:
    """Where the steps of a test on this screen would tell most; None without a coat, lamp or film."""
    if not (lamp and film_process):
        return None
    _, window = for_screen(screen, lamp, film_process, LightRoom(settings))
    return steptest.suggest(window.cured_s, window.closes_s, settings) if window else None


def nearest_calibrated(screen, lamp, film_process, room: LightRoom):
    """(nearest calibrated cell, what differs in words) of a test on this screen; (None, []) without a cell or coat.

    A lamp that was moved or changed since differs from the one that was tested.
    """
    coat = current_coat(screen)
    if coat is None or not (lamp and film_process):
        return None, []
    wanted = chart_times.Conditions(
        str(screen.mesh), coat.formula, coat.batch.emulsion.name, lamp.name, film_process.name
    )
    entries = chart_queries.entries_in_force()
    cell, differ = chart_times.nearest(wanted, [e.as_core() for e in entries])
    if cell is None or _LAMP in differ:
        return cell, differ
    entry = next(e for e in entries if e.conditions == cell.conditions)
    changed = staleness.lamp_changed(entry.lamp, entry.accepted_at, entry.lamp_distance_mm, room)
    return cell, [*differ, f"{_LAMP}, changed since,"] if changed else differ


def untested(room: LightRoom, entries):
    """(combinations in use without a calibrated time, the one whose test would teach most or None).

    What is predicted is kept for some minutes and told anew with every accepted test.
    """
    combinations, teaches = _UNTESTED.get(lambda: _untested(room, entries), room.settings)
    tested = {e.conditions for e in entries}
    return [u for u in combinations if u.conditions not in tested], teaches


def invalidate() -> None:
    """Predict anew: a test was accepted."""
    for kept in (_UNTESTED, _TESTS):
        kept.invalidate()


def _untested(room: LightRoom, entries):
    known, tested = learned(room.settings), {e.conditions for e in entries}
    combinations = []
    for (mesh, formula, emulsion), (lamp, film_process) in itertools.product(*_in_use()):
        conditions = chart_times.Conditions(str(mesh), formula, emulsion.name, lamp.name, film_process.name)
        if conditions in tested or lamp.is_sun:
            continue
        facts = facts_of(mesh, formula, emulsion, lamp, film_process, room)
        combinations.append(
            UntestedCombination(
                conditions, facts, exposure_learning.told(facts, known, room.settings), known.prediction(facts)
            )
        )
        if len(combinations) == _MOST_UNTESTED:
            break
    teaches = exposure_learning.teaches_most([u.facts for u in combinations], known)
    return combinations, combinations[teaches].conditions if combinations else None


def _in_use():
    """What was coated, and the lamps and films that were used, within the last year, the most usual first."""
    since = timezone.now() - timedelta(days=_LOOKED_BACK_DAYS)
    coats = Coat.objects.filter(event__at__gte=since, event__replaced_by__isnull=True).select_related(
        "event__installation__mesh", "batch__emulsion"
    )
    works = Counter(
        (c.event.installation.mesh, c.formula, c.batch.emulsion) for c in coats.order_by("-pk")[:_LEARNED_FROM]
    )
    given = (
        Exposure.objects.filter(event__at__gte=since)
        .select_related("lamp", "film_process")
        .order_by("-pk")[:_LEARNED_FROM]
    )
    lights = Counter((e.lamp, e.film_process) for e in given)
    return [k for k, _ in works.most_common()], [k for k, _ in lights.most_common()]
