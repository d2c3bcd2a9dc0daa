"""The stations of a screen's way through the room: one row each, and all that follows from the rows.

A new station is a row here; its pages find it by its name.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from frimble.core.conclusions import InvalidInput
from frimble.core.lifecycle import LIVE, Life, State


@dataclass(frozen=True)
class Station:
    """A place where the next work on a screen is done.

    Attributes:
        name: as it stands in addresses.
        states: of the screens whose next work is done here once nothing on them is wet.
        title: of its page and its stop.
        words: what stands here, a sentence.
        waiting: what follows the number of screens under its stop.
        key: that opens it from any page; empty for none.
        page: its own page, by the application's name for it; empty for the list of its screens.
        when_empty: what to do where nothing stands here.
        rank: of several screens that wait the one at the station of the highest rank goes first; 0 asks for nothing.
        wet: screens stand here while something on them dries, whatever their state.
    """

    name: str
    states: tuple[State, ...]
    title: str
    words: str
    waiting: str
    key: str = ""
    page: str = ""
    when_empty: str = "Screens come here by themselves when their work leads here. Scan one to see where it is."
    rank: int = 0
    wet: bool = False


STATIONS: tuple[Station, ...] = (
    Station(
        "coat", (State.DEGREASED, State.PART_COATED), "Coat",
        "Degreased screens that are dry, and coats that want their next layer.", "to coat", "4", rank=2,
        when_empty="Degrease a bare screen below to begin.",
    ),
    Station(
        "dry", (), "Dry", "Screens whose mesh or coat is wet.", "drying", "5", page="coatings:drying", wet=True,
    ),
    Station(
        "expose", (State.COATED,), "Expose", "Coated, dry and waiting for light.", "ready", "6", rank=3,
    ),
    Station(
        "wash", (State.EXPOSED, State.WASHED), "Wash", "Exposed screens, and stencils to inspect or to read.",
        "at booth", "7", rank=4,
    ),
    Station(
        "press", (State.READY, State.AT_PRESS), "Press", "Stencils ready for press and screens that are out.",
        "for press", "8",
    ),
    Station(
        "reclaim", (State.PRINTED, State.STRIPPED, State.FAILED), "Reclaim",
        "Back from press, ink out, or failed.", "to clear", "9", rank=1,
    ),
)  # fmt: skip

# What dries before anything else is done to it.
DRIES = frozenset({State.DEGREASED, *LIVE})

# At a station, but asking for nothing: on press, and stencils that are kept.
RESTS = frozenset({State.AT_PRESS, State.STRIPPED, State.READY})


def named(name: str) -> Station:
    """The station of a name.

    Raises:
        InvalidInput: there is none.
    """
    for station in STATIONS:
        if station.name == name:
            return station
    raise InvalidInput("There is no such station.", "name")


def furthest_first() -> list[Station]:
    """Stations whose screens ask for a hand: the one furthest along first, for it frees the room."""
    return sorted((s for s in STATIONS if s.rank), key=lambda s: -s.rank)


def station_of(life: Life, now: datetime) -> Station | None:
    """The station where a screen's next work is done; None for a bare mesh at rest."""
    if life.wet(now) and life.state in DRIES:
        return next(s for s in STATIONS if s.wet)
    return _by_state().get(life.state)


def _by_state() -> Mapping[State, Station]:
    return {state: station for station in STATIONS for state in station.states}


def waits_for_hand(life: Life, now: datetime) -> bool:
    """Whether somebody in the screen room should do something now; on press and kept stencils do not ask."""
    station = station_of(life, now)
    return station is not None and not station.wet and life.state not in RESTS
