"""Exposure chart: which calibrated time holds for a screen, and when none does."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, fields
from datetime import datetime

from frimble.core.conclusions import Conclusion, Settings
from frimble.core.units import show_seconds
from frimble.core.verdicts import BatchAge, TimeRests


@dataclass(frozen=True)
class Conditions:
    """Everything a calibrated time rests on; change one and the time is no longer known."""

    mesh: str
    formula: str
    emulsion: str
    lamp: str
    film_process: str


CONDITION_WORDS = {
    "mesh": "mesh",
    "formula": "coat formula",
    "emulsion": "emulsion",
    "lamp": "lamp",
    "film_process": "film process",
}


@dataclass(frozen=True)
class CalibratedTime:
    """One accepted cell: conditions, time and window in s, when accepted, by whom."""

    conditions: Conditions
    time_s: float
    low_s: float
    high_s: float
    accepted_at: datetime
    accepted_by: str
    bracketed: bool = True


def time_for(
    wanted: Conditions,
    cells: Iterable[CalibratedTime],
    now: datetime,
    settings: Settings,
    batch_verdict: str = BatchAge.FRESH,
    doubts: Sequence[str] = (),
) -> Conclusion:
    """The calibrated time for a screen, or a refusal that names the nearest cell and what differs.

    Args:
        cells: the cells in force, one for each set of conditions.
        batch_verdict: of `core.emulsion.batch_age`, to warn that the emulsion has aged.
        doubts: what else has moved since, in sentences.
    """
    cells = list(cells)
    exact = [c for c in cells if c.conditions == wanted]
    if not exact:
        return _no_time(wanted, cells)
    cell = max(exact, key=lambda c: c.accepted_at)
    doubts = [*_doubts(cell, now, batch_verdict, settings), *doubts]
    when = f"{cell.accepted_at:%-d %B %Y}"
    reason = f"Step test accepted by {cell.accepted_by} on {when}. {' '.join(doubts)}".strip()
    return Conclusion(
        cell.time_s,
        "s",
        TimeRests.TEST_SOON if doubts else TimeRests.CALIBRATED,
        reason,
        "measured here",
        cell.low_s,
        cell.high_s,
        "a step test under today's conditions" if doubts else "",
    )


def months_apart(a: datetime, b: datetime) -> float:
    """How far two days lie apart in the round of the year, in months; 6 is the other end of it."""
    days = abs((a.date() - b.date()).days) % 365.25
    return min(days, 365.25 - days) / 365.25 * 12


def nearest(wanted: Conditions, cells: Iterable[CalibratedTime]) -> tuple[CalibratedTime | None, list[str]]:
    """The calibrated cell that differs least, the newest of several, and in what it differs, in words."""
    cells = list(cells)
    if not cells:
        return None, []
    cell = min(cells, key=lambda c: (len(_differences(wanted, c.conditions)), -c.accepted_at.timestamp()))
    return cell, [CONDITION_WORDS[d] for d in _differences(wanted, cell.conditions)]


def _no_time(wanted: Conditions, cells: list[CalibratedTime]) -> Conclusion:
    reason = "No calibrated time exists for this mesh, coat, emulsion, lamp and film."
    near, _ = nearest(wanted, cells)
    if near:
        different = _differences(wanted, near.conditions)
        conditions = ", ".join(f"{CONDITION_WORDS[d]} {getattr(near.conditions, d)}" for d in different)
        reason += f" The nearest, {show_seconds(near.time_s)}, was for {conditions}: times do not carry over."
    return Conclusion(
        None,
        "s",
        TimeRests.NOT_CALIBRATED,
        reason + " Run a step test first.",
        "exposure chart",
        next_best_measurement="a step test",
    )


def _differences(a: Conditions, b: Conditions) -> list[str]:
    return [f.name for f in fields(Conditions) if getattr(a, f.name) != getattr(b, f.name)]


def _doubts(cell: CalibratedTime, now: datetime, batch_verdict: str, settings: Settings) -> list[str]:
    doubts = []
    days = (now - cell.accepted_at).days
    if days > settings["exposure.stale_days"]:
        doubts.append(f"That was {days} days ago: lamps fade, test again.")
    if batch_verdict != BatchAge.FRESH:
        doubts.append(f"The emulsion batch is {batch_verdict}: its exposure has moved.")
    if not cell.bracketed:
        doubts.append("That test did not bracket the window.")
    return doubts
