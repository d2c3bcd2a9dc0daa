"""Guided reading: what is seen of a strip's blocks, lines and openings, ranked into its grade.

Common practice: what is lost was too little light, what is filled too much; a slimy squeegee side or a colour not changed
through is too little, however well the strip looks from the other side.
"""

from dataclasses import dataclass

from frimble.core.conclusions import InvalidInput
from frimble.core.exposure.steptest.reading import Grade

# What is looked at, in words, and what may be said of it with its meaning.
FEATURES = {
    "blocks": ("Solid blocks of stencil", {
        "good": "stand whole", "weak": "peel at an edge, or come off on a damp finger", "lost": "washed away",
    }),
    "lines": ("Thin lines of stencil", {
        "good": "stand, edges even", "weak": "ragged, thinner than drawn or broken", "lost": "washed away",
    }),
    "openings": ("Fine openings and highlight dots", {
        "good": "clear, as wide as drawn", "lost": "wider than drawn, their edges washed off",
        "weak": "narrower than drawn, or a skin in some", "filled": "closed over, no light through",
    }),
}  # fmt: skip


@dataclass(frozen=True)
class StripMarks:
    """What was seen of one strip: a mark for each of `FEATURES`, and the two signs that count whatever it looks like."""

    blocks: str
    lines: str
    openings: str
    slimy: bool = False
    pale: bool = False


@dataclass(frozen=True)
class Ranked:
    """The grade that marks come to, and why."""

    grade: str
    reason: str


def rank(marks: StripMarks) -> Ranked:
    """The grade of a strip, from what was seen of it.

    Raises:
        InvalidInput: a mark that the feature does not know.
    """
    for name, (words, known) in FEATURES.items():
        if getattr(marks, name) not in known:
            raise InvalidInput(f"{words}: choose one of {', '.join(known)}.", name)
    if marks.blocks == "lost":
        return Ranked(Grade.UNDER, "its solid blocks washed away")
    soft, closing = _too_little(marks), marks.openings in ("weak", "filled")
    if soft and closing:
        return Ranked(
            Grade.SHORT,
            f"{soft[0]}; its openings close all the same: look at the contact and at the film's density, since here no "
            "time may be right",
        )
    if soft:
        return Ranked(Grade.SHORT, " and ".join(soft))
    if marks.openings == "filled":
        return Ranked(Grade.OVER, "it stands, and its fine openings are filled")
    if marks.openings == "weak":
        return Ranked(Grade.CLOSING, "it stands, and its fine openings begin to close")
    return Ranked(Grade.GOOD, "it stands whole, and its fine openings are clear")


def _too_little(marks: StripMarks) -> list[str]:
    """Every sign of too little light, in words."""
    signs = {
        "its squeegee side is slimy": marks.slimy,
        "its colour has not changed through": marks.pale,
        "its solid blocks are weak": marks.blocks == "weak",
        "its thin lines are lost": marks.lines == "lost",
        "its thin lines are weak": marks.lines == "weak",
        "its openings are washed wider": marks.openings == "lost",
    }
    return [words for words, seen in signs.items() if seen]
