"""A coating run before and while it goes: who may be coated, in which order, what to pour."""

from dataclasses import dataclass

from django.db.models import Case, When

from frimble.coatings.coaters import queries as coater_queries
from frimble.coatings.coats import queries as coat_queries
from frimble.coatings.coats import stops as coat_stops
from frimble.coatings.drying import learning as drying_learning
from frimble.coatings.drying import queries as drying_queries
from frimble.coatings.models import BatchRecord, CoatingRun, RunScreen
from frimble.coatings.planner import outcomes
from frimble.core.coating import plan as coat_plan
from frimble.core.coating import wet as wet_coat
from frimble.core.coating.formula import parse_formula
from frimble.core.conclusions import InvalidInput
from frimble.core.lifecycle import State
from frimble.screens.models import Screen

_PLAIN = "P1 S1"


# More are not coated in one go.
_MOST_SCREENS = 24


@dataclass(frozen=True)
class Candidate:
    """A screen that could be coated now: the formula it would get, and which coater fits it best."""

    screen: Screen
    formula: str
    coater: object


def candidates(settings, now, recipes) -> list[Candidate]:
    """Screens degreased and dry, and those whose next layer may be laid, those begun first, by mesh."""
    begun_first = Case(When(state=State.PART_COATED, then=0), default=1)
    dry = Screen.objects.for_lists().exclude(wet_until__gt=now).filter(state__in=(State.PART_COATED, State.DEGREASED))
    ready = list(dry.order_by(begun_first, "since")[:_MOST_SCREENS])
    begun, there = [s for s in ready if s.state == State.PART_COATED], coater_queries.standing(settings)
    coats = drying_queries.coats_on([s.installation_id for s in begun])
    usual = {mesh.pk: usual_formula(mesh, recipes) for mesh in {s.mesh for s in ready if s not in begun}}
    fitting = []
    for screen in sorted(ready, key=lambda s: (s.mesh.count_per_cm, s.code)):
        coat = coats.get(screen.installation_id)
        formula = coat.formula if coat else usual.get(screen.installation.mesh_id, _PLAIN)
        fitting.append(Candidate(screen, formula, coater_queries.best(screen.frame, settings, among=there)))
    return fitting


def usual_formula(mesh, recipes) -> str:
    """The formula most laid on a mesh, else one named for it, else one and one."""
    known = outcomes.formulas_on(mesh, recipes=recipes)
    most = max(known, key=lambda h: (h.coats, h.suits), default=None)
    return most.formula if most else _PLAIN


@dataclass(frozen=True)
class RunPlan:
    """A run before it starts: the turns in order, and what to pour."""

    turns: list[coat_plan.Turn]
    need: wet_coat.RunNeed
    cannot: list[tuple[Screen, str]]


def plan(chosen: list[tuple[Screen, str]], batch, coater, fill, settings, ink="") -> RunPlan:
    """Order the screens, leave out those that may not be coated so, and work out the emulsion.

    Raises:
        InvalidInput: a formula that does not parse, or no screen that can be coated.
    """
    turns, cannot = [], []
    air, known = drying_queries.air_now(settings), drying_learning.belief(settings)
    there = [s for s in coater_queries.standing(settings) if s.coater == coater]
    for screen, text in chosen:
        formula, layer = _parsed(screen, text, settings), coat_queries.next_layer(screen)
        (_, fit), *_ = coater_queries.fits(screen.frame, settings, among=there)
        if not fit.fits:
            cannot.append((screen, fit.reason))
            continue
        laid = {"coater": coater, "fill": fill, "emulsion": batch.emulsion, "ink": ink}
        if layer == 1 and (stop := next(coat_stops.stops(screen, settings, **laid), None)):
            cannot.append((screen, stop.reason))
            continue
        dry = drying_learning.expected(screen.mesh, formula, layer, batch.emulsion, air, settings, known, fill)
        ml = _layer_ml(screen, formula, layer, settings, fill)
        turns.append(coat_plan.Turn(screen, formula, layer, dry.value or 0.0, ml))
    if not turns:
        raise InvalidInput(
            "; ".join(f"{s.code}: {why}" for s, why in cannot) or "Choose at least one screen.", "coater"
        )
    return RunPlan(
        coat_plan.run_order(turns), wet_coat.run_need([t.ml for t in turns], coater.length_mm, fill, settings), cannot
    )


def _parsed(screen, text, settings):
    try:
        return parse_formula(text, settings)
    except InvalidInput as error:
        raise InvalidInput(f"{screen.code}: {error}", f"formula_{screen.pk}") from None


def coated_size_mm(frame, settings) -> tuple[float, float]:
    """The part of a frame that is coated: inside the rails, off the joint."""
    wide, high = frame.inside_mm(settings)
    clear = 2 * settings["coater.clear_mm"]
    return wide - clear, high - clear


def _layer_ml(screen, formula, layer, settings, fill) -> float:
    wide, high = coated_size_mm(screen.frame, settings)
    wet = wet_coat.wet_um(formula, layer, screen.mesh.geometry(settings), settings, wet_coat.FILLS.get(fill))
    return wet * wide * high / 1e6


def next_turn(run: CoatingRun) -> RunScreen | None:
    """The screen that is up next, or None when all have had their turn."""
    waiting = run.screens.filter(coat=None, left_out="")
    return waiting.select_related("screen__frame", "screen__installation__mesh", "screen__slot").first()


def poured_l(run: CoatingRun) -> float:
    return sum(r.litres for r in run.batch_records.filter(kind=BatchRecord.Kind.POURED))


def used_l(run: CoatingRun) -> float:
    """Poured less returned."""
    return poured_l(run) - sum(r.litres for r in run.batch_records.filter(kind=BatchRecord.Kind.RETURNED))


def refill_ml(run: CoatingRun, settings) -> float:
    """What the screens coated so far took out of the coater: so much brings it back to its mark."""
    laid = run.screens.filter(coat__isnull=False).select_related("screen__frame", "screen__installation__mesh", "coat")
    return sum(_layer_ml(t.screen, parse_formula(t.formula, settings), t.coat.layer, settings, run.fill) for t in laid)
