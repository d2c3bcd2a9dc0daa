"""What is found on a bare mesh: why it matters, and what to do."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum


class MeshFault(StrEnum):
    """Something on a bare mesh."""

    RESIDUE = "residue"
    GHOST = "ghost"
    HOLE = "hole"


@dataclass(frozen=True)
class FaultCard:
    """Its label, why it matters, what to do, and its kind among the marks on a mesh."""

    label: str
    why: str
    do: str
    mark: str


# Common practice, no source.
FAULTS: Mapping[MeshFault, FaultCard] = {
    MeshFault.RESIDUE: FaultCard(
        "Emulsion left", "it blocks the openings of the next image and lifts its coat",
        "Wet it, remover again at once, and rinse hard from both sides; none of it may dry in.", "spot",
    ),
    MeshFault.GHOST: FaultCard(
        "Ghost image", "it can print as a shade and it shows whether the reclaim is still good",
        "Haze remover where it lies under the next image; else keep the image off it.", "ghost",
    ),
    MeshFault.HOLE: FaultCard(
        "Hole", "ink runs through, and the tear goes on under tension",
        "Take it out of use for images there; new mesh before it tears.", "hole",
    ),
}  # fmt: skip
