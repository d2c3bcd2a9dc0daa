"""The faults of a stencil: why each matters, and what to do."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum


class FindingKind(StrEnum):
    """A fault of a finished stencil."""

    PINHOLE = "pinhole"
    BREAKDOWN = "breakdown"
    BLOCKED = "blocked"
    SCUM = "scum"


@dataclass(frozen=True)
class KindCard:
    """Its label, the unit of its value, why it matters and what to do."""

    label: str
    unit: str
    why: str
    do: str


# Common practice, no source.
KINDS: Mapping[FindingKind, KindCard] = {
    FindingKind.PINHOLE: KindCard(
        "Pinhole", "mm", "ink goes through and prints as a speck", "Block it with filler, or tape it on the print side."
    ),
    FindingKind.BREAKDOWN: KindCard(
        "Breakdown", "mm²", "the stencil is gone where it should hold the ink back",
        "Fill it where no edge of the image is touched; else remake.",
    ),
    FindingKind.BLOCKED: KindCard(
        "Blocked", "of the opening", "no ink gets through: the print will miss it",
        "Wet it again at once, soak and rinse from the print side; if it stays shut, remake.",
    ),
    FindingKind.SCUM: KindCard(
        "Scum", "of the light", "a thin film is left and thins the ink there",
        "Rinse again from the print side with lukewarm water; look for over-exposure or a film that leaks.",
    ),
}  # fmt: skip
