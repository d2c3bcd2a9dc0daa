"""The kinds of step tests: one file each, and its part of the plan page beside the other templates."""

from frimble.exposures.steptests.kinds import card, factor, grey, screens
from frimble.exposures.steptests.kinds.kind import TestKind

KINDS: dict[str, TestKind] = {kind.key: kind for kind in (card.KIND, factor.KIND, grey.KIND, screens.KIND)}
USUAL = card.KIND


def choices() -> list[tuple[str, str]]:
    """(key, words) of each, for a model's field."""
    return [(kind.key, kind.words) for kind in KINDS.values()]
