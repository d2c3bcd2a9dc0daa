"""A combination as it is and with one thing moved: window, stencil, drying, emulsion, side by side."""

from dataclasses import dataclass, replace
from math import exp, sqrt

from frimble.coatings.drying import learning as drying_learning
from frimble.coatings.drying import queries as drying_queries
from frimble.coatings.runs.queries import coated_size_mm
from frimble.core.coating.formula import parse_formula
from frimble.core.coating.wet import screen_ml
from frimble.core.conclusions import InvalidInput, require_between
from frimble.core.exposure.chart.learning import CellFacts
from frimble.core.stencil.proof.changed import Window, moved_constants, moved_window
from frimble.core.stencil.proof.constants import ProofConstants, usual_spread_um
from frimble.exposures.chart import prediction
from frimble.exposures.room import LightRoom
from frimble.screens.models import Frame
from frimble.stencils.proofs.known import Combination, Known, known_of

_WHOLE_LIFE = 100.0
_LEAST_MM, _MOST_MM = 50, 5000


@dataclass(frozen=True)
class Side:
    """One side: its combination and window, what a proof rests on, drying of all layers, emulsion of a screen and its money.

    `time_s` is the one given here on the side as it is, the middle of the window on the other.
    """

    words: str
    combination: Combination
    window: Window
    known: ProofConstants
    time_s: float
    opening_um: float
    dry_min: float | None
    emulsion_ml: float
    money: float | None


def as_it_is(of: Combination, settings) -> Side:
    """The combination as it is today.

    Raises:
        InvalidInput, RuleViolation: as `known_of`.
    """
    known = known_of(of, settings)
    return _side(
        of, Window(known.constants.full_s, _closes(of, known, settings)), known.constants, known.time_s, settings
    )


def _closes(of: Combination, known: Known, settings) -> float:
    """When detail closes: as tested here, else as much later than the cure as is predicted."""
    if known.closes_s is not None:
        return known.closes_s
    return known.constants.full_s.value * exp(
        prediction.learned(settings).prediction(_facts(of, settings)).headroom.value
    )


def _facts(of: Combination, settings) -> CellFacts:
    room = LightRoom(settings)
    return prediction.facts_of(of.mesh, of.formula, of.emulsion, of.lamp, of.film_process, room)


def moved(today: Side, change: str, value, settings) -> Side:
    """The same with one thing moved.

    Raises:
        InvalidInput: a value that cannot be. RuleViolation: nothing is known of it.
    """
    of, facts = today.combination, _facts(today.combination, settings)
    model = prediction.learned(settings)
    if change in ("mesh", "formula"):
        other = replace(of, **{change: value})
        window = moved_window(today.window, facts, _facts(other, settings), model)
        known = known_of(other, settings).constants
        return _side(other, window, moved_constants(known, window), window.middle_s, settings)
    if change == "density":
        require_between(value, today.known.dmin + 0.05, 7, "The black", "dmax")
        words = f"{today.words}, black {value:.2f}"
        return replace(today, words=words, known=replace(today.known, dmax=value))
    changed, spread, words = _changed(change, value, facts, today, settings)
    window = moved_window(today.window, facts, changed, model)
    known = moved_constants(today.known, window, spread)
    return replace(today, words=f"{today.words}, {words}", window=window, known=known, time_s=window.middle_s)


def _changed(change: str, value, facts: CellFacts, today: Side, settings) -> tuple[CellFacts, float, str]:
    """The facts after the change, how far light spreads then, µm, and the change in words."""
    spread = today.known.spread_um
    if change == "thread":
        # Light spreads as much farther or less far as the house's figures for the two differ.
        ratio = usual_spread_um(not facts.yellow, settings) / usual_spread_um(facts.yellow, settings)
        words = "yellow thread" if not facts.yellow else "white thread"
        return replace(facts, yellow=not facts.yellow), spread * ratio, words
    if change == "distance":
        require_between(value, _LEAST_MM, _MOST_MM, "The distance, in mm,", "distance_mm")
        if facts.distance_mm is None:
            raise InvalidInput(
                "The light of this lamp does not fall off with the square of its distance.", "distance_mm"
            )
        # A lamp farther off is a smaller source: light spreads less under the film.
        closer = sqrt(facts.distance_mm / value)
        return replace(facts, distance_mm=value), spread * closer, f"lamp at {value:.0f} mm"
    require_between(value, 0, _WHOLE_LIFE, "The life used, in %,", "age")
    return replace(facts, age=value / _WHOLE_LIFE), spread, f"batch {value:.0f} % used"


def _side(of: Combination, window: Window, known: ProofConstants, time_s: float, settings) -> Side:
    formula, geometry = parse_formula(of.formula, settings), of.mesh.geometry(settings)
    frame = Frame.objects.order_by("outer_width_mm").first()
    size = coated_size_mm(frame, settings) if frame else (400.0, 500.0)
    ml = screen_ml(formula, geometry, *size, settings)
    price = of.emulsion.cost_l
    return Side(
        f"{of.mesh}, {of.formula}",
        of,
        window,
        known,
        time_s,
        geometry.opening_um,
        _dry_min(of, formula, settings),
        ml,
        None if price is None else ml / 1000 * price,
    )


def _dry_min(of: Combination, formula, settings) -> float | None:
    air = drying_queries.air_now(settings)
    layers = [
        drying_learning.expected(of.mesh, formula, layer, of.emulsion, air, settings).value
        for layer in range(1, len(formula.layers) + 1)
    ]
    return None if None in layers else sum(layers)
