"""The choice of screens as a model for the solver."""

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence

from ortools.sat.python import cp_model

from frimble.core.planning.choosing.costs import MATCH, NONE, Chosen, cost, jobs_of, tension, units
from frimble.core.planning.choosing.suitability import Alike, Suitability, Want

Takes = list[tuple[Alike, cp_model.IntVar]]


def search(
    wants: Sequence[Want], needed: Mapping[str, list[Alike]], begun: Chosen, seconds: float
) -> tuple[Chosen, float]:
    """The best that is found, never worse than what it began with; and the units that no choice costs less than."""
    model = _Model(wants, needed)
    model.begin_with(begun)
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 2
    solver.parameters.max_time_in_seconds = seconds
    if solver.solve(model.model) not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return begun, 0.0
    found = model.chosen(solver)
    return min(found, begun, key=lambda chosen: cost(wants, chosen)), solver.best_objective_bound


class _Model:
    """Which colour takes a screen of which that are alike, and what all of it costs.

    Attributes:
        takes: by the key of each colour what it may take, each with whether it does. apart: by the first key of each job
            its lowest and highest tension.
    """

    def __init__(self, wants: Sequence[Want], needed: Mapping[str, list[Alike]]):
        self.model = cp_model.CpModel()
        self.takes = {key: [(one, self.model.new_bool_var("")) for one in alike] for key, alike in needed.items()}
        self.jobs = list(jobs_of(wants).values())
        self.apart: dict[str, tuple[cp_model.IntVar, cp_model.IntVar]] = {}
        costs = [term for takes in self.takes.values() for term in self._cost(takes)]
        self._share_out()
        self.model.minimize(sum([*costs, *self._unlike_tensions()]))

    def begin_with(self, chosen: Chosen) -> None:
        """Hint at a choice."""
        for key, takes in self.takes.items():
            for alike, take in takes:
                self.model.add_hint(take, key in chosen and _holds(alike, chosen[key]))
        for keys in self.jobs:
            known = [t for key in keys if key in chosen and (t := tension(chosen[key])) is not None]
            for var, value in zip(
                self.apart.get(keys[0], ()), (min(known, default=0), max(known, default=0)), strict=False
            ):
                self.model.add_hint(var, value)

    def chosen(self, solver: cp_model.CpSolver) -> Chosen:
        """What was found; of screens that are alike the first that are left, by code."""
        left = {_name(alike): iter(alike) for takes in self.takes.values() for alike, _ in takes}
        found = {}
        for key, takes in self.takes.items():
            for alike, take in takes:
                if solver.boolean_value(take):
                    code = next(left[_name(alike)]).candidate.code
                    found[key] = next(suits for suits in alike if suits.candidate.code == code)
        return found

    def _cost(self, takes: Takes) -> Iterator[cp_model.LinearExprT]:
        """Of one colour."""
        self.model.add_at_most_one(take for _, take in takes)
        yield from (units(alike[0]) * take for alike, take in takes)
        yield NONE * (1 - sum(take for _, take in takes))

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

    def _unlike_tensions(self) -> Iterator[cp_model.LinearExprT]:
        """For each job what the spread of its screens' tensions costs."""
        for keys in self.jobs:
            of = [self.takes[key] for key in keys]
            taut = [[(t, take) for alike, take in takes if (t := tension(alike[0])) is not None] for takes in of]
            most = max((t for one in taut for t, _ in one), default=0)
            if len(keys) < 2 or not most:
                continue
            low, high = self.apart[keys[0]] = self.model.new_int_var(0, most, ""), self.model.new_int_var(0, most, "")
            for one in taut:
                total = sum(t * take for t, take in one)
                self.model.add(high >= total)
                self.model.add(low <= total + most * (1 - sum(take for _, take in one)))
            self.model.add(low <= high)
            yield MATCH * (high - low)


def _name(alike: Alike) -> str:
    """Screens that are alike for one colour are so for all."""
    return alike[0].candidate.code


def _holds(alike: Alike, suits: Suitability) -> bool:
    return any(one.candidate.code == suits.candidate.code for one in alike)
