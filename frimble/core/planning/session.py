"""A session at the press limited by its pads: pieces go round in batches, and dry while others are printed."""

import math
from dataclasses import dataclass

from frimble.core.conclusions import require_between
from frimble.core.numbers import counted

_MOST_PIECES, _MOST_PADS, _MOST_COLOURS = 100_000, 200, 20


@dataclass(frozen=True)
class Session:
    """How a session goes.

    Attributes:
        rounds: times that all pads are filled. round_s: of a full round, the last may be shorter. wait_s: idle between two
            colours of a full round. total_s: of all. enough_pads: with so many nobody waits for drying.
    """

    rounds: int
    round_s: float
    wait_s: float
    total_s: float
    enough_pads: int

    @property
    def words(self) -> str:
        waits = f"{self.wait_s:.0f} s are waited between colours; with {self.enough_pads} pads none would be."
        return f"{counted(self.rounds, 'round', 'rounds')}. {waits if self.wait_s else 'Nobody waits for drying.'}"


def session(pieces: int, pads: int, colours: int, print_s: float, dry_s: float) -> Session:
    """Plan pieces over pads: every colour goes once over all pads, then the next, until the round is finished.

    Args:
        print_s: for one piece and colour, with loading. dry_s: from one colour to the next on the same piece.

    Raises:
        InvalidInput: a number that cannot be.
    """
    require_between(pieces, 1, _MOST_PIECES, "The pieces", "pieces")
    require_between(pads, 1, _MOST_PADS, "The pads", "pads")
    require_between(colours, 1, _MOST_COLOURS, "The colours", "colours")
    require_between(print_s, 1, 3600, "A print, in s,", "print_s")
    require_between(dry_s, 0, 86400, "Drying, in s,", "dry_s")
    full, rest = divmod(pieces, pads)
    total = full * _round_s(pads, colours, print_s, dry_s) + (_round_s(rest, colours, print_s, dry_s) if rest else 0.0)
    most = min(pieces, pads)
    return Session(
        full + bool(rest),
        _round_s(most, colours, print_s, dry_s),
        _wait_s(most, print_s, dry_s) if colours > 1 else 0.0,
        total,
        1 + math.ceil(dry_s / print_s),
    )


def _wait_s(pads: int, print_s: float, dry_s: float) -> float:
    """The first piece dries while the others are printed; what it lacks then is waited."""
    return max(0.0, dry_s - (pads - 1) * print_s)


def _round_s(pads: int, colours: int, print_s: float, dry_s: float) -> float:
    return colours * pads * print_s + (colours - 1) * _wait_s(pads, print_s, dry_s)
