"""What a proof finds, apart from how it is found: pages name it without the image libraries."""

from dataclasses import dataclass
from enum import StrEnum


class ProofKind(StrEnum):
    """What will not be as the film asks."""

    CLOSES = "closes"
    WASHES_AWAY = "washes_away"
    SAW_TOOTH = "saw_tooth"
    DOT_LOST = "dot_lost"


@dataclass(frozen=True)
class ProofFinding:
    """A place on the film: its box, mm from the top left, what happens there, how much of it, and why.

    `value` is the share of the opening that closes, the width in µm of stencil that washes away, the depth in µm of a
    rough edge's teeth, or the width in µm of the dots that are lost.
    """

    kind: ProofKind
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    value: float
    why: str
