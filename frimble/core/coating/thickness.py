"""Emulsion over mesh: predicted before coating from mesh, formula, edge and solids, and learned from the thickness gauge.

ln EOM is linear in the logarithms of strokes, fabric, solids, coater fill and stroke speed, in the share of round-edge
strokes, in scraping strokes, in layers dried between and in the batch's age; each mesh and each person has a part of its
own. The prior is common practice, the shop's own gauge readings take over.
"""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from statistics import fmean

import numpy as np

from frimble.core.coating.formula import CoatFormula
from frimble.core.conclusions import Conclusion, InvalidInput, Settings, require_between, require_positive
from frimble.core.statistics import learning
from frimble.core.statistics.normal import Z_90
from frimble.core.verdicts import Thickness

# An ordinary coat, about which the prior is written down: one and one on 43-80 with the usual solids.
_STROKES, _FABRIC_UM, _SOLIDS, _FILL, _STROKE_S = 2, 128.0, 0.4, 0.5, 8.0


@dataclass(frozen=True)
class CoatConditions:
    """What a coat's thickness rests on.

    Attributes:
        formula: as coated. fabric_um: thickness of the bare mesh. solids: of the emulsion, a fraction.
        fill: of the coater, a fraction; stroke_s: seconds of one stroke; None where nobody wrote them down.
        age: share of the batch's life that was used. mesh, person: what it was laid on, who laid it; empty when not known.
    """

    formula: CoatFormula
    fabric_um: float
    solids: float
    fill: float | None = None
    stroke_s: float | None = None
    age: float = 0.0
    mesh: str = ""
    person: str = ""


@dataclass(frozen=True)
class ThicknessModel:
    """What the shop's measured coats taught, and the meshes and people they were of."""

    belief: learning.Belief
    meshes: tuple[str, ...] = ()
    people: tuple[str, ...] = ()


@dataclass(frozen=True)
class ChangedFactor:
    """One thing that differs from the usual coat: its words and what it does to the thickness, as a factor."""

    words: str
    factor: float


@dataclass(frozen=True)
class ThicknessMeasurement:
    """What gauge readings say of a coat, µm: emulsion over mesh, its share of the fabric, and how far readings differ."""

    eom_um: float
    share: float
    spread_um: float
    readings: int
    verdict: Conclusion


def measure(coated_um: Sequence[float], bare_um: float, settings: Settings) -> ThicknessMeasurement:
    """Emulsion over mesh from readings of the coated screen and of the bare mesh, µm.

    Raises:
        InvalidInput: no reading, an absurd one, or a coated screen thinner than its mesh.
    """
    require_between(bare_um, 10, 2000, "The bare mesh, in µm,", "bare_um")
    if not len(coated_um):
        raise InvalidInput("Give at least one reading of the coated screen.", "coated")
    for value in coated_um:
        require_between(value, 10, 4000, "A reading, in µm,", "coated")
    mean = float(np.mean(coated_um))
    if mean <= bare_um:
        raise InvalidInput(
            f"Coated {mean:.0f} µm is thinner than the bare mesh of {bare_um:.0f} µm: was the gauge set to zero on the same "
            "plate, or the bare mesh measured elsewhere?",
            "coated",
        )
    spread = float(np.ptp(coated_um))
    eom = mean - bare_um
    return ThicknessMeasurement(eom, eom / bare_um, spread, len(coated_um), _judge(eom, bare_um, spread, settings))


def _judge(
    eom: float,
    fabric: float,
    spread: float,
    settings: Settings,
    low: float | None = None,
    high: float | None = None,
    rests: str = "measured here",
) -> Conclusion:
    """The band an emulsion over mesh falls in, with what it is good for."""
    share = eom / fabric
    thin, most, thick = settings["coat.thin_share"], settings["coat.ordinary_share"], settings["coat.thick_um"]
    measured = f"{eom:.0f} µm over a mesh of {fabric:.0f} µm, {share * 100:.0f} %"
    if share < thin:
        verdict, why = Thickness.THIN, "for fine halftone; edges may saw on a coarse mesh"
    elif eom >= thick:
        verdict, why = Thickness.THICK, "for opaque white; dries and exposes long"
    elif share <= most:
        verdict, why = Thickness.ORDINARY, "for everyday work"
    else:
        verdict, why = Thickness.HEAVY, "more than everyday work wants"
    uneven = f" Readings differ by {spread:.0f} µm: uneven." if spread > settings["coat.even_within_um"] else ""
    return Conclusion(eom, "µm", verdict, f"{measured}: {why}.{uneven}", rests, low=low, high=high)


# Each measured thing a coat differs by: prior mean and sd of its slope, and how a difference is said.
_SLOPES: tuple[tuple[str, float, float], ...] = (
    ("strokes", 0.8, 0.3), ("round", 0.0, 0.25), ("layers", 0.0, 0.2), ("scraping", -0.5, 0.3), ("solids", 1.0, 0.4),
    ("fabric", 1.0, 0.3), ("fill", 0.15, 0.15), ("speed", 0.0, 0.15), ("age", 0.1, 0.15),
)  # fmt: skip
_MESH_SD, _PERSON_SD = 0.12, 0.12


def prior(settings: Settings, meshes: Sequence[str] = (), people: Sequence[str] = ()) -> learning.Belief:
    """What common practice says of a coat nobody has measured here; one column more for a mesh and a hand not yet met."""
    expected = {"round": settings["coat.round_edge"], "layers": settings["coat.layer_adds"]}
    means = [math.log(settings["coat.eom_share"] * _FABRIC_UM)]
    means += [expected.get(name, mean) for name, mean, _ in _SLOPES]
    others = len(meshes) + len(people) + 2
    sds = [0.4, *(sd for _, _, sd in _SLOPES)]
    sds += [_MESH_SD] * (len(meshes) + 1) + [_PERSON_SD] * (len(people) + 1)
    return learning.prior(means + [0.0] * others, sds, settings["coat.eom_scatter"])


def _slopes(facts: CoatConditions) -> list[float]:
    """The measured things, in the order of `_SLOPES`, as differences from an ordinary coat."""
    require_positive(facts.fabric_um, "The fabric, in µm,", "fabric_um")
    require_between(facts.solids, 0.05, 0.95, "Solids, as a fraction,", "solids")
    strokes = [s for layer in facts.formula.layers for s in layer.strokes]
    laying = [s for s in strokes if not s.scraping]
    laid = sum(s.strokes for s in laying)
    if not laid:
        raise InvalidInput("Scraping strokes alone lay nothing on.", "formula")
    round_share = sum(s.strokes for s in laying if s.round_edge) / laid
    scrapings = sum(s.strokes for s in strokes if s.scraping)
    if facts.fill is not None:
        require_between(facts.fill, 0.05, 1, "The coater's fill, as a share,", "fill")
    if facts.stroke_s is not None:
        require_between(facts.stroke_s, 0.3, 120, "A stroke, in s,", "stroke_s")
    return [
        math.log(laid / _STROKES),
        round_share,
        len(facts.formula.layers) - 1,
        scrapings,
        math.log(facts.solids / _SOLIDS),
        math.log(facts.fabric_um / _FABRIC_UM),
        math.log((facts.fill or _FILL) / _FILL),
        math.log((facts.stroke_s or _STROKE_S) / _STROKE_S),
        facts.age,
    ]


def _row(facts: CoatConditions, meshes: Sequence[str] = (), people: Sequence[str] = ()) -> list[float]:
    return [1.0, *_slopes(facts), *_one_of(facts.mesh, meshes), *_one_of(facts.person, people)]


def _one_of(name: str, names: Sequence[str]) -> list[float]:
    """A column for each name, and a last one for whoever is not among them."""
    return [float(name == known) for known in names] + [float(name not in names)]


def ordinary_um(facts: CoatConditions, settings: Settings) -> float:
    """Emulsion over mesh by common practice alone, µm; 0 where only scraping strokes are drawn."""
    if all(s.scraping for layer in facts.formula.layers for s in layer.strokes):
        return 0.0
    return math.exp(float(np.dot(_row(facts), prior(settings).mean)))


def learn(measured: Iterable[tuple[CoatConditions, float]], settings: Settings) -> ThicknessModel:
    """The prior after coats whose emulsion over mesh was measured, µm."""
    known = list(measured)
    meshes = tuple(sorted({facts.mesh for facts, _ in known} - {""}))
    people = tuple(sorted({facts.person for facts, _ in known} - {""}))
    before = prior(settings, meshes, people)
    rows = np.array([_row(facts, meshes, people) for facts, _ in known]).reshape(-1, len(before.mean))
    seen = np.array([eom for _, eom in known], float)
    # A gauge is off by micrometres: of a thin coat that is a large share, and its reading teaches less.
    weight = before.noise_sd / np.hypot(before.noise_sd, _gauge_share(seen, settings))
    taught = learning.learn(before, rows * weight[:, None], np.log(seen) * weight)
    return ThicknessModel(taught, meshes, people)


def _gauge_share(eom_um: np.ndarray, settings: Settings) -> np.ndarray:
    """What a gauge may be off, as a share of an emulsion over mesh: the difference of two means of readings."""
    return np.asarray(settings["coat.gauge_um"] / np.maximum(eom_um, settings["coat.gauge_um"]))


def predict(facts: CoatConditions, learned: ThicknessModel, settings: Settings) -> Conclusion:
    """Emulsion over mesh that a gauge will show, µm, with its 90 % interval, and how far to trust it.

    Raises:
        InvalidInput: the formula lays nothing on, or numbers that cannot be.
    """
    predicted = learning.predict(learned.belief, _row(facts, learned.meshes, learned.people))
    value, low, high = predicted.exp()
    gauge = Z_90 * float(_gauge_share(np.array([value]), settings)[0])
    low, high = (value * math.exp(s * math.hypot(math.log(end / value), gauge)) for s, end in ((-1, low), (1, high)))
    rests = f"{learned.belief.records} coats measured here, {predicted.prior_share * 100:.0f} % common practice"
    return _judge(value, facts.fabric_um, 0.0, settings, low, high, rests)


def what_moved(facts: CoatConditions, usual: Sequence[CoatConditions], learned: ThicknessModel) -> list[ChangedFactor]:
    """What of a coat differs from the usual ones, the strongest first, by what the shop's coats taught of each.

    Args:
        usual: coats of the same kind to hold it against, at least one.
    """
    here, *others = (np.array(_row(f, learned.meshes, learned.people)) for f in (facts, *usual))
    parts = learned.belief.mean * (here - np.mean(others, axis=0))
    names = [name for name, _, _ in _SLOPES]
    factors = {name: math.exp(parts[1 + k]) for k, name in enumerate(names)}
    first = 1 + len(names)
    factors["mesh"] = math.exp(parts[first : first + len(learned.meshes) + 1].sum())
    factors["person"] = math.exp(parts[first + len(learned.meshes) + 1 :].sum())
    moved = [
        ChangedFactor(_said(name, facts, usual), factor)
        for name, factor in factors.items()
        if abs(factor - 1) >= _WORTH_SAYING
    ]
    return sorted(moved, key=lambda m: -abs(math.log(m.factor)))


_WORTH_SAYING = 0.05


def _said(name: str, facts: CoatConditions, usual: Sequence[CoatConditions]) -> str:
    """How one difference is said, with the number now and the usual one."""
    fill, usual_fill = facts.fill or _FILL, fmean(f.fill or _FILL for f in usual)
    speed, usual_speed = facts.stroke_s or _STROKE_S, fmean(f.stroke_s or _STROKE_S for f in usual)
    return {
        "fill": f"coater {fill * 100:.0f} % full against {usual_fill * 100:.0f} %",
        "speed": f"{speed:.0f} s a stroke against {usual_speed:.0f} s",
        "age": f"batch at {facts.age * 100:.0f} % of its life against {fmean(f.age for f in usual) * 100:.0f} %",
        "round": "the round edge instead of the sharp one, or the other way",
        "solids": f"solids {facts.solids * 100:.0f} % against {fmean(f.solids for f in usual) * 100:.0f} %",
        "fabric": f"mesh {facts.fabric_um:.0f} µm thick against {fmean(f.fabric_um for f in usual):.0f} µm",
        "strokes": "another number of strokes",
        "layers": "another number of layers",
        "scraping": "scraping strokes",
        "mesh": f"{facts.mesh or 'this mesh'} itself",
        "person": f"{facts.person or 'this person'}'s hand",
    }[name]


def steady(coats: Sequence[tuple[CoatConditions, float]], learned: ThicknessModel) -> list[float]:
    """Each coat's emulsion over mesh as a share of what its formula and mesh lead to expect, whoever laid it and however.

    That is what a control chart can hold side by side: hand, fill, speed and age are left in.
    """
    expected = []
    for facts, _ in coats:
        plain = replace(facts, fill=None, stroke_s=None, age=0.0, person="")
        row = _row(plain, learned.meshes, learned.people)
        row[-1] = 0.0
        expected.append(math.exp(float(np.dot(row, learned.belief.mean))))
    return [eom / usual for (_, eom), usual in zip(coats, expected, strict=True)]
