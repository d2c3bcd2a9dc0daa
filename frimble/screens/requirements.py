"""What has to hold of a person before they record a step; later places add theirs."""

from collections.abc import Callable

# A step's kind and a person → why they may not record it; empty where they may.
Requirement = Callable[[str, object], str]
_REQUIREMENTS: list[Requirement] = []


def add(requirement: Requirement) -> None:
    """One more; named twice, it is asked once."""
    if requirement not in _REQUIREMENTS:
        _REQUIREMENTS.append(requirement)


def unmet(kind: str, person) -> str:
    """The first reason against a person's recording of a step; empty for none."""
    return next((reason for requirement in _REQUIREMENTS if (reason := requirement(kind, person))), "")
