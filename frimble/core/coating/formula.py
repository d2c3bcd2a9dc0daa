"""Coat formula: the house notation for how a screen is coated, parsed, checked and put into words.

`P` print side, `S` squeegee side, a number of strokes, then any of `r` round edge, `x` scraping stroke with an empty
edge, `u` frame turned end for end first; `~30` wait 30 s wet; `/` dry between. Example: `P1 S1 / P1r / P1r`.
Printers' own `1/1` or `2/2` is understood as strokes on print and squeegee side.
"""

import re
from dataclasses import dataclass
from typing import Any

from frimble.core.conclusions import InvalidInput, Settings

SIDES = {"P": "print side", "S": "squeegee side"}
_STROKE = re.compile(r"([PS])(\d+)([rxu]*)", re.IGNORECASE)
_WAIT = re.compile(r"~(\d+)")
# What printers write for strokes on the print side and on the squeegee side: 1/1, 2/2, 1:2.
_SHORTHAND = re.compile(r"(\d)\s*[/:]\s*(\d)")


@dataclass(frozen=True)
class Stroke:
    """One entry of a formula: a side and its strokes, or a wet wait."""

    side: str
    strokes: int
    round_edge: bool = False
    scraping: bool = False
    turned: bool = False

    def __str__(self) -> str:
        flags = "r" * self.round_edge + "x" * self.scraping + "u" * self.turned
        return f"{self.side}{self.strokes}{flags}"

    def in_words(self) -> str:
        count = "1 stroke" if self.strokes == 1 else f"{self.strokes} strokes"
        edge = "round edge" if self.round_edge else "sharp edge"
        kind = "empty edge, scraping" if self.scraping else edge
        turn = "turn the frame end for end, then " if self.turned else ""
        return f"{turn}{count} on the {SIDES[self.side]}, {kind}"


@dataclass(frozen=True)
class Wait:
    seconds: int

    def __str__(self) -> str:
        return f"~{self.seconds}"

    def in_words(self) -> str:
        return f"wait {self.seconds} s wet"


@dataclass(frozen=True)
class Layer:
    """What is laid wet on wet between two dryings."""

    entries: tuple[Stroke | Wait, ...]

    @property
    def strokes(self) -> tuple[Stroke, ...]:
        return tuple(e for e in self.entries if isinstance(e, Stroke))

    def __str__(self) -> str:
        return " ".join(map(str, self.entries))


@dataclass(frozen=True)
class CoatFormula:
    """A parsed coat formula: `layers`, each dried before the next, and `notes` on how it differs from the house school."""

    layers: tuple[Layer, ...]
    notes: tuple[str, ...]

    def __str__(self) -> str:
        return " / ".join(map(str, self.layers))

    def layer_steps(self, number: int) -> list[str]:
        """One layer as ordered steps to tick off, one sentence each; `number` counts from 1."""
        steps = [_capital(entry.in_words()) + "." for entry in self.layers[number - 1].entries]
        last = number == len(self.layers)
        steps.append("Dry in the dark, print side down" + ("." if last else ", before the next layer."))
        return steps

    def steps(self) -> list[str]:
        """The whole formula as ordered steps."""
        return [step for number in range(1, len(self.layers) + 1) for step in self.layer_steps(number)]


def print_side_share(formula: CoatFormula, settings: Settings) -> float:
    """Share of the emulsion over mesh that comes to stand on the print side.

    Common practice: a last wet stroke from the squeegee side, and drying print side down, leave most of it there; coats
    laid after drying stay on the side they are laid on.
    """
    most = settings["coat.print_share"]
    shares = []
    for number, layer in enumerate(formula.layers):
        last = layer.strokes[-1].side
        pushed = most if last == "S" else 0.5
        laid = sum(s.strokes for s in layer.strokes if not s.scraping)
        onto_print = pushed if number == 0 else float(last == "P")
        shares += [onto_print] * laid
    return sum(shares) / len(shares) if shares else most


def parse_formula(text: str, settings: Settings) -> CoatFormula:
    """Parse and check a coat formula.

    Raises:
        InvalidInput: the message says what is wrong and at which character.
    """
    source = str(text).strip()
    if not source:
        raise InvalidInput("Write a coat formula, such as P1 S1.", "formula")
    if shorthand := _SHORTHAND.fullmatch(source):
        source = _spelt_out(shorthand, settings)
        text = source
    layers = []
    at = len(text) - len(str(text).lstrip())
    for part in source.split("/"):
        layers.append(_read_layer(part, at, source, settings))
        at += len(part) + 1
    return CoatFormula(tuple(layers), _notes(layers, settings))


def _spelt_out(shorthand: re.Match[str], settings: Settings) -> str:
    """`2/1` in our notation: two strokes on the print side, one on the squeegee side, the house's first side first."""
    sides = {"P": shorthand[1], "S": shorthand[2]}
    first = settings["coat.first_side"]
    order = (first, "S" if first == "P" else "P")
    return " ".join(f"{side}{sides[side]}" for side in order if sides[side] != "0") or "P0"


def _read_layer(part: str, offset: int, source: str, settings: Settings) -> Layer:
    entries: list[Stroke | Wait] = []
    position = 0
    while position < len(part):
        if part[position].isspace():
            position += 1
            continue
        match = _STROKE.match(part, position) or _WAIT.match(part, position)
        if not match:
            raise _unreadable(source, offset + position, part[position])
        entries.append(_read_entry(match, entries, offset + position, settings))
        position = match.end()
    if not any(isinstance(e, Stroke) for e in entries):
        raise InvalidInput(
            f"Character {offset + 1}: there is no stroke in this layer. “/” dries between two coats.", "formula"
        )
    total = sum(e.strokes for e in entries if isinstance(e, Stroke))
    most = settings["coat.most_strokes"]
    if total > most:
        raise InvalidInput(
            f"Character {offset + 1}: {total} strokes wet on wet is more than {most:g}: the coat sags. Dry between.",
            "formula",
        )
    return Layer(tuple(entries))


def _read_entry(match: re.Match[str], before: list[Any], position: int, settings: Settings) -> Stroke | Wait:
    if match[0].startswith("~"):
        seconds = int(match[1])
        if not before or not isinstance(before[-1], Stroke):
            raise InvalidInput(f"Character {position + 1}: a wait follows a stroke.", "formula")
        longest = settings["coat.longest_wait_s"]
        if not 0 < seconds <= longest:
            raise InvalidInput(f"Character {position + 1}: a wet wait is 1 to {longest:g} s.", "formula")
        return Wait(seconds)
    side, count, flags = match[1].upper(), int(match[2]), match[3].lower()
    if count == 0:
        raise InvalidInput(f"Character {position + 1}: {side}0 lays nothing; write {side}1 or leave it out.", "formula")
    if len(set(flags)) != len(flags):
        raise InvalidInput(f"Character {position + 1}: “{match[0]}” names the same mark twice.", "formula")
    return Stroke(side, count, "r" in flags, "x" in flags, "u" in flags)


def _unreadable(source: str, position: int, character: str) -> InvalidInput:
    return InvalidInput(
        f"Character {position + 1}, “{character}”: expected P or S with a number of strokes, such as P1 or S2r, "
        f"a wait such as ~30, or “/” to dry between. Read so far: “{source[:position].strip()}”.",
        "formula",
    )


def _notes(layers: list[Layer], settings: Settings) -> tuple[str, ...]:
    notes = []
    first, last = layers[0].strokes[0], layers[0].strokes[-1]
    if first.side != settings["coat.first_side"]:
        notes.append(
            f"Starts on the {SIDES[first.side]}; the house starts on the {SIDES[settings['coat.first_side']]}."
        )
    wanted = settings["coat.last_wet_side"]
    if len({s.side for s in layers[0].strokes}) == 1:
        notes.append(f"Coats the {SIDES[first.side]} only: the other side of the mesh may stay lean.")
    elif wanted != "any" and last.side != wanted:
        notes.append(
            f"The last wet stroke is from the {SIDES[last.side]}; from the {SIDES[wanted]} it pushes the coat through "
            "to where the stencil should stand."
        )
    if layers[0].strokes[0].scraping:
        notes.append("Starts with a scraping stroke: there is nothing to take off yet.")
    return tuple(notes)


def _capital(sentence: str) -> str:
    return sentence[0].upper() + sentence[1:]
