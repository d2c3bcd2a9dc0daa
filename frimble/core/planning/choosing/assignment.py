"""The screens for many colours at once, chosen together."""

from collections import Counter, defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache
from typing import TYPE_CHECKING

import numpy as np

from frimble.core.conclusions import Settings
from frimble.core.planning.choosing.suitability import Alike, Candidate, Candidates, Want

if TYPE_CHECKING:
    from ortools.sat.python import cp_model

# What a job's screens may be apart in tension costs so much, minutes for each N/cm; a colour without a screen is worse
# than any choice.
_MATCH_MIN = 10
_NO_SCREEN_MIN = 100_000
_UNIT = 10


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


class _Taken:
    """Screens taken so far: of those that are alike the first that are left, by code."""

    def __init__(self) -> None:
        self.number: dict[str, int] = defaultdict(int)

    def left(self, alike: Alike) -> bool:
        return self.number[_name(alike)] < len(alike)

    def take(self, alike: Alike) -> str:
        self.number[_name(alike)] += 1
        return alike[self.number[_name(alike)] - 1].candidate.code


def _name(alike: Alike) -> str:
    return alike[0].candidate.code


def fitting_for(wants: Sequence[Want], there: Candidates) -> dict[str, list[Alike]]:
    """By the key of each colour the screens that fit it, the best first."""
    of = cache(there.alike_fitting)
    return {want.key: of(replace(want, key="", job="")) for want in wants}


def one_by_one(wants: Sequence[Want], fitting: Mapping[str, Sequence[Alike]]) -> dict[str, str]:
    """Each colour in its turn takes the best screen that is left; code by its key."""
    taken = _Taken()
    best = ((want.key, next(filter(taken.left, fitting[want.key]), None)) for want in wants)
    return {key: taken.take(alike) for key, alike in best if alike}


def _needed(fitting: list[Alike], rivals: int) -> list[Alike]:
    """What a best choice may need of what fits a colour.

    Screens go where as many others as there are colours of their mesh, `rivals`, would do as well whatever the rest take:
    one of them is always free. One does as well as another that costs more by what their tensions are apart.
    """
    costs = np.array([_units(alike[0].cost_min) for alike in fitting])
    tensions = np.array([np.nan if (t := _tension(alike)) is None else t for alike in fitting])
    numbers = np.array([len(alike) for alike in fitting])
    needed = []
    for place, alike in enumerate(fitting):
        # One without a tension matches any job; one with a tension stands for it only at a price that has no bound.
        apart = np.where(np.isnan(tensions[:place]), 0, np.abs(tensions[:place] - tensions[place]) * _MATCH_MIN)
        if numbers[:place][costs[:place] + apart <= costs[place]].sum() < rivals:
            needed.append(alike)
    return needed


def _units(minutes: float) -> int:
    return round(minutes * _UNIT)


def _tension(alike: Alike) -> int | None:
    tension = alike[0].candidate.tension_n_per_cm
    return None if tension is None else round(tension * _UNIT)


def assigned(wants: Sequence[Want], screens: Sequence[Candidate], settings: Settings, seconds: float = 2) -> Assignment:
    """The screens for all colours together that cost least: work, tension, wear, and unlike tensions within a job.

    Args:
        seconds: after which the best that was found is taken.
    """
    from ortools.sat.python import cp_model

    there = Candidates(screens, settings)
    fitting, rivals = fitting_for(wants, there), Counter(want.mesh for want in wants)
    model = _Model(wants, {want.key: _needed(fitting[want.key], rivals[want.mesh]) for want in wants})
    model.begin_with(one_by_one(wants, fitting))
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 2
    solver.parameters.max_time_in_seconds = seconds
    solver.solve(model.model)
    taken = _Taken()
    chosen = {w.key: taken.take(alike) for w in wants for alike, var in model.takes[w.key] if solver.boolean_value(var)}
    return Assignment(
        chosen,
        {w.key: _none_fits(w, there) for w in wants if w.key not in chosen},
        solver.objective_value / _UNIT,
        max(0.0, solver.objective_value - solver.best_objective_bound) / _UNIT,
        _ties(wants, fitting, chosen),
    )


class _Model:
    """Which colour takes a screen of which that are alike, and what all of it costs.

    Attributes:
        takes: by the key of each colour what it may take, each with whether it does.
    """

    def __init__(self, wants: Sequence[Want], needed: Mapping[str, list[Alike]]):
        from ortools.sat.python import cp_model

        self.model = cp_model.CpModel()
        self.takes = {key: [(one, self.model.new_bool_var("")) for one in alike] for key, alike in needed.items()}
        cost = [term for takes in self.takes.values() for term in self._cost(takes)]
        self._share_out()
        self.model.minimize(sum([*cost, *self._unlike_tensions(wants)]))

    def begin_with(self, chosen: Mapping[str, str]) -> None:
        """Hint at a choice: code by the key of each colour."""
        for key, takes in self.takes.items():
            for alike, take in takes:
                self.model.add_hint(take, any(s.candidate.code == chosen.get(key) for s in alike))

    def _cost(self, takes: "list[tuple[Alike, cp_model.IntVar]]") -> "Iterator[cp_model.LinearExprT]":
        """Of one colour."""
        self.model.add_at_most_one(take for _, take in takes)
        yield from (_units(alike[0].cost_min) * take for alike, take in takes)
        yield _NO_SCREEN_MIN * _UNIT * (1 - sum(take for _, take in takes))

    def _share_out(self) -> None:
        """No more are taken than there are."""
        users: dict[str, list[cp_model.IntVar]] = defaultdict(list)
        numbers = {}
        for takes in self.takes.values():
            for alike, take in takes:
                users[_name(alike)].append(take)
                numbers[_name(alike)] = len(alike)
        for name, same in users.items():
            if len(same) > numbers[name]:
                self.model.add(sum(same) <= numbers[name])

    def _unlike_tensions(self, wants: Sequence[Want]) -> "Iterator[cp_model.LinearExprT]":
        """For each job what the spread of its screens' tensions costs."""
        jobs = defaultdict(list)
        for want in wants:
            jobs[want.job].append(self.takes[want.key])
        for own in jobs.values():
            taut = [[(t, take) for alike, take in takes if (t := _tension(alike)) is not None] for takes in own]
            most = max((t for one in taut for t, _ in one), default=0)
            if len(own) < 2 or not most:
                continue
            low, high = (self.model.new_int_var(0, most, "") for _ in range(2))
            for one in taut:
                tension = sum(t * take for t, take in one)
                self.model.add(high >= tension)
                self.model.add(low <= tension + most * (1 - sum(take for _, take in one)))
            self.model.add(low <= high)
            yield _MATCH_MIN * (high - low)


def _ties(
    wants: Sequence[Want], fitting: Mapping[str, list[Alike]], chosen: Mapping[str, str]
) -> dict[str, tuple[str, ...]]:
    ties = {}
    gone = set(chosen.values())
    for want in wants:
        codes = [[s.candidate.code for s in alike] for alike in fitting[want.key]]
        same = {(alike[0].cost_min, _tension(alike)) for alike, of in zip(fitting[want.key], codes, strict=True)
                if chosen.get(want.key) in of}  # fmt: skip
        others = tuple(
            code
            for alike, of in zip(fitting[want.key], codes, strict=True)
            if (alike[0].cost_min, _tension(alike)) in same
            for code in of
            if code not in gone
        )
        if others:
            ties[want.key] = others
    return ties


def _none_fits(want: Want, there: Candidates) -> str:
    """Why a colour gets no screen: the nearest one, and what speaks against it."""
    if fitting := there.alike_fitting(want):
        return f"All that fit are taken; {_name(fitting[0])} by another colour."
    nearest = there.nearest(want)
    if nearest is None:
        return "There is no screen."
    return f"None fits. The nearest is {nearest.candidate.code}: it {', '.join(nearest.limits)}."
