"""Supplies that stand where something stands that they must not meet."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import permutations


@dataclass(frozen=True)
class Stored:
    """A supply: its name, where it stands, and what it must be kept from, in the words of its safety sheet."""

    name: str
    place: str
    keep_from: str


@dataclass(frozen=True)
class Clash:
    """Two supplies at one place, of which one must be kept from the other, and by which word."""

    name: str
    other: str
    place: str
    word: str


def clashes(supplies: Sequence[Stored]) -> list[Clash]:
    """Every pair that must be taken apart.

    Only what its own words name is found: a word of three letters or more of `keep_from` that stands in the other's name.
    """
    found = []
    for one, other in permutations(supplies, 2):
        together = one.place and one.place.casefold() == other.place.casefold()
        if together and (met := sorted(_words(one.keep_from) & _words(other.name))):
            found.append(Clash(one.name, other.name, one.place, met[0]))
    return found


# Words that say nothing of what is meant.
_COMMON = {"and", "all", "any", "from", "the", "keep", "away", "not", "other", "with", "strong", "remover", "cleaner"}


def _words(text: str) -> set[str]:
    """Its telling words, in the singular."""
    return {word.rstrip("s") for word in re.findall(r"\w{3,}", text.casefold())} - _COMMON
