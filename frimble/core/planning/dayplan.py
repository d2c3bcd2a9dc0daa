"""A plan of a day, and what it costs."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from enum import StrEnum

from frimble.core.planning.day import Day


class Status(StrEnum):
    """How good a plan is known to be."""

    OPTIMAL = "optimal"
    FEASIBLE = "feasible"
    INFEASIBLE = "infeasible"


@dataclass(frozen=True)
class Task:
    """One step in the plan.

    Attributes:
        screen: code. step: its place in the screen's steps, from 0. start, end: minutes after the day's start.
        person: who does it, None where no hands are needed.
    """

    screen: str
    step: int
    start: int
    end: int
    person: str | None = None


@dataclass(frozen=True)
class Cost:
    """What a plan is judged by: the first counts before the second.

    Attributes:
        late: sum of weight times minutes past due. sum_of_ends: minutes after the day's start.
    """

    late: float
    sum_of_ends: int

    def __lt__(self, other: "Cost") -> bool:
        return (self.late, self.sum_of_ends) < (other.late, other.sum_of_ends)


@dataclass(frozen=True)
class DayPlan:
    """A plan with what is proven of it.

    Attributes:
        tasks: by screen and step. left_out: codes of screens that are not planned.
        bound: no plan has less `late`. bound_sum: no plan as little late has a smaller sum; None where not known.
        why: for every screen late or left out, the workstation or person it waits for.
        moved: screens that stand otherwise than in an earlier plan. seconds: that it took to find.
    """

    status: Status
    cost: Cost
    bound: float
    bound_sum: int | None
    tasks: tuple[Task, ...]
    left_out: tuple[str, ...]
    why: Mapping[str, str] = field(default_factory=dict)
    moved: tuple[str, ...] = ()
    seconds: float = 0.0

    @property
    def late_proven(self) -> bool:
        return self.status is not Status.INFEASIBLE and self.bound >= self.cost.late


def cost(day: Day, ends: Mapping[str, int]) -> Cost:
    """What it costs that screens end then; those without an end are left out."""
    counted = [(screen, ends.get(screen.code, day.left_out_end)) for screen in day.screens]
    late = sum(screen.weight * screen.minutes_late(end) for screen, end in counted)
    return Cost(late, sum(end for _, end in counted))


def ends_of(tasks: Iterable[Task]) -> dict[str, int]:
    ends: dict[str, int] = {}
    for task in tasks:
        ends[task.screen] = max(task.end, ends.get(task.screen, 0))
    return ends
