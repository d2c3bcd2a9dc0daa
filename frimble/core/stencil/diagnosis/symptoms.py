"""How each symptom is called, how it looks, and when it is met."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from frimble.core.stencil.diagnosis.codes import Symptom


class Stage(StrEnum):
    """When a symptom is met."""

    COAT = "coat"
    WASH = "wash"
    STENCIL = "stencil"
    PRESS = "press"
    RECLAIM = "reclaim"


STAGES: Mapping[Stage, str] = {
    Stage.COAT: "In the coat",
    Stage.WASH: "At the wash",
    Stage.STENCIL: "On the finished stencil",
    Stage.PRESS: "On press",
    Stage.RECLAIM: "At reclaim",
}


@dataclass(frozen=True)
class SymptomCard:
    label: str
    look: str
    stage: Stage


# Common practice, no source.
SYMPTOMS: Mapping[Symptom, SymptomCard] = {
    Symptom.FISHEYES: SymptomCard("Fish-eyes", "round bare spots, the emulsion draws back", Stage.COAT),
    Symptom.LIGHT_LINES: SymptomCard("Light lines", "thin lines along the stroke", Stage.COAT),
    Symptom.BEADS: SymptomCard("Beads at the sides", "thick ridges along both sides", Stage.COAT),
    Symptom.ALL_WASHES_AWAY: SymptomCard("All washes away", "image and stencil go together", Stage.WASH),
    Symptom.LIFTS_IN_SHEETS: SymptomCard("Lifts in sheets", "skins come off the mesh", Stage.WASH),
    Symptom.EDGES_PEEL: SymptomCard("Edges peel", "edges of the image curl up or tear", Stage.WASH),
    Symptom.SLIMY: SymptomCard("Squeegee side slimy", "soft, and colour runs out of it", Stage.WASH),
    Symptom.IMAGE_WILL_NOT_OPEN: SymptomCard("Image will not open", "no water gets through", Stage.WASH),
    Symptom.OPENS_IN_PARTS: SymptomCard("Opens in parts", "some of the image stays shut", Stage.WASH),
    Symptom.SCUM: SymptomCard("Scum in openings", "a thin veil where it should be open", Stage.STENCIL),
    Symptom.FINE_OPENINGS_CLOSED: SymptomCard(
        "Fine openings closed", "thin lines and small dots do not open", Stage.STENCIL
    ),
    Symptom.FINE_LINES_LOST: SymptomCard("Fine lines of stencil lost", "thin bridges are gone", Stage.STENCIL),
    Symptom.SAW_TOOTH: SymptomCard("Saw-tooth edges", "edges follow the threads in steps", Stage.STENCIL),
    Symptom.SOFT_EDGES: SymptomCard("Soft edges", "edges run out and are not sharp", Stage.STENCIL),
    Symptom.PINHOLES: SymptomCard("Pinholes", "points of light in the stencil", Stage.STENCIL),
    Symptom.ONE_CORNER: SymptomCard("One corner wrong", "one place differs from the rest", Stage.STENCIL),
    Symptom.DISTORTED: SymptomCard("Image distorted", "the print is longer, wider or bent", Stage.PRESS),
    Symptom.BREAKS_DOWN: SymptomCard("Breaks down on press", "holes and edges come in the run", Stage.PRESS),
    Symptom.HARD_TO_RECLAIM: SymptomCard("Hard to reclaim", "the stencil does not come off", Stage.RECLAIM),
    Symptom.GHOST: SymptomCard("Ghost left", "the old image stays as a stain", Stage.RECLAIM),
}
