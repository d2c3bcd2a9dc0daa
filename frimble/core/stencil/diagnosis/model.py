"""Causes ranked with their probabilities, and what to ask next."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from math import exp, log

from frimble.core.stencil.diagnosis.causes import CAUSES
from frimble.core.stencil.diagnosis.codes import Cause, Symptom
from frimble.core.stencil.diagnosis.evidence import EVIDENCE
from frimble.core.stencil.diagnosis.weighing import Facts, Weigher

# How often a symptom is noticed that has nothing to do with the main cause. From memory: a tap in thirty.
_BY_CHANCE = 0.035
# How much of "not tapped" counts as "not seen": people tap what struck them.
_NOTICED = 0.7
# Share of cases whose cause is none of these, beside a cause of weight 1.
_NONE_WEIGHT = 0.5
# What speaks for a cause outweighs that a second way to it was not taken (too long and too hard a wash, light and heat).
_OTHER_WAY = 0.3
# At this probability there is nothing left to ask.
SURE = 0.85
_MOST_ASKED = 8
# A record with this reach settles the matter as far as one record can.
_FULL_REACH = 7.0


@dataclass(frozen=True)
class Reason:
    """One thing that speaks for a cause, or against it.

    Attributes:
        facts: names of the records; empty where a symptom speaks. words: what they say.
        weight: ln of how much likelier the cause makes it; below 0 speaks against.
    """

    facts: tuple[str, ...]
    words: str
    weight: float
    symptom: Symptom | None = None


@dataclass(frozen=True)
class RankedCause:
    """A cause with the probability that it is the main one, and its reasons, the weightiest first."""

    cause: Cause
    probability: float
    reasons: tuple[Reason, ...]

    @property
    def because(self) -> tuple[Reason, ...]:
        return tuple(r for r in self.reasons if r.weight > 0)

    @property
    def against(self) -> tuple[Reason, ...]:
        return tuple(r for r in self.reasons if r.weight < 0)


@dataclass(frozen=True)
class Diagnosis:
    """All causes, most probable first, the probability that it is none of them, and the facts to ask, most telling first."""

    causes: tuple[RankedCause, ...]
    none_of_these: float
    ask: tuple[str, ...]


def diagnose(symptoms: Iterable[Symptom], facts: Facts, confirmed: Mapping[Cause, int] | None = None) -> Diagnosis:
    """Rank the causes of what is seen.

    Args:
        symptoms: what is seen; what is not named was perhaps not looked for.
        facts: as in `codes.FACTS`, any may be missing. Ratios 0..1, times as their names say.
        confirmed: how often each cause was confirmed in this shop.
    """
    seen = frozenset(symptoms)
    reasons = {cause: _reasons(cause, seen, facts) for cause in Cause}
    scores = {c: log(_weight(c, confirmed or {})) + _score(c, seen, reasons[c]) for c in Cause}
    top = max(scores.values())
    shares = {c: exp(s - top) for c, s in scores.items()}
    none = _NONE_WEIGHT * exp(-top)
    total = sum(shares.values()) + none
    probabilities = {c: share / total for c, share in shares.items()}
    ranked = sorted(
        (RankedCause(c, probabilities[c], _in_order(reasons[c])) for c in Cause), key=lambda r: -r.probability
    )
    sure = ranked[0].probability >= SURE
    return Diagnosis(tuple(ranked), none / total, () if sure else tuple(_ask(probabilities, facts)))


def _weight(cause: Cause, confirmed: Mapping[Cause, int]) -> float:
    """How common a cause is: the table's weight, which counts as one case, and the shop's own."""
    mean = sum(card.weight for card in CAUSES.values()) / len(CAUSES)
    own, all_own = confirmed.get(cause, 0), sum(confirmed.values())
    usual = CAUSES[cause].weight / mean
    # A Dirichlet prior worth two cases a cause.
    worth = 2 * len(CAUSES)
    return (worth * usual + len(CAUSES) * own) / (worth + all_own)


def _reasons(cause: Cause, seen: frozenset[Symptom], facts: Facts) -> list[Reason]:
    shown = CAUSES[cause].seen
    reasons = [
        Reason((), "", log(max(shown.get(s, 0.0), _BY_CHANCE) / _BY_CHANCE), s)
        for s in Symptom
        if s in seen and s in shown
    ]
    for weigher in _best_known(EVIDENCE[cause], facts):
        weight = weigher.weight(facts)
        words = weigher.speaks_for if weight > 0 else weigher.speaks_against
        reasons.append(Reason(weigher.facts, words, weight))
    return reasons


def _best_known(weighers: Sequence[Weigher], facts: Facts) -> list[Weigher]:
    """Those whose facts are known, without those whose facts are all among another's that stands before them."""
    chosen: list[Weigher] = []
    for weigher in weighers:
        if weigher.known(facts) and not any(set(weigher.facts) < set(other.facts) for other in chosen):
            chosen.append(weigher)
    return chosen


def _score(cause: Cause, seen: frozenset[Symptom], reasons: Sequence[Reason]) -> float:
    """ln of how much likelier the cause makes all of it than chance does."""
    shown = CAUSES[cause].seen
    unseen = sum(log((1 - _NOTICED * p) / (1 - _NOTICED * _BY_CHANCE)) for s, p in shown.items() if s not in seen)
    symptoms = sum(r.weight for r in reasons if r.symptom)
    records = [r.weight for r in reasons if not r.symptom]
    speaks_for = sum(w for w in records if w > 0)
    speaks_against = sum(w for w in records if w < 0)
    # A weak word for it does not set aside a strong one against it.
    share = max(_OTHER_WAY, 1 - speaks_for / 2) if speaks_for else 1.0
    return symptoms + unseen + speaks_for + share * speaks_against


def _in_order(reasons: Iterable[Reason]) -> tuple[Reason, ...]:
    return tuple(sorted((r for r in reasons if abs(r.weight) > 0.05), key=lambda r: -abs(r.weight)))


def _ask(probabilities: Mapping[Cause, float], facts: Facts) -> list[str]:
    """Names of facts not given, by how much their answer can be expected to tell the causes apart."""
    groups: dict[tuple[str, ...], dict[Cause, float]] = {}
    for cause, weighers in EVIDENCE.items():
        for weigher in weighers:
            missing = tuple(name for name in weigher.facts if name not in facts)
            if missing:
                answers = groups.setdefault(missing, {})
                answers[cause] = max(answers.get(cause, 0.0), min(weigher.reach / _FULL_REACH, 1.0))
    gains = {missing: _gain(probabilities, answers) / len(missing) ** 0.25 for missing, answers in groups.items()}
    names: list[str] = []
    for missing in sorted(gains, key=lambda m: -gains[m]):
        names += [name for name in missing if name not in names]
    return names[:_MOST_ASKED]


def _gain(probabilities: Mapping[Cause, float], answers: Mapping[Cause, float]) -> float:
    """Bits that are expected of a record whose abnormal answer, for each cause in `answers`, comes with that cause.

    The answers are one for each of these causes and "as it should be".
    """
    mass = sum(probabilities.values())
    outcomes: list[Mapping[Cause, float]] = []
    for answered in answers:
        outcomes.append({c: _chance(c, answered, answers) for c in probabilities})
    outcomes.append({c: 1 - sum(o[c] for o in outcomes) for c in probabilities})
    gain = 0.0
    for outcome in outcomes:
        marginal = sum(probabilities[c] / mass * outcome[c] for c in probabilities)
        for c, p in probabilities.items():
            if outcome[c] > 0 and marginal > 0:
                gain += p / mass * outcome[c] * log(outcome[c] / marginal, 2)
    return gain


def _chance(cause: Cause, answered: Cause, answers: Mapping[Cause, float]) -> float:
    """How probable the answer that points at `answered` is under a cause: likely under its own, seldom else."""
    by_chance = 0.12 / len(answers)
    return by_chance + (0.85 - by_chance) * answers[answered] if cause == answered else by_chance
