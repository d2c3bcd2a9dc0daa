"""What a diagnosis says: each reason with the record it rests on, and what to ask next."""

from collections.abc import Iterable
from typing import Any

from frimble.core.numbers import show_number
from frimble.core.stencil.diagnosis.codes import FACTS, Fact
from frimble.core.stencil.diagnosis.model import Diagnosis, Reason
from frimble.core.stencil.diagnosis.symptoms import SYMPTOMS
from frimble.core.stencil.diagnosis.weighing import Facts

# Under this a first cause is hardly more than a guess.
_GUESS = 0.4
# From here on one acts on it.
_LIKELY = 0.7


def shown_value(fact: Fact, value: Any) -> str:
    """A value with its unit, as a page shows it."""
    if fact.yes_no:
        return "yes" if value else "no"
    if fact.several:
        return ", ".join(value) or "none"
    if fact.words:
        return str(value)
    if fact.share:
        return f"{value:.0%}".replace("%", " %")
    return f"{show_number(value)} {fact.unit}".rstrip()


def on_page(reason: Reason, facts: Facts) -> str:
    """The reason as a sentence for a technician."""
    if reason.symptom:
        return f"Symptom: {SYMPTOMS[reason.symptom].label.lower()}."
    records = ", ".join(f"{FACTS[n].label.lower()} {shown_value(FACTS[n], facts[n])}" for n in reason.facts)
    sentence = f"{records}: {reason.words}." if reason.words else f"{records}."
    return sentence[0].upper() + sentence[1:]


def by_name(reason: Reason, facts: Facts) -> str:
    """The reason with the names and values that the case gave."""
    if reason.symptom:
        return f"seen: {reason.symptom}"
    records = ", ".join(f"{n} {shown_value(FACTS[n], facts[n])}" for n in reason.facts)
    return f"{records}: {reason.words}" if reason.words else records


def asked(names: Iterable[str]) -> str:
    """What would tell most, in words."""
    labels = [FACTS[n].label.lower() for n in names]
    return " and ".join([", ".join(labels[:-1]), labels[-1]] if len(labels) > 1 else labels)


def summary(diagnosis: Diagnosis) -> str:
    """How sure the first cause is, in one sentence."""
    first, second = diagnosis.causes[:2]
    share = f"{first.probability:.0%}".replace("%", " %")
    if first.probability >= _LIKELY:
        return f"Most likely, at {share}."
    if first.probability >= _GUESS:
        return f"Perhaps, at {share}; the next is at {second.probability:.0%}.".replace("%.", " %.")
    return "Nothing stands out yet: what is asked below would tell the causes apart."
