"""What a planned step is called."""

from frimble.core.lifecycle import STEPS
from frimble.core.planning.stages.way import DRY, FILM

# What is no step of a screen's records.
_OTHERS = {DRY: "Dries", FILM: "Make the film for"}


def step_words(kind: str) -> str:
    return _OTHERS.get(kind) or STEPS[kind].label
