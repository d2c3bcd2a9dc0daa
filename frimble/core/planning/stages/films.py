"""Films that screens still want, made while these dry: in the gaps of hands before each exposure."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

from frimble.core.planning.day import Day, Step
from frimble.core.planning.dayplan import DayPlan, Task
from frimble.core.planning.search.occupied import Room, Spot, occupied
from frimble.core.planning.stages.way import EXPOSE

# A film made beside its screen is no step of the screen's own.
BESIDE = -1
# Each that found no gap costs another plan; in the last of them all films come first.
_MOST_PLANS = 4


@dataclass(frozen=True)
class FilmPlan:
    """A plan with the films that it wants.

    Attributes:
        day: as it was planned, with films that found no gap as the first step of their screens. plan: of it.
        films: the others, one task each; their step is BESIDE.
    """

    day: Day
    plan: DayPlan
    films: tuple[Task, ...] = ()


def plan_with_films(day: Day, films: Mapping[str, Step], plan: Callable[[Day], DayPlan]) -> FilmPlan:
    """The day planned, each film before its screen is exposed.

    Args:
        films: by the screens that want one. plan: makes the plan of a day.
    """
    made_first: set[str] = set()
    for last in [False] * (_MOST_PLANS - 1) + [True]:
        if last:
            made_first = set(films)
        asked = _with_film_first(day, films, made_first)
        found = plan(asked)
        beside = {code: step for code, step in films.items() if code not in made_first}
        tasks, without = _between(asked, found.tasks, beside)
        if not without or last:
            break
        made_first |= without
    return FilmPlan(asked, found, tuple(tasks))


def _with_film_first(day: Day, films: Mapping[str, Step], codes: set[str]) -> Day:
    """What dries goes on all the same: the film comes after it."""
    screens = []
    for screen in day.screens:
        if screen.code in codes:
            at = 1 if screen.running else 0
            screen = replace(screen, steps=(*screen.steps[:at], films[screen.code], *screen.steps[at:]))
        screens.append(screen)
    return replace(day, screens=tuple(screens))


def _between(day: Day, tasks: Sequence[Task], films: Mapping[str, Step]) -> tuple[list[Task], set[str]]:
    """Films in what the plan leaves free, the first exposed first; and the screens whose film finds no gap."""
    room = Room(day)
    taken = occupied(room, tasks)
    made, without = [], set()
    for exposure in sorted(_exposures(day, tasks), key=lambda t: (t.start, t.screen)):
        step = films.get(exposure.screen)
        if step is None:
            continue
        work = room.compiled(step)
        spot = taken.first(work, 0)
        if spot is None or spot.start + step.minutes > exposure.start:
            without.add(exposure.screen)
            continue
        taken.take(work, Spot(spot.start, spot.person))
        made.append(Task(exposure.screen, BESIDE, spot.start, spot.start + step.minutes, room.people[spot.person]))
    return made, without


def _exposures(day: Day, tasks: Sequence[Task]) -> list[Task]:
    steps = {screen.code: screen.steps for screen in day.screens}
    return [task for task in tasks if steps[task.screen][task.step].kind == EXPOSE]
