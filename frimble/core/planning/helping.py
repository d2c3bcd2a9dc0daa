"""What would help most on a day that ends late: each change tried on a plan of its own."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace

from frimble.core.planning.day import Day, Shift
from frimble.core.planning.dayplan import DayPlan, cost, ends_of
from frimble.core.planning.planning import plan_day
from frimble.core.planning.stages.going_on import with_what_goes_on

_HOUR_MIN = 60


@dataclass(frozen=True)
class Help:
    """One change of the day.

    Attributes:
        words: what is changed. late: weighted minutes late with it, as the unchanged day counts them.
        left_out: how many screens are still left out.
    """

    words: str
    late: float
    left_out: int


def what_would_help(day: Day, plan: DayPlan, seconds: float, others: Iterable[tuple[str, Day]] = ()) -> list[Help]:
    """Changes that make the day less late than its plan, the one that helps most first.

    Args:
        seconds: of search for each change. others: changes of the shop's own, each with the day as it then is.
    """
    found = []
    for words, changed in (*_changes(day), *others):
        other = plan_day(with_what_goes_on(changed), seconds)
        late = cost(day, ends_of(other.tasks)).late
        if late < plan.cost.late:
            found.append(Help(words, late, len(other.left_out)))
    return sorted(found, key=lambda h: (h.late, h.left_out))


def _changes(day: Day) -> Iterator[tuple[str, Day]]:
    later = tuple(replace(s, end=s.end + _HOUR_MIN) if s.end >= day.end else s for s in day.shifts)
    yield "one hour more", replace(day, end=day.end + _HOUR_MIN, shifts=later)
    for name, places in day.places.items():
        yield f"one more place: {name}", replace(day, places={**day.places, name: places + 1})
    everything = frozenset().union(*(s.skills for s in day.shifts)) if day.shifts else frozenset()
    yield (
        "one more pair of hands all day",
        replace(day, shifts=(*day.shifts, Shift("one more", 0, day.end, everything))),
    )
