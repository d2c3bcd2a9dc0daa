"""Colours of separations read off their files' names, and the order in which they are printed."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

# Light to dark, white bases before all; common practice.
_LIGHT_TO_DARK = (
    "underbase", "white base", "base", "white", "second white", "highlight", "cream", "yellow", "gold", "orange", "pink",
    "red", "magenta", "silver", "grey", "light blue", "green", "cyan", "blue", "purple", "violet", "brown", "navy", "black",
)  # fmt: skip
# Four-colour work goes Y M C K; common practice.
_PROCESS = ("yellow", "magenta", "cyan", "black")
_SHORT = {
    "y": "yellow",
    "m": "magenta",
    "c": "cyan",
    "k": "black",
    "w": "white",
    "bk": "black",
    "wht": "white",
    "blk": "black",
}
_WORD = re.compile(r"[a-z]+")


@dataclass(frozen=True)
class SeparationFile:
    """A file of a set: its name, the colour it seems to be, and its place in the order of printing, from 1.

    `colour` is empty where the name tells none.
    """

    name: str
    colour: str
    position: int


def colour_of(filename: str) -> str:
    """The colour that a file's name tells: a whole word or two, else one of the usual letters at its end; else nothing."""
    words = [str(w) for w in _WORD.findall(filename.rsplit(".", 1)[0].lower().replace("gray", "grey"))]
    pairs = [f"{a} {b}" for a, b in pairwise(words)]
    candidates: list[str] = [*reversed(pairs), *reversed(words)]
    for told in candidates:
        if told in _LIGHT_TO_DARK:
            return told
    return _SHORT.get(words[-1], "") if words else ""


def in_order(filenames: Sequence[str]) -> list[SeparationFile]:
    """The files in the order of printing: four-colour sets as Y M C K, else light to dark; unknown ones last, as given."""
    told = [(name, colour_of(name)) for name in filenames]
    colours = [colour for _, colour in told if colour]
    order = _PROCESS if set(colours) == set(_PROCESS) else _LIGHT_TO_DARK
    ranked = sorted(told, key=lambda pair: order.index(pair[1]) if pair[1] in order else len(order))
    return [SeparationFile(name, colour, k) for k, (name, colour) in enumerate(ranked, start=1)]
