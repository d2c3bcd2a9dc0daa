"""What the page of losses says first: the dearest thing, and what one percent fewer would save."""

from collections.abc import Sequence
from dataclasses import dataclass

from frimble.core.numbers import counted
from frimble.core.stencil.losses import KEYS, Loss, Losses
from frimble.core.stencil.wear import WearRow
from frimble.jobs.losses.queries import NOT_FOUND_OUT


@dataclass(frozen=True)
class LossesPart:
    """The conclusion in a line, its reason, what less would save, and the bars."""

    headline: str
    reason: str
    saves: str
    losses: Losses
    by_words: str
    unknown: Sequence[str]
    wear: Sequence[WearRow]


# Screens whose loss nobody has explained, that are named.
_NAMED = 8


def part(losses: Losses, by: str, lost: Sequence[Loss], wear: Sequence[WearRow]) -> LossesPart:
    """The page's parts.

    Args:
        by: key of `KEYS`. lost: every loss, for those without a cause. wear: how stencils stood their runs.
    """
    words = KEYS[by][0]
    unknown = list(dict.fromkeys(x.screen for x in reversed(lost) if x.cause == NOT_FOUND_OUT))[:_NAMED]
    if not losses.bars:
        nothing = "No failed film, coat, stencil or mesh is on record in this time."
        return LossesPart("Nothing lost", nothing, "", losses, words, unknown, wear)
    first = losses.bars[0]
    share = first.money / losses.money if losses.money else 0.0
    headline = f"{first.label.capitalize()}: {share * 100:.0f} % of what was lost"
    reason = f"{counted(losses.number, 'loss', 'losses')} in all took {losses.minutes / 60:.1f} h of hands"
    if losses.emulsion_ml:
        reason += f" and {losses.emulsion_ml / 1000:.2f} l of emulsion"
    return LossesPart(headline, f"{reason}.{_share_words(losses)}", _saves(losses), losses, words, unknown, wear)


def _share_words(losses: Losses) -> str:
    if losses.share is None:
        return ""
    share, low, high = losses.share
    return f" Of the stencils begun {share * 100:.1f} % were lost, between {low * 100:.1f} and {high * 100:.1f} %."


def _saves(losses: Losses) -> str:
    if losses.one_percent_saves is None:
        return ""
    return f"One stencil in a hundred lost less would save {losses.one_percent_saves:.0f} in money a year."
