"""Emulsion over mesh: predicted before coating from mesh, formula, edge and solids, and learned from the thickness gauge.

ln EOM is linear in the logarithms of strokes, fabric and solids, in the share of round-edge strokes, in scraping strokes and
in layers dried between; the prior is common practice, the shop's own gauge readings take over.
"""

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from frimble.core import learning
from frimble.core.coating import CoatFormula
from frimble.core.conclusion import Conclusion, OutOfRange, require_between, require_positive

# An ordinary coat, about which the prior is written down: one and one on 43-80 with the usual solids.
_STROKES, _FABRIC_UM, _SOLIDS = 2, 128.0, 0.4


@dataclass(frozen=True)
class CoatFacts:
    """What a coat's thickness rests on: formula, fabric in µm, solids of the emulsion as a fraction."""

    formula: CoatFormula
    fabric_um: float
    solids: float


@dataclass(frozen=True)
class Measured:
    """What gauge readings say of a coat, µm: emulsion over mesh, its share of the fabric, and how far readings differ."""

    eom_um: float
    share: float
    spread_um: float
    readings: int
    verdict: Conclusion


def measure(coated_um: Sequence[float], bare_um: float, standards: Mapping) -> Measured:
    """Emulsion over mesh from readings of the coated screen and of the bare mesh, µm.

    Raises:
        OutOfRange: no reading, an absurd one, or a coated screen thinner than its mesh.
    """
    require_between(bare_um, 10, 2000, "The bare mesh, in µm,", "bare_um")
    if not len(coated_um):
        raise OutOfRange("Give at least one reading of the coated screen.", "coated")
    for value in coated_um:
        require_between(value, 10, 4000, "A reading, in µm,", "coated")
    mean = float(np.mean(coated_um))
    if mean <= bare_um:
        raise OutOfRange(
            f"Coated {mean:.0f} µm is thinner than the bare mesh of {bare_um:.0f} µm: was the gauge set to zero on the same "
            "plate, or the bare mesh measured elsewhere?",
            "coated",
        )
    spread = float(np.ptp(coated_um))
    eom = mean - bare_um
    return Measured(eom, eom / bare_um, spread, len(coated_um), _judge(eom, bare_um, spread, standards))


def _judge(eom: float, fabric: float, spread: float, standards: Mapping, low=None, high=None, rests="measured here"):
    """The band an emulsion over mesh falls in, with what it is good for."""
    share = eom / fabric
    thin, most, thick = standards["coat.thin_share"], standards["coat.ordinary_share"], standards["coat.thick_um"]
    told = f"{eom:.0f} µm over a mesh of {fabric:.0f} µm, {share * 100:.0f} %"
    if share < thin:
        verdict, why = "thin", "for fine halftone; edges may saw on a coarse mesh"
    elif eom >= thick:
        verdict, why = "thick", "for opaque white; dries and exposes long"
    elif share <= most:
        verdict, why = "ordinary", "for everyday work"
    else:
        verdict, why = "heavy", "more than everyday work wants"
    uneven = f" Readings differ by {spread:.0f} µm: uneven." if spread > standards["coat.even_within_um"] else ""
    return Conclusion(eom, "µm", verdict, f"{told}: {why}.{uneven}", rests, low=low, high=high)


def prior(standards: Mapping) -> learning.Belief:
    """What common practice says of a coat nobody has measured here."""
    ordinary = math.log(standards["coat.eom_share"] * _FABRIC_UM)
    return learning.prior(
        [ordinary, 0.8, standards["coat.round_edge"], standards["coat.layer_adds"], -0.5, 1.0, 1.0],
        [0.4, 0.3, 0.25, 0.2, 0.3, 0.4, 0.3],
        standards["coat.eom_scatter"],
    )


def _row(facts: CoatFacts) -> list[float]:
    require_positive(facts.fabric_um, "The fabric, in µm,", "fabric_um")
    require_between(facts.solids, 0.05, 0.95, "Solids, as a fraction,", "solids")
    strokes = [s for layer in facts.formula.layers for s in layer.strokes]
    laying = [s for s in strokes if not s.scraping]
    laid = sum(s.strokes for s in laying)
    if not laid:
        raise OutOfRange("Scraping strokes alone lay nothing on.", "formula")
    round_share = sum(s.strokes for s in laying if s.round_edge) / laid
    scrapings = sum(s.strokes for s in strokes if s.scraping)
    return [
        1.0, math.log(laid / _STROKES), round_share, len(facts.formula.layers) - 1, scrapings,
        math.log(facts.solids / _SOLIDS), math.log(facts.fabric_um / _FABRIC_UM),
    ]  # fmt: skip


def learn(measured: Iterable[tuple[CoatFacts, float]], standards: Mapping) -> learning.Belief:
    """The prior after coats whose emulsion over mesh was measured, µm."""
    known = list(measured)
    rows = np.array([_row(facts) for facts, _ in known]).reshape(-1, 7)
    return learning.learn(prior(standards), rows, np.log([eom for _, eom in known]))


def predict(facts: CoatFacts, belief: learning.Belief, standards: Mapping) -> Conclusion:
    """Emulsion over mesh to expect, µm, with its 90 % interval, and how far to trust it.

    Raises:
        OutOfRange: the formula lays nothing on, or numbers that cannot be.
    """
    told = learning.predict(belief, _row(facts))
    value, low, high = (math.exp(v) for v in (told.value, told.low, told.high))
    rests = f"{belief.records} coats measured here, {told.prior_share * 100:.0f} % common practice"
    return _judge(value, facts.fabric_um, 0.0, standards, low, high, rests)
