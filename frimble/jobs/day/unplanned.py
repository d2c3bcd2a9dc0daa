"""What coming jobs want that no plan of the day can hold, with the reason."""

from collections.abc import Container, Iterable, Mapping
from datetime import datetime, timedelta

from frimble.core.lifecycle import Line, State, state_words
from frimble.core.planning.day import LEFT_OUT_MIN
from frimble.jobs.choosing.colours import WITH_STENCIL
from frimble.jobs.day.due import due_at
from frimble.jobs.models import ScreenNeed


def unplanned(needs: Iterable[ScreenNeed], planned: Container[str], end: datetime, settings) -> list[dict[str, str]]:
    """Colours whose screen cannot go on, and those without a screen that are wanted within a day of the planned one.

    Args:
        needs: with their screens. planned: codes of the screens that are planned. end: of the planned day.
    """
    latest = end + timedelta(minutes=LEFT_OUT_MIN)
    found = []
    for need in needs:
        words = _no_screen(need, latest, settings) if need.frame is None else _cannot_go_on(need, planned)
        if words:
            found.append({"screen": need.frame.code if need.frame else "", "job": need.key, "words": words})
    return found


def too_many(codes: Iterable[str], keys: Mapping[str, str], most: int) -> list[dict[str, str]]:
    """Screens held for jobs that are more than a plan takes.

    Args:
        codes: in the order of their due times, after those that are planned. keys: job and colour, by screen.
    """
    words = f"a plan takes {most} screens, and so many are due before it. Plan again once some of them are done"
    return [{"screen": code, "job": keys[code], "words": words} for code in codes if code in keys]


def _no_screen(need: ScreenNeed, latest: datetime, settings) -> str:
    due = due_at(need, settings)
    if need.beside_id or not need.number or due is None or due > latest:
        return ""
    return "no screen is chosen for it"


def _cannot_go_on(need: ScreenNeed, planned: Container[str]) -> str:
    screen = need.frame.screen
    state = State(screen.state)
    if need.frame.code in planned or state in WITH_STENCIL:
        return ""
    words = "it bears a step test" if screen.is_test else state_words(state, Line(screen.installation.line))
    return f"{words}. See to it first, or choose another screen"
