"""What the pages of choosing screens show."""

import math
from dataclasses import dataclass, replace

from frimble.core.numbers import counted
from frimble.core.planning.choosing.assignment import Assignment, assigned
from frimble.core.planning.choosing.suitability import Candidate, Candidates, Suitability, Want
from frimble.core.units import show_minutes
from frimble.jobs.models import ScreenNeed

_SHOWN = 12


@dataclass(frozen=True)
class Choice:
    """The screens for one colour: those that fit, the best first, and the nearest of the others."""

    fitting: list[Suitability]
    others: list[Suitability]
    more: int
    headline: str


def choice(wanted: Want, screens: list[Candidate], settings) -> Choice:
    there = Candidates(screens, settings)
    fitting, others = there.fitting(wanted), there.others(wanted)
    if fitting:
        headline = f"{fitting[0].candidate.code} suits best"
    elif others:
        headline = f"None fits; {others[0].candidate.code} is nearest"
    else:
        headline = f"No screen carries {wanted.mesh}"
    return Choice(fitting[:_SHOWN], others[:_SHOWN], max(0, len(fitting) - _SHOWN), headline)


@dataclass(frozen=True)
class WeekRow:
    """One colour of the coming jobs, and the screen that would be held for it."""

    need: ScreenNeed
    code: str
    words: str


@dataclass(frozen=True)
class Week:
    """All colours without a screen, assigned together."""

    rows: list[WeekRow]
    headline: str
    judgement: str
    pairs: str


class _Assigned:
    """The choice for many colours, kept until anything that it rests on changes: to find it takes seconds."""

    def __init__(self) -> None:
        self.last: tuple[object, Assignment | None] = (None, None)

    def __call__(self, wants: list[Want], screens: list[Candidate], settings) -> Assignment:
        asked, (before, found) = (wants, screens, settings.changes), self.last
        if found is None or asked != before:
            found = assigned(wants, screens, settings)
            self.last = asked, found
        return found


_ASSIGNED = _Assigned()


def week(needs: list[ScreenNeed], wants: list[Want], screens: list[Candidate], settings) -> Week:
    """Screens for every colour that has none; each of several alike is a colour of its own."""
    keyed = [replace(want, key=str(k)) for k, want in enumerate(wants)]
    found = _ASSIGNED(keyed, screens, settings)
    rows = [
        WeekRow(need, found.chosen.get(want.key, ""), _words(found, want.key))
        for need, want in zip(needs, keyed, strict=True)
    ]
    have = len(found.chosen)
    colours = counted(len(rows), "colour has a screen", "colours have a screen")
    headline = f"{have} of {colours} that suits" if rows else "No colour waits for a screen"
    saves = f"saves more than {show_minutes(math.ceil(found.saves_at_most_min))}"
    judgement = f"No other choice {saves if found.saves_at_most_min else 'costs less'}."
    pairs = " ".join(f"{row.need.pk}:{row.code}" for row in rows if row.code)
    return Week(rows, headline, judgement if have else "", pairs)


def _words(found: Assignment, key: str) -> str:
    if key in found.without:
        return found.without[key]
    ties = found.ties.get(key, ())
    return f"{', '.join(ties[:3])} would do as well." if ties else ""
