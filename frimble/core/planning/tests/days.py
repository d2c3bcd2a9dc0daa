"""Small days for tests."""

from datetime import datetime

from frimble.core.planning.day import Day, ScreenWork, Shift, Step

START = datetime(2026, 5, 4, 7)
# The search for a small day's plan ends as soon as none is better, proven; a machine that does much else takes longer.
ENOUGH_S = 20


def day(*screens: ScreenWork, end: int = 600, people: dict[str, tuple] | None = None, **places: int) -> Day:
    """A day of these screens; people by name with skills, there all day."""
    skills = {"A": ("work",)} if people is None else people
    shifts = tuple(Shift(name, 0, end, frozenset(kinds)) for name, kinds in skills.items())
    return Day(START, end, shifts, places, screens)


def screen(code: str, *steps: Step, **more) -> ScreenWork:
    return ScreenWork(code, steps, **more)


def work(minutes: int, **more) -> Step:
    return Step("work", minutes, **more)


def dry(minutes: int, **more) -> Step:
    return Step("dry", minutes, hands=False, **more)
