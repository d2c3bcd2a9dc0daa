"""A case as it is written down: symptoms and facts by name, checked."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from frimble.core.conclusions import InvalidInput
from frimble.core.stencil.diagnosis.codes import FACTS, Fact, Symptom


@dataclass(frozen=True)
class Case:
    """What is seen and known of a stencil.

    Attributes:
        symptoms: what is seen. facts: what is known, by name.
        ignored: names that are not known, or whose value none can have.
    """

    symptoms: tuple[Symptom, ...]
    facts: Mapping[str, Any]
    ignored: tuple[str, ...]


def read_case(written: object) -> Case:
    """A case from plain data: `{"symptoms": [..], "facts": {..}}`.

    Raises:
        InvalidInput: it has not this shape.
    """
    if not isinstance(written, Mapping):
        raise InvalidInput("A case is an object with symptoms and facts.")
    symptoms, facts = written.get("symptoms") or [], written.get("facts") or {}
    if not isinstance(symptoms, list):
        raise InvalidInput("The symptoms are a list of names.", "symptoms")
    if not isinstance(facts, Mapping):
        raise InvalidInput("The facts are an object of names and values.", "facts")
    names = list(dict.fromkeys(str(s) for s in symptoms))
    known = {name: value for name, value in facts.items() if name in FACTS and value is not None}
    usable = {name: taken for name, value in known.items() if (taken := taken_value(FACTS[name], value)) is not None}
    ignored = [n for n in names if n not in list(Symptom)]
    ignored += [str(n) for n, value in facts.items() if n not in usable and value is not None]
    return Case(tuple(Symptom(n) for n in names if n in list(Symptom)), usable, tuple(ignored))


def taken_value(fact: Fact, value: Any) -> Any:
    """The value as rules take it; None where the fact cannot have it."""
    if fact.yes_no:
        return value if isinstance(value, bool) else None
    if fact.several:
        fits = isinstance(value, list) and all(isinstance(v, str) for v in value)
        return tuple(v for v in value if v in fact.words) if fits else None
    if fact.words:
        return value if value in fact.words else None
    number = isinstance(value, int | float) and not isinstance(value, bool)
    # No comparison holds for a number that is none.
    return float(value) if number and fact.low <= value <= fact.high else None
