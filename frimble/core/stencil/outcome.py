"""How a stencil ended, and how a recipe has done over several."""

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

from frimble.core.press.feedback import Hold


class Ending(StrEnum):
    """What became of a stencil."""

    FAILED = "failed its inspection"
    BROKE = "broke down on press"
    PINHOLES = "got pinholes on press"
    HELD = "held its run"
    UNPRINTED = "taken off without a print"
    STANDS = "not printed yet"

    @property
    def counts(self) -> bool:
        """Whether it tells anything of the recipe."""
        return self not in (Ending.UNPRINTED, Ending.STANDS)

    @property
    def good(self) -> bool:
        return self is Ending.HELD


def ending(passed: bool | None, hold: str, impressions: int, closed: bool) -> Ending:
    """What became of a stencil.

    Args:
        passed: its last inspection; None where nobody inspected it. hold: what the press said last, a `Hold` or "".
        impressions: it made. closed: it was taken off the mesh.

    What the press saw counts before the impressions: a stencil may break at the end of a long run.
    """
    if passed is False:
        return Ending.FAILED
    if hold == Hold.BROKE:
        return Ending.BROKE
    if hold == Hold.PINHOLES:
        return Ending.PINHOLES
    if impressions > 0 or hold == Hold.HELD:
        return Ending.HELD
    return Ending.UNPRINTED if closed else Ending.STANDS


@dataclass(frozen=True)
class RecipeRecord:
    """How stencils of one recipe ended: those that tell, those of them that held, the impressions of all."""

    recipe: str
    number: int
    held: int
    impressions: int


def by_recipe(stencils: Iterable[tuple[str, Ending, int]]) -> list[RecipeRecord]:
    """Recipes with what became of their stencils, the one that held most surely first.

    Args:
        stencils: (recipe, ending, impressions) of each.

    The order is that of (held + 1) ÷ (number + 2). Source: Laplace's rule of succession.
    """
    rows: dict[str, list[tuple[Ending, int]]] = {}
    for recipe, end, impressions in stencils:
        if end.counts:
            rows.setdefault(recipe, []).append((end, impressions))
    records = [
        RecipeRecord(recipe, len(ends), sum(e.good for e, _ in ends), sum(n for _, n in ends))
        for recipe, ends in rows.items()
    ]
    return sorted(records, key=lambda r: (-(r.held + 1) / (r.number + 2), -r.impressions, r.recipe))
