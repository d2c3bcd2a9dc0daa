"""Minutes still free at workstations and of people while a plan is made.

A set of minutes is a whole number, bit by bit from the day's start.
"""

from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

from frimble.core.planning.day import Day, ScreenWork, Step
from frimble.core.planning.dayplan import Task

_NONE: Mapping[int, tuple[int, int]] = {}


def minutes(start: int, end: int) -> int:
    """The minutes from start up to before end."""
    return ((1 << max(end - start, 0)) - 1) << max(start, 0)


def starts(free: int, length: int) -> int:
    """The minutes from which so many free ones follow, itself counted."""
    for shift in _halvings(length):
        free &= free >> shift
    return free


def _halvings(length: int) -> tuple[int, ...]:
    """By how much a set is shifted onto itself until a run of so many is one bit."""
    shifts: list[int] = []
    have = 1
    while have < length:
        shifts.append(min(have, length - have))
        have += shifts[-1]
    return tuple(shifts)


def runs(these: int) -> list[tuple[int, int]]:
    """The minutes as runs, first and last of each."""
    found: list[tuple[int, int]] = []
    at = 0
    while these:
        skipped = (these & -these).bit_length() - 1
        these >>= skipped
        length = (~these & (these + 1)).bit_length() - 1
        at += skipped
        found.append((at, at + length - 1))
        these >>= length
        at += length
    return found


class Spot(NamedTuple):
    """Where a step is put: its first minute, and who does it; -1 for nobody."""

    start: int
    person: int


class Work(NamedTuple):
    """A step as the search reads it: everything that does not change, worked out once."""

    minutes: int
    place: int
    able: tuple[tuple[int, int], ...] | None
    load: str | None
    start_within: int | None
    halvings: tuple[int, ...]
    ones: int


class Room:
    """A day's people and workstations by number, and its screens' steps by theirs."""

    def __init__(self, day: Day) -> None:
        self.day = day
        self.people = sorted({shift.person for shift in day.shifts})
        self.places = list(day.places)
        self.whole = minutes(0, day.horizon)
        self._able: dict[tuple[str, int], tuple[tuple[int, int], ...]] = {}
        self.work = [tuple(self.compiled(step) for step in screen.steps) for screen in day.screens]
        self.latest = [day.latest_end(screen) for screen in day.screens]

    def compiled(self, step: Step) -> Work:
        """A step as the search reads it."""
        return Work(
            step.minutes,
            -1 if step.workstation is None else self.places.index(step.workstation),
            self.able(step) if step.hands else None,
            step.load,
            step.start_within,
            _halvings(step.minutes),
            minutes(0, max(step.minutes, 1)),
        )

    def able(self, step: Step) -> tuple[tuple[int, int], ...]:
        """Who can do a step, by number, and the minutes of their hours in which it may start."""
        key = step.kind, step.minutes
        if key not in self._able:
            found: dict[int, int] = {}
            for shift in self.day.able(step):
                who = self.people.index(shift.person)
                found[who] = found.get(who, 0) | starts(minutes(shift.start, shift.end), step.minutes)
            self._able[key] = tuple(found.items())
        return self._able[key]


class Occupied:
    """What is taken in a plan that is being made.

    Attributes:
        places: of each workstation, for its first place, its second …, the minutes in which fewer are taken.
        people: of each person the minutes free. loads: of each load where it starts, who does it, and how many are in it.
    """

    __slots__ = ("loads", "people", "places", "room")

    def __init__(self, room: Room) -> None:
        self.room = room
        self.places = [[room.whole] * number for number in room.day.places.values()]
        self.people = [room.whole] * len(room.people)
        self.loads: Mapping[str, Mapping[int, tuple[int, int]]] = {}

    def copy(self) -> "Occupied":
        other = Occupied.__new__(Occupied)
        other.room, other.places, other.people = self.room, self.places[:], self.people[:]
        # Never changed, but replaced.
        other.loads = self.loads
        return other

    def place(self, number: int) -> int:
        """The minutes in which one more place of a workstation is free."""
        levels = self.places[number]
        return levels[-1] if levels else 0

    def first(self, work: Work, start: int) -> Spot | None:
        """The first minute from `start` on at which the step can be done, with the load it joins or by itself."""
        _, place, able, load, _, halvings, ones = work
        free = self.room.whole if place < 0 else self.place(place)
        at, who = -1, -1
        if able is None:
            at = _first(free >> start, halvings, ones)
        else:
            for person, may_start in able:
                found = _first_of(free & self.people[person], may_start, start, halvings, ones)
                if found >= 0 and (at < 0 or found < at):
                    at, who = found, person
                    if not at:
                        break
        spot = None if at < 0 else Spot(start + at, who)
        for begun, (whose, _) in self.loads.get(load, _NONE).items() if load else ():
            if begun >= start and (spot is None or begun <= spot.start):
                spot = Spot(begun, whose)
        return spot

    def take(self, work: Work, spot: Spot) -> None:
        start, person = spot
        if work.load:
            begun = self.loads.get(work.load, _NONE)
            whose, number = begun.get(start, (person, 0))
            self.loads = {**self.loads, work.load: {**begun, start: (whose, number + 1)}}
            if number:
                return
        taken = work.ones << start
        if person >= 0:
            self.people[person] &= ~taken
        if work.place >= 0:
            levels = self.places[work.place][:]
            for level, free in enumerate(levels):
                levels[level] = free & ~taken
                taken &= ~free
                if not taken:
                    break
            self.places[work.place] = levels

    def give_back(self, work: Work, spot: Spot) -> None:
        """What a step took is free again; what a load took, once nothing is in it any more."""
        start, person = spot
        if work.load:
            begun = dict(self.loads[work.load])
            whose, number = begun.pop(start)
            if number > 1:
                begun[start] = whose, number - 1
            self.loads = {**self.loads, work.load: begun}
            if number > 1:
                return
        given = work.ones << start
        if person >= 0:
            self.people[person] |= given
        if work.place >= 0:
            levels = self.places[work.place][:]
            for level in range(len(levels) - 1, -1, -1):
                free = levels[level]
                levels[level] = free | given
                given &= free
                if not given:
                    break
            self.places[work.place] = levels

    def put(self, number: int) -> list[Spot] | None:
        """A whole screen where it fits first; None, and nothing taken, where it does not fit.

        Too long a wait before a step moves the steps before it later.
        """
        steps, latest = self.room.work[number], self.room.latest[number]
        from_minute = [self.room.day.screens[number].ready] + [0] * (len(steps) - 1)
        found: list[Spot] = []
        ended = 0
        while len(found) < len(steps):
            k = len(found)
            work = steps[k]
            spot = self.first(work, max(from_minute[k], ended))
            if spot is None or spot.start + work.minutes > latest:
                return None
            if work.start_within is None or spot.start <= ended + work.start_within:
                found.append(spot)
                ended = spot.start + work.minutes
            elif not found:
                return None
            else:
                found.pop()
                from_minute[k - 1] = spot.start - work.start_within - steps[k - 1].minutes
                ended = found[-1].start + steps[k - 2].minutes if found else 0
        for work, spot in zip(steps, found, strict=True):
            self.take(work, spot)
        return found


def _first(free: int, halvings: tuple[int, ...], ones: int) -> int:
    """The first place of so many free minutes in a row, from the set's own first on; -1 for none."""
    if free & ones == ones:
        return 0
    for shift in halvings:
        free &= free >> shift
    return (free & -free).bit_length() - 1


def _first_of(free: int, may_start: int, start: int, halvings: tuple[int, ...], ones: int) -> int:
    """As `_first` after `start`, at one of the minutes at which somebody may start."""
    free >>= start
    may_start >>= start
    if free & ones == ones and may_start & 1:
        return 0
    for shift in halvings:
        free &= free >> shift
    free &= may_start
    return (free & -free).bit_length() - 1


def occupied(room: Room, tasks: Iterable[Task]) -> Occupied:
    """What a plan's tasks take."""
    taken = Occupied(room)
    numbers = {screen.code: k for k, screen in enumerate(room.day.screens)}
    for task in tasks:
        taken.take(room.work[numbers[task.screen]][task.step], spot_of(room, task))
    return taken


def spot_of(room: Room, task: Task) -> Spot:
    return Spot(task.start, -1 if task.person is None else room.people.index(task.person))


def tasks_of(room: Room, screen: ScreenWork, spots: Sequence[Spot]) -> list[Task]:
    return [
        Task(
            screen.code,
            k,
            spot.start,
            spot.start + step.minutes,
            room.people[spot.person] if spot.person >= 0 else None,
        )
        for k, (step, spot) in enumerate(zip(screen.steps, spots, strict=True))
    ]
