"""How long screens take from bare frame to press, where they wait, and what another lamp or place would change."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from statistics import fmean, quantiles

from frimble.core.planning.day import Day, ScreenWork
from frimble.core.planning.dayplan import ends_of
from frimble.core.planning.search.dispatch import dispatched
from frimble.core.planning.search.occupied import Room
from frimble.core.statistics.interval import Interval

# What ends each stage, in order: the record that says that it is over.
STAGES = (
    ("degrease", "coat", "degreased, then waiting to be coated"),
    ("coat", "expose", "coated: drying, then waiting for light"),
    ("expose", "wash", "exposed, then waiting for the wash"),
    ("wash", "inspect", "washed: drying, then waiting to be inspected"),
    ("inspect", "to_press", "ready, waiting for press"),
)
# Fewer stages tell nothing.
_FEWEST = 5
# Lives are counted in minutes from 1970, which began on a Thursday.
_FIRST_MONDAY, _FIRST_MONDAY_MIN, _WEEK_MIN = date(1970, 1, 5), 4 * 1440, 7 * 1440


@dataclass(frozen=True)
class StageTime:
    """How long screens stand in one stage, minutes.

    Attributes:
        usual: median, and the quartiles beside it. number: of screens. share: of the median way from first to last.
    """

    words: str
    usual: Interval
    number: int
    share: float


@dataclass(frozen=True)
class LeadTime:
    """From the first record of a cycle to press, minutes; `bottleneck` is the stage where screens stand longest."""

    whole: Interval
    number: int
    stages: tuple[StageTime, ...]
    bottleneck: StageTime


def lead_time(lives: Sequence[Mapping[str, float]]) -> LeadTime | None:
    """Lead time by stage; None where too few screens came to press to tell.

    Args:
        lives: for each cycle the minute of its last record of each kind, on one clock.
    """
    whole = [life["to_press"] - life["degrease"] for life in lives if {"to_press", "degrease"} <= life.keys()]
    if len(whole) < _FEWEST:
        return None
    middle = _quartiles(whole)
    stages = []
    for begins, ends, words in STAGES:
        minutes = [
            life[ends] - life[begins] for life in lives if {begins, ends} <= life.keys() and life[ends] >= life[begins]
        ]
        if len(minutes) >= _FEWEST:
            usual = _quartiles(minutes)
            stages.append(StageTime(words, usual, len(minutes), usual.value / max(middle.value, 1e-9)))
    if not stages:
        return None
    return LeadTime(middle, len(whole), tuple(stages), max(stages, key=lambda s: s.usual.value))


@dataclass(frozen=True)
class WeekLead:
    """Screens that came to press in one week, named by its Monday: the middle of their lead times with its quartiles."""

    monday: date
    usual: Interval
    number: int


def by_week(lives: Sequence[Mapping[str, float]], offset_min: float = 0.0) -> list[WeekLead]:
    """Lead time by the week in which screens came to press, the earliest first; weeks without any are not there.

    Args:
        lives: as for `lead_time`, in minutes since 1970 in UTC. offset_min: of the shop's clock from UTC.
    """
    weeks: dict[float, list[float]] = defaultdict(list)
    for life in lives:
        if "to_press" in life and "degrease" in life:
            week = (life["to_press"] + offset_min - _FIRST_MONDAY_MIN) // _WEEK_MIN
            weeks[week].append(life["to_press"] - life["degrease"])
    return [
        WeekLead(_FIRST_MONDAY + timedelta(weeks=week), _quartiles(minutes), len(minutes))
        for week, minutes in sorted(weeks.items())
    ]


def _quartiles(minutes: Sequence[float]) -> Interval:
    if len(minutes) == 1:
        return Interval(minutes[0], minutes[0], minutes[0])
    low, middle, high = quantiles(minutes, n=4, method="inclusive")
    return Interval(middle, low, high)


@dataclass(frozen=True)
class Replay:
    """A real week gone through again, with one change: mean minutes from a screen's arrival to its end."""

    words: str
    mean_min: float
    unfinished: int


def replays(week: Day) -> list[Replay]:
    """The week as it was, then with one more of each workstation and one more pair of hands, the best first after it.

    Screens are taken in the order in which they came, each put where it fits first.
    """
    everything = frozenset().union(*(s.skills for s in week.shifts)) if week.shifts else frozenset[str]()
    others = [
        (f"one more: {name}", replace(week, places={**week.places, name: number + 1}))
        for name, number in week.places.items()
    ]
    hands = tuple(
        replace(s, person="one more", skills=everything) for s in week.shifts if s.person == week.shifts[0].person
    )
    others.append(("one more pair of hands", replace(week, shifts=(*week.shifts, *hands))))
    as_it_was = _replay("as it was", week)
    return [as_it_was, *sorted((_replay(words, day) for words, day in others), key=lambda r: r.mean_min)]


def _replay(words: str, week: Day) -> Replay:
    ends = ends_of(dispatched(Room(week), _as_they_came))
    took = [ends[s.code] - s.ready for s in week.screens if s.code in ends]
    return Replay(words, fmean(took) if took else 0.0, len(week.screens) - len(ends))


def _as_they_came(screen: ScreenWork) -> tuple[float, ...]:
    return (screen.ready,)
