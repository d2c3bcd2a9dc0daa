"""Screens whose first step is under way: what of them can go on."""

from dataclasses import replace

from frimble.core.planning.day import Day, ScreenWork
from frimble.core.planning.dayplan import Task
from frimble.core.planning.search.model import PartModel
from frimble.core.planning.search.occupied import Occupied, Room, tasks_of

_SECONDS = 3.0


def with_held_places(day: Day) -> tuple[Day, tuple[str, ...]] | None:
    """The day to search, with the screens that cannot be planned whole though their first step goes on.

    Those keep the place that they hold, and nothing else.

    Returns:
        None where a running step itself cannot go on.
    """
    begun = [screen for screen in day.screens if screen.running]
    if whole(Room(replace(day, screens=tuple(begun)))) is not None:
        return day, ()
    only_first = {screen.code: _first_step(screen) for screen in begun}
    if whole(Room(replace(day, screens=tuple(only_first.values())))) is None:
        return None
    for screen in sorted(begun, key=lambda s: -s.weight):
        held = only_first.pop(screen.code)
        trial = [only_first.get(s.code, s) for s in begun]
        if whole(Room(replace(day, screens=tuple(trial)))) is None:
            only_first[screen.code] = held
    return replace(day, screens=tuple(only_first.get(s.code, s) for s in day.screens)), tuple(only_first)


def _first_step(screen: ScreenWork) -> ScreenWork:
    return replace(screen, steps=screen.steps[:1], due=None, weight=0)


def whole(room: Room) -> list[Task] | None:
    """A plan of a day whose screens are all under way; None where not all can go on."""
    taken = Occupied(room)
    spots = [taken.put(k) for k in range(len(room.day.screens))]
    if all(spots):
        return [
            t for own, screen in zip(spots, room.day.screens, strict=True) for t in tasks_of(room, screen, own or ())
        ]
    found = PartModel(room, [], {screen.code for screen in room.day.screens}).solve(_SECONDS)
    return None if found is None else found[0]
