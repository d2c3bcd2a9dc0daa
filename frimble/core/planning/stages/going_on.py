"""What goes on by itself whatever is planned: it has its place, and a day may end before it does."""

from collections import Counter
from dataclasses import replace

from frimble.core.planning.day import Day, ScreenWork


def with_what_goes_on(day: Day) -> Day:
    """The day in which every step that runs without hands can go on.

    One that lasts past the day's end holds its place until then, and no later step of its screen finds time. Where more of
    them run than their workstation takes, it takes as many as are there.
    """
    screens = tuple(_until_the_end(screen, day.end) for screen in day.screens)
    held = Counter(screen.steps[0].workstation for screen in screens if _goes_on(screen))
    places = {name: max(number, held[name]) for name, number in day.places.items()}
    return replace(day, screens=screens, places=places)


def _goes_on(screen: ScreenWork) -> bool:
    return screen.running and not screen.steps[0].hands


def _until_the_end(screen: ScreenWork, end: int) -> ScreenWork:
    first, *later = screen.steps
    if not _goes_on(screen) or not later:
        return screen
    return replace(screen, steps=(replace(first, minutes=min(first.minutes, end)), *later))
