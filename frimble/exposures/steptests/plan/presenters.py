"""What the plan of a step test says of the chart's nearest cell."""

from dataclasses import dataclass

from frimble.exposures.chart import prediction
from frimble.exposures.room import LightRoom


@dataclass(frozen=True)
class NearestTest:
    """The test against the chart's nearest cell: its time, s, what differs in words, and whether too much does."""

    nearest_s: float
    words: str
    too_much: bool


def against_nearest(screen, lamp, film_process, room: LightRoom) -> NearestTest | None:
    """None where the chart has nothing near, or the screen no coat."""
    cell, differ = prediction.nearest_calibrated(screen, lamp, film_process, room)
    if cell is None:
        return None
    if not differ:
        return NearestTest(cell.time_s, "nothing differs, a repeat.", False)
    if len(differ) == 1:
        return NearestTest(cell.time_s, f"only the {differ[0]} differs.", False)
    words = f"{' and '.join(differ)} differ: what moves the time cannot be told apart. Change one thing at a time."
    return NearestTest(cell.time_s, words, True)
