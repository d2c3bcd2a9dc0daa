"""The screens for many colours at once, chosen together."""

import math
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache

import numpy as np

from frimble.core.conclusions import Settings
from frimble.core.planning.choosing.beginning import begin
from frimble.core.planning.choosing.costs import MATCH, UNIT, cost, tension, units
from frimble.core.planning.choosing.suitability import Alike, Candidate, Candidates, Want

_ROUNDING = 1e-6


@dataclass(frozen=True)
class Assignment:
    """Screens for many colours at once.

    Attributes:
        chosen: code by the key of each colour that gets one. without: reason by key of each that gets none.
        cost_min: of the whole, colours without a screen included. saves_at_most_min: what any other choice could cost less;
            0 where this one is proven to be the best.
        ties: by key, other screens that would do as well in its place.
    """

    chosen: Mapping[str, str]
    without: Mapping[str, str]
    cost_min: float
    saves_at_most_min: float
    ties: Mapping[str, tuple[str, ...]]


def fitting_for(wants: Sequence[Want], there: Candidates) -> dict[str, list[Alike]]:
    """By the key of each colour the screens that fit it, the best first."""
    of = cache(there.alike_fitting)
    return {want.key: of(replace(want, key="", job="")) for want in wants}


def _needed(fitting: list[Alike], rivals: int) -> list[Alike]:
    """What a best choice may need of what fits a colour.

    Screens go where as many others as there are colours of their mesh, `rivals`, would do as well whatever the rest take:
    one of them is always free. One does as well as another that costs more by what their tensions are apart.
    """
    costs = np.array([units(alike[0]) for alike in fitting])
    tensions = np.array([np.nan if (t := tension(alike[0])) is None else t for alike in fitting])
    numbers = np.array([len(alike) for alike in fitting])
    needed = []
    for place, alike in enumerate(fitting):
        # One without a tension matches any job; one with a tension stands for it only at a price that has no bound.
        apart = np.where(np.isnan(tensions[:place]), 0, np.abs(tensions[:place] - tensions[place]) * MATCH)
        if numbers[:place][costs[:place] + apart <= costs[place]].sum() < rivals:
            needed.append(alike)
    return needed


def assigned(wants: Sequence[Want], screens: Sequence[Candidate], settings: Settings, seconds: float = 2) -> Assignment:
    """The screens for all colours together that cost least: work, tension, wear, and unlike tensions within a job.

    Never worse than each colour in its turn.

    Args:
        seconds: after which the best that was found is taken.
    """
    there = Candidates(screens, settings)
    fitting, rivals = fitting_for(wants, there), Counter(want.mesh for want in wants)
    needed = {want.key: _needed(fitting[want.key], rivals[want.mesh]) for want in wants}
    found, least = begin(wants, needed)
    if cost(wants, found) > least:
        # It takes long to be there.
        from frimble.core.planning.choosing.model import search

        found, bound = search(wants, needed, found, seconds)
        least = max(least, math.ceil(bound - _ROUNDING))
    chosen = {key: suits.candidate.code for key, suits in found.items()}
    return Assignment(
        chosen,
        {w.key: _none_fits(w, there) for w in wants if w.key not in chosen},
        cost(wants, found) / UNIT,
        max(0, cost(wants, found) - least) / UNIT,
        _ties(wants, fitting, chosen),
    )


def _ties(
    wants: Sequence[Want], fitting: Mapping[str, list[Alike]], chosen: Mapping[str, str]
) -> dict[str, tuple[str, ...]]:
    ties = {}
    gone = set(chosen.values())
    for want in wants:
        mine = {_worth(alike) for alike in fitting[want.key] if chosen.get(want.key) in _codes(alike)}
        alike = [code for alike in fitting[want.key] if _worth(alike) in mine for code in _codes(alike)]
        if others := tuple(code for code in alike if code not in gone):
            ties[want.key] = others
    return ties


def _worth(alike: Alike) -> tuple[float, int | None]:
    return alike[0].cost_min, tension(alike[0])


def _codes(alike: Alike) -> list[str]:
    return [suits.candidate.code for suits in alike]


def _none_fits(want: Want, there: Candidates) -> str:
    """Why a colour gets no screen: the nearest one, and what speaks against it."""
    if fitting := there.alike_fitting(want):
        return f"All that fit are taken; {_codes(fitting[0])[0]} by another colour."
    nearest = there.nearest(want)
    if nearest is None:
        return "There is no screen."
    return f"None fits. The nearest is {nearest.candidate.code}: it {', '.join(nearest.limits)}."
