"""What a day has: people with their hours, workstations with their places, screens with their steps.

Times are whole minutes after its start.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property
from itertools import takewhile

# A screen left out of the plan counts as ended so long after the day's end: the same time of the day after.
LEFT_OUT_MIN = 1440
# Weights that are no whole numbers are counted in thousandths.
_THOUSANDTHS = 1000


@dataclass(frozen=True)
class Shift:
    """Hours of one person, with what they can do in them; who has a break has two.

    Attributes:
        person: name. start, end: minutes after the day's start. skills: kinds of steps.
    """

    person: str
    start: int
    end: int
    skills: frozenset[str]


@dataclass(frozen=True)
class Step:
    """One piece of work on one screen, never cut in two.

    Attributes:
        kind: what is done; with `hands` somebody with this skill does it.
        minutes: how long it takes. workstation: where, None for anywhere.
        load: steps with the same name may be done together, under one lamp by one person.
        start_within: at most so many minutes after the step before has ended, for the first one after the day's
            start; None where it may wait.
        minutes_at_most: how long it may take, for promises; None where that is not known to differ.
    """

    kind: str
    minutes: int
    workstation: str | None = None
    hands: bool = True
    load: str | None = None
    start_within: int | None = None
    minutes_at_most: int | None = None


@dataclass(frozen=True)
class ScreenWork:
    """What a screen still has to go through.

    Attributes:
        code: the screen. steps: in their order. due: when the press wants it, None for any time.
        ready: no step before. weight: what a minute late counts. overtime: it may go on past the day's end.
    """

    code: str
    steps: tuple[Step, ...]
    due: int | None = None
    ready: int = 0
    weight: float = 1
    overtime: bool = False

    @property
    def running(self) -> bool:
        """Its first step is under way when the day starts."""
        return self.steps[0].start_within == 0

    @property
    def minutes_after_hands(self) -> int:
        """Of the steps after the last one that wants hands."""
        return sum(step.minutes for step in takewhile(lambda step: not step.hands, reversed(self.steps)))

    def minutes_late(self, end: int) -> int:
        return 0 if self.due is None else max(0, end - self.due)


@dataclass(frozen=True)
class Day:
    """A day to plan.

    Attributes:
        start: its first moment. end: its last minute, minutes after the start.
        shifts: hours of people. places: how many screens each workstation takes at once.
    """

    start: datetime
    end: int
    shifts: tuple[Shift, ...]
    places: Mapping[str, int]
    screens: tuple[ScreenWork, ...]

    @cached_property
    def weight_unit(self) -> int:
        """What weights are multiplied with where whole numbers are wanted."""
        return 1 if all(float(s.weight).is_integer() for s in self.screens) else _THOUSANDTHS

    @cached_property
    def weights_exact(self) -> bool:
        """No weight is rounded in whole units."""
        return all(float(s.weight * self.weight_unit).is_integer() for s in self.screens)

    @cached_property
    def left_out_end(self) -> int:
        """When a screen counts as ended that is left out, minutes after the start."""
        return self.end + LEFT_OUT_MIN

    @cached_property
    def horizon(self) -> int:
        """The last minute at which anything can usefully end."""
        if not any(s.overtime for s in self.screens):
            return self.end
        over = [screen for screen in self.screens if screen.overtime]
        last = max([self.end, *(s.end for s in self.shifts), *(s.ready for s in over)])
        # Once nobody is there any more, only what wants no hands to its end goes on.
        return min(last + sum(screen.minutes_after_hands for screen in over), self.left_out_end)

    def latest_end(self, screen: ScreenWork) -> int:
        return self.horizon if screen.overtime else self.end

    def able(self, step: Step) -> list[Shift]:
        """The hours in which somebody can do this step with their hands."""
        return [s for s in self.shifts if step.kind in s.skills and s.end - s.start >= step.minutes]
