"""A good choice at once, and a cost below which there is none."""

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from frimble.core.planning.choosing.costs import NONE, Chosen, cost, jobs_of, tension, units, unlike
from frimble.core.planning.choosing.suitability import Alike, Suitability, Want

_MISFIT = 100 * NONE


def begin(wants: Sequence[Want], fitting: Mapping[str, Sequence[Alike]]) -> tuple[Chosen, int]:
    """A choice, and the units that no choice costs less than: tensions put aside, the cheapest there is.

    Args:
        fitting: by the key of each colour what it may get, the best first.
    """
    suits = {key: {s.candidate.code: s for alike in fits for s in alike} for key, fits in fitting.items()}
    cheapest = _cheapest(wants, suits)
    in_turn = {key: suits[key][code] for key, code in one_by_one(wants, fitting).items()}
    choices = [_Exchanges(wants, suits, chosen).made() for chosen in (cheapest, in_turn)]
    least = sum(units(cheapest[want.key]) if want.key in cheapest else NONE for want in wants)
    return min(choices, key=lambda chosen: cost(wants, chosen)), least


def one_by_one(wants: Sequence[Want], fitting: Mapping[str, Sequence[Alike]]) -> dict[str, str]:
    """Each colour in its turn takes the best screen that is left; code by its key."""
    taken: dict[str, str] = {}
    gone: set[str] = set()
    for want in wants:
        codes = (suits.candidate.code for alike in fitting[want.key] for suits in alike)
        if best := next((code for code in codes if code not in gone), None):
            taken[want.key] = best
            gone.add(best)
    return taken


def _cheapest(wants: Sequence[Want], suits: Mapping[str, Mapping[str, Suitability]]) -> dict[str, Suitability]:
    """The assignment that costs least as long as tensions do not matter."""
    # It takes long to be there.
    from scipy.optimize import linear_sum_assignment

    codes = sorted({code for of in suits.values() for code in of})
    column = {code: place for place, code in enumerate(codes)}
    # Behind the screens a place for each colour that gets none.
    costs = np.full((len(wants), len(codes) + len(wants)), _MISFIT, dtype=float)
    costs[:, len(codes) :] = NONE
    for row, want in enumerate(wants):
        for code, one in suits[want.key].items():
            costs[row, column[code]] = units(one)
    pairs = zip(*linear_sum_assignment(costs), strict=True)
    return {wants[row].key: suits[wants[row].key][codes[place]] for row, place in pairs if place < len(codes)}


class _Exchanges:
    """A choice made cheaper by giving a colour another screen, free or in exchange for its own."""

    def __init__(self, wants: Sequence[Want], suits: Mapping[str, Mapping[str, Suitability]], chosen: Chosen):
        self.suits, self.chosen = suits, dict(chosen)
        self.holder = {one.candidate.code: key for key, one in chosen.items()}
        self.mates = {key: keys for keys in jobs_of(wants).values() for key in keys}

    def made(self) -> Chosen:
        """Until none makes it cheaper."""
        while sum(map(self._improve, list(self.chosen))):
            pass
        return self.chosen

    def _improve(self, key: str) -> bool:
        gains = ((self._gain(moves), moves) for moves in self._moves(key))
        gain, moves = max(gains, key=lambda found: found[0], default=(0, {}))
        if gain <= 0:
            return False
        for of in moves:
            self.holder.pop(self.chosen[of].candidate.code, None)
        self.chosen |= moves
        self.holder |= {one.candidate.code: of for of, one in moves.items()}
        return True

    def _moves(self, key: str) -> Iterator[dict[str, Suitability]]:
        """What each colour concerned would have then."""
        own = self.chosen[key].candidate.code
        for code, one in self.suits[key].items():
            other = self.holder.get(code)
            if other is None:
                yield {key: one}
            elif other != key and own in self.suits[other]:
                yield {key: one, other: self.suits[other][own]}

    def _gain(self, moves: Mapping[str, Suitability]) -> int:
        before = sum(units(self.chosen[key]) for key in moves) + self._unlike(moves, {})
        return before - sum(map(units, moves.values())) - self._unlike(moves, moves)

    def _unlike(self, concerned: Mapping[str, Suitability], moves: Mapping[str, Suitability]) -> int:
        """Of the jobs concerned."""
        jobs = {self.mates[key][0]: self.mates[key] for key in concerned}.values()
        held = ([moves.get(key) or self.chosen[key] for key in keys if key in self.chosen] for keys in jobs)
        return sum(unlike([tension(one) for one in of]) for of in held)
