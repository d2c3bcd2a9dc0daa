"""What a screen waits for that is late or left out of a plan."""

from frimble.core.planning.day import ScreenWork, Step
from frimble.core.planning.dayplan import Task, ends_of
from frimble.core.planning.search.occupied import Occupied, Room, Spot, Work, minutes, occupied, starts


def why(room: Room, tasks: list[Task]) -> dict[str, str]:
    """For every screen late or left out: the workstation or person it waits for longest, or why it cannot be in time."""
    ends = ends_of(tasks)
    reasons = {}
    for number, screen in enumerate(room.day.screens):
        end = ends.get(screen.code, room.day.left_out_end)
        if screen.code in ends and not screen.minutes_late(end):
            continue
        taken = occupied(room, [t for t in tasks if t.screen != screen.code])
        own = [t for t in tasks if t.screen == screen.code]
        reasons[screen.code] = _waits_for(room, taken, number, own)
    return reasons


def _waits_for(room: Room, taken: Occupied, number: int, own: list[Task]) -> str:
    alone = Occupied(room).put(number)
    screen = room.day.screens[number]
    if alone is None:
        return _never(room, screen)
    starts = [t.start for t in own] or [spot.start for spot in alone]
    ended, longest, blocker = screen.ready, -1, ""
    for k, (step, work) in enumerate(zip(screen.steps, room.work[number], strict=True)):
        needed = _held_up_by(room, taken, step, work, ended)
        if needed and starts[k] - ended > longest:
            longest, blocker = starts[k] - ended, needed
        ended = starts[k] + step.minutes
    return blocker or _own_steps(screen, alone)


def _held_up_by(room: Room, taken: Occupied, step: Step, work: Work, at: int) -> str:
    """What is not free at the moment the step could start; empty where nothing holds it up."""
    needed = work.ones << at
    if work.place >= 0 and needed & ~taken.place(work.place):
        return step.workstation or ""
    if work.able is None:
        return ""
    if any((may >> at) & 1 and not needed & ~taken.people[who] for who, may in work.able):
        return ""
    return _free_first(room, taken, work, at)


def _free_first(room: Room, taken: Occupied, work: Work, at: int) -> str:
    """Of all who could do it, the one who is free for it first."""
    found = []
    for who, may_start in work.able or ():
        free = taken.people[who] & room.whole
        first = starts(free, work.minutes) & may_start & ~minutes(0, at)
        found.append(((first & -first).bit_length() or room.day.horizon + 1, room.people[who]))
    return min(found)[1]


def _never(room: Room, screen: ScreenWork) -> str:
    for step in screen.steps:
        if step.hands and not room.able(step):
            return f"somebody who can {step.kind}"
        if step.workstation is not None and not room.day.places[step.workstation]:
            return step.workstation
    return "a longer day"


def _own_steps(screen: ScreenWork, alone: list[Spot]) -> str:
    ended = alone[-1].start + screen.steps[-1].minutes
    return f"nothing: its own steps take it to {ended} min after the day's start"
