"""The dark-room timer as a pure function of what was tapped and the time of day.

Nothing ticks on the server: a run is its taps. That is why a closed tab or a killed server loses nothing.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from frimble.core.conclusions import InvalidInput


class Phase(StrEnum):
    """Where a run stands."""

    READY = "ready"
    WARM_UP = "warm_up"
    LIGHT = "light"
    DONE = "done"


@dataclass(frozen=True)
class Schedule:
    """What a run is asked to do: moments of the card moves and of lamp off, s after light on; warm-up, s."""

    moves_s: tuple[float, ...]
    total_s: float
    warm_up_s: float = 0.0


@dataclass(frozen=True)
class Tap:
    """One tap: "warm_up", "start", "move" or "stop", and when, in s on any one clock."""

    kind: str
    at_s: float


@dataclass(frozen=True)
class RunTimes:
    """What a run's taps say: seconds after light on of each card move and of lamp off (None while it burns)."""

    phase: Phase
    started_s: float | None
    moves_s: tuple[float, ...]
    off_s: float | None


def read_taps(schedule: Schedule, taps: Sequence[Tap]) -> RunTimes:
    """Where a run stands after its taps.

    Raises:
        InvalidInput: a tap does not fit what came before it; the message says which.
    """
    phase, last = Phase.READY, None
    started, off = None, None
    moves: list[float] = []
    for tap in taps:
        if last is not None and tap.at_s < last:
            raise InvalidInput(f"The tap “{tap.kind}” lies before the one in front of it.", "taps")
        last = tap.at_s
        if tap.kind == "warm_up" and phase == Phase.READY and schedule.warm_up_s:
            phase = Phase.WARM_UP
        elif tap.kind == "start" and phase in (Phase.READY, Phase.WARM_UP):
            phase, started = Phase.LIGHT, tap.at_s
        elif tap.kind == "move" and started is not None and phase == Phase.LIGHT and len(moves) < len(schedule.moves_s):
            moves.append(tap.at_s - started)
        elif tap.kind == "stop" and started is not None and phase == Phase.LIGHT:
            phase, off = Phase.DONE, tap.at_s - started
        else:
            raise InvalidInput(
                f"The tap “{tap.kind}” does not fit: the run is {phase.value.replace('_', ' ')}.", "taps"
            )
    return RunTimes(phase, started, tuple(moves), off)
