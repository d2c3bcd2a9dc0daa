"""What full cure of a combination rests on, term by term: a name, what common practice believes of it, and its measure.

Lamps and emulsions have a part of their own, one together (what an emulsion takes of a lamp's bands), and a depth of their
own, since the light that reaches the back of a coat is what its bands leave. What was never met shares one more of each.
"""

import itertools
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial

from frimble.core.conclusions import Settings

# An ordinary stencil and time, about which common practice is written down.
STENCIL_UM, FABRIC_UM, TIME_S, DISTANCE_MM = 147.0, 128.0, 40.0, 500.0
# A lamp has faded most by then; what burns on for years does not lose as much again each time.
_FADES_FOR_H = 3000.0
THICKNESS, THREAD, LAMP, EMULSION = "thickness of mesh and coat", "colour of the thread", "lamp", "emulsion"


@dataclass(frozen=True)
class CellFacts:
    """What an exposure rests on.

    Attributes:
        stencil_um: mesh and coat together. yellow: dyed mesh. dmin: clear film to the lamp's light.
        emulsion, lamp: which. age: share of the batch's life that was used. distance_mm: of a lamp that is small against
            it, which alone falls off with its square; None for tubes, panels and the sun.
        hours: the lamp had burned. usual_s: what such lamps usually take. fades: how fast such lamps do, of the usual.
        fabric_um: of the mesh alone: threads pass light on, so that it counts for less than as much emulsion over it.
    """

    stencil_um: float
    yellow: bool
    dmin: float
    emulsion: str
    lamp: str
    distance_mm: float | None
    hours: float = 0.0
    age: float = 0.0
    usual_s: float = TIME_S
    fades: float = 1.0
    fabric_um: float = FABRIC_UM


@dataclass(frozen=True)
class Term:
    """One coefficient: what it is of, what common practice believes of it, and its measure on a combination."""

    name: str
    mean: float
    sd: float
    measure: Callable[[CellFacts], float]


def cure_terms(lamps: Sequence[str], emulsions: Sequence[str], settings: Settings) -> tuple[Term, ...]:
    """Of ln of full cure, s."""
    return (
        Term("", math.log(TIME_S), 1.0, _one),
        Term(THICKNESS, 1.0, 0.4, _deeper(settings)),
        Term(THREAD, math.log(settings["exposure.yellow_factor"]), 0.2, _yellow),
        Term("clear film", 1.0, 0.15, _clear_film),
        Term("distance of the lamp", 1.0, 0.15, _away),
        Term("hours of the lamp", settings["lamp.fading"], 0.1, _burned),
        Term("age of the emulsion", 0.1, 0.1, _age),
        Term(LAMP, 1.0, 0.15, _kind),
        *(Term(LAMP, 0.0, 0.6, under) for under in _each("lamp", lamps)),
        *(Term(EMULSION, 0.0, 0.4, of) for of in _each("emulsion", emulsions)),
        *_together(lamps, emulsions, settings),
    )


def _together(lamps: Sequence[str], emulsions: Sequence[str], settings: Settings) -> list[Term]:
    """What lamp and emulsion do together, how deep each emulsion lets light reach, and each lamp through yellow thread."""
    of_each, under_each = _each("emulsion", emulsions), _each("lamp", lamps)
    pairs = itertools.product(under_each, of_each)
    return [
        *(Term(EMULSION, 0.0, 0.12, partial(_product, pair)) for pair in pairs),
        *(Term(THREAD, 0.0, 0.1, partial(_product, (under, _yellow))) for under in under_each),
        *(Term(THICKNESS, 0.0, 0.2, partial(_product, (of, _deeper(settings)))) for of in of_each),
    ]


def room_terms(lamps: Sequence[str], settings: Settings) -> tuple[Term, ...]:
    """Of ln of how many times longer than full cure the finest detail lasts."""
    return (
        Term("", math.log(1.9), 0.35, _one),
        Term(THICKNESS, -0.2, 0.3, _deeper(settings)),
        Term(THREAD, 0.1, 0.15, _yellow),
        *(Term(LAMP, 0.0, 0.25, under) for under in _each("lamp", lamps)),
    )


def measures(terms: Sequence[Term], facts: CellFacts) -> list[float]:
    """A combination in the order of the terms."""
    return [term.measure(facts) for term in terms]


# What a term measures. All are plain functions, so that what was learned can be kept between pages.


def _one(facts: CellFacts) -> float:
    return 1.0


def _deeper(settings: Settings) -> Callable[[CellFacts], float]:
    """How much deeper light must reach than through an ordinary stencil, in depths it falls to 1/e in."""
    return partial(_depth, float(settings["coat.penetration_um"]), float(settings["exposure.fabric_share"]))


def _depth(reach_um: float, fabric_share: float, facts: CellFacts) -> float:
    spared = (1 - fabric_share) * (facts.fabric_um - FABRIC_UM)
    return (facts.stencil_um - STENCIL_UM - spared) / reach_um


def _yellow(facts: CellFacts) -> float:
    return float(facts.yellow)


def _clear_film(facts: CellFacts) -> float:
    return math.log(10) * facts.dmin


def _away(facts: CellFacts) -> float:
    return 2 * math.log((facts.distance_mm or DISTANCE_MM) / DISTANCE_MM)


def _burned(facts: CellFacts) -> float:
    return min(facts.hours * facts.fades, _FADES_FOR_H) / 1000


def _age(facts: CellFacts) -> float:
    return facts.age


def _kind(facts: CellFacts) -> float:
    return math.log(facts.usual_s / TIME_S)


def _each(what: str, known: Sequence[str]) -> list[Callable[[CellFacts], float]]:
    """1 for combinations with each known lamp or emulsion; the last for every one that was never met."""
    return [*(partial(_is, what, name) for name in known), partial(_is_none, what, tuple(known))]


def _is(what: str, name: str, facts: CellFacts) -> float:
    return float(getattr(facts, what) == name)


def _is_none(what: str, known: tuple[str, ...], facts: CellFacts) -> float:
    return float(getattr(facts, what) not in known)


def _product(of: Sequence[Callable[[CellFacts], float]], facts: CellFacts) -> float:
    return math.prod(measure(facts) for measure in of)
