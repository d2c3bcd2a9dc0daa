"""A simulated shop's past: what happened to each screen, from a fixed seed. It only makes up records; nothing is judged."""

import math
import random
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from typing import Any

# How far the last, unfinished cycle of a screen has come, as the kinds of record it has.
OPEN_CYCLES = {
    "rest": (),
    "rinsed": ("degrease",),
    "degreased": ("degrease", "dry_mesh"),
    "wet": ("degrease", "dry_mesh", "coat"),
    "coated": ("degrease", "dry_mesh", "coat"),
    "exposed": ("degrease", "dry_mesh", "coat", "expose"),
    "washed": ("degrease", "dry_mesh", "coat", "expose", "wash"),
    "ready": ("degrease", "dry_mesh", "coat", "expose", "wash", "inspect"),
    "at_press": ("degrease", "dry_mesh", "coat", "expose", "wash", "inspect", "to_press"),
    "printed": ("degrease", "dry_mesh", "coat", "expose", "wash", "inspect", "to_press", "from_press"),
    "stripped": ("degrease", "dry_mesh", "coat", "expose", "wash", "inspect", "to_press", "from_press", "strip"),
}
_JOB_CYCLE = (*OPEN_CYCLES["stripped"], "reclaim")
_TEST_CYCLE = ("degrease", "dry_mesh", "coat", "expose", "wash", "read_test", "reclaim")
# Cycles of which nothing came: their stencil failed its inspection, or the coat was taken off before it saw light.
_FAILED_CYCLE = (*OPEN_CYCLES["washed"], "inspect", "reclaim")
_SPOILED_CYCLE = (*OPEN_CYCLES["wet"], "reclaim")
_FAILED_SHARE, _SPOILED_SHARE = 0.025, 0.01
_THERMAL_CYCLE = ("image", "inspect", "to_press", "from_press")

# Minutes from one record to the next, least and most.
_GAPS = {
    "degrease": (0, 0), "dry_mesh": (8, 14), "coat": (4, 30), "expose": (90, 1100), "wash": (4, 12),
    "inspect": (25, 60), "to_press": (30, 1500), "from_press": (60, 420), "strip": (10, 90), "reclaim": (15, 200),
    "read_test": (30, 50), "image": (0, 0),
}  # fmt: skip

# Hours and day of the week when nobody is in the room.
_OPENS_H, _CLOSES_H, _SUNDAY = 7, 18, 6
_SHORT_MIN = 60


def earlier_lives(codes: Sequence[str], seed: int) -> dict[str, tuple[int, str]]:
    """(cycles, why it ended) of the mesh that each of most frames carried before, from a hidden Weibull life."""
    rng = random.Random(seed)
    lives = {}
    for code in codes:
        life = max(1, round(rng.weibullvariate(26, 2.2)))
        why = rng.choices(("slack", "torn", "haze", "other"), (6, 3, 1, 1))[0]
        if rng.random() < 0.7:
            lives[code] = (life, why)
    return lives


@dataclass(frozen=True)
class SimulatedScreen:
    """A screen's hidden truth and the past it is to have.

    Attributes:
        age_days: days since its mesh was stretched; cycles: closed since then.
        tension_n_per_cm: after stretching; log_loss: N/cm lost each time the days grow 2.7-fold; cycle_loss: for each cycle.
        now_at: a key of OPEN_CYCLES; now_minutes: how long ago its last record was made.
        test_cycle: the cycle that is a step test, or None.
    """

    code: str
    line: str
    age_days: int
    cycles: int
    tension_n_per_cm: float = 27.0
    log_loss: float = 0.55
    cycle_loss: float = 0.04
    now_at: str = "rest"
    now_minutes: float = 60.0
    test_cycle: int | None = None
    ghost: bool = False

    def tension_after(self, days: float, cycles: int) -> float:
        return self.tension_n_per_cm - self.log_loss * math.log1p(days) - self.cycle_loss * cycles


@dataclass(frozen=True)
class SimulatedRecord:
    """One made-up record: screen, cycle number (None between cycles), kind, moment, and what is particular to it."""

    code: str
    cycle: int | None
    kind: str
    at: datetime
    facts: dict[str, Any] = field(default_factory=dict[str, Any])


def past_of(screen: SimulatedScreen, now: datetime, seed: int) -> Iterator[SimulatedRecord]:
    """Every record of one screen up to `now`, in order of time."""
    rng, clock, luck = (random.Random(f"{seed} {of}{screen.code}") for of in ("", "hours ", "chance "))
    born = now - timedelta(days=screen.age_days)
    yield _tension(screen, born + timedelta(minutes=90), born, 0, rng)
    last_day = screen.age_days - 3 - math.ceil(screen.now_minutes / 1440)
    last = born
    for number in range(1, screen.cycles + 1):
        share = (number - 0.5 + rng.uniform(-0.25, 0.25)) / max(screen.cycles, 1)
        start = _morning(born + timedelta(days=max(1.0, share * last_day)), rng)
        start = max(start, last + timedelta(minutes=40))
        if number % 3 == 0:
            yield _tension(screen, start - timedelta(minutes=20), born, number - 1, rng)
        for record in _with_luck(list(_cycle(screen, number, start, rng, clock)), luck.random()):
            last = record.at
            yield record
    if screen.now_at != "rest":
        yield from _open_cycle(screen, now, rng, clock)


def past(screens: Sequence[SimulatedScreen], now: datetime, seed: int) -> list[SimulatedRecord]:
    """Every record of every screen, in order of time."""
    return sorted((r for s in screens for r in past_of(s, now, seed)), key=lambda r: (r.at, r.code))


def _morning(day: datetime, rng: random.Random) -> datetime:
    return day.replace(hour=8, minute=0, second=0, microsecond=0) + timedelta(minutes=rng.randint(0, 300))


def _tension(screen: SimulatedScreen, at: datetime, born: datetime, cycles: int, rng: random.Random) -> SimulatedRecord:
    days = (at - born).total_seconds() / 86400
    true = screen.tension_after(days, cycles)
    return SimulatedRecord(screen.code, None, "tension", at, {"true": true, "seed": rng.randint(1, 10**9)})


def _cycle(
    screen: SimulatedScreen, number: int, start: datetime, rng: random.Random, clock: random.Random
) -> Iterator[SimulatedRecord]:
    kinds = _TEST_CYCLE if number == screen.test_cycle else _JOB_CYCLE
    at = start
    for kind in kinds:
        at = _at_work(at + timedelta(minutes=rng.uniform(*_GAPS[kind])), clock)
        yield SimulatedRecord(screen.code, number, kind, at, _facts(screen, number, kind, rng))


def _with_luck(records: list[SimulatedRecord], luck: float) -> list[SimulatedRecord]:
    """The records of a cycle that went to press, or in few cases what is left of them where nothing came of it."""
    kinds = {record.kind for record in records}
    if "to_press" not in kinds or luck > _FAILED_SHARE + _SPOILED_SHARE:
        return records
    happened = _FAILED_CYCLE if luck < _FAILED_SHARE else _SPOILED_CYCLE
    return [
        replace(record, facts={"passed": False, "pinholes": 0}) if record.kind == "inspect" else record
        for record in records
        if record.kind in happened
    ]


def _at_work(at: datetime, clock: random.Random) -> datetime:
    """The moment, or the next working morning where nobody is there then."""
    if at.hour >= _CLOSES_H:
        at = at.replace(hour=0, minute=0) + timedelta(days=1)
    while at.weekday() == _SUNDAY:
        at = at.replace(hour=0, minute=0) + timedelta(days=1)
    return at if at.hour >= _OPENS_H else _opening(at, clock)


def _opening(day: datetime, clock: random.Random) -> datetime:
    return day.replace(hour=_OPENS_H, minute=0, second=0, microsecond=0) + timedelta(minutes=clock.uniform(0, 75))


def _was_at_work(at: datetime, clock: random.Random) -> datetime:
    """The moment, or the end of the working day before it where nobody was there then."""
    if at.hour < _OPENS_H:
        at -= timedelta(days=1)
        at = at.replace(hour=23)
    while at.weekday() == _SUNDAY:
        at = (at - timedelta(days=1)).replace(hour=23)
    return at if at.hour < _CLOSES_H else _opening(at, clock) + timedelta(minutes=clock.uniform(420, 500))


def _open_cycle(
    screen: SimulatedScreen, now: datetime, rng: random.Random, clock: random.Random
) -> Iterator[SimulatedRecord]:
    """The unfinished cycle, laid backwards from its last record."""
    kinds = _THERMAL_CYCLE if screen.line == "thermal" else OPEN_CYCLES[screen.now_at]
    moments, at = [], now - timedelta(minutes=screen.now_minutes)
    for kind in reversed(kinds):
        moments.append(at)
        gap = max(1, rng.uniform(*_GAPS[kind]))
        at -= timedelta(minutes=gap)
        # What was done a few minutes ago was done when the rest was, whatever the hour.
        at = _was_at_work(at, clock) if gap > _SHORT_MIN else at
    number = screen.cycles + 1
    for kind, moment in zip(kinds, reversed(moments), strict=True):
        yield SimulatedRecord(screen.code, number, kind, moment, _facts(screen, number, kind, rng))


def _facts(screen: SimulatedScreen, number: int, kind: str, rng: random.Random) -> dict[str, Any]:
    if kind == "expose":
        return {"is_test": number == screen.test_cycle, "slip": rng.gauss(0, 0.15)}
    if kind == "from_press":
        return {"impressions": int(math.exp(rng.gauss(5.3, 0.8)))}
    if kind == "wash":
        return {"soak_s": rng.choice((30, 40, 45, 60)), "rinse_s": rng.randint(60, 170)}
    if kind == "inspect":
        return {"passed": True, "pinholes": rng.choice((0, 0, 0, 1, 2, 4))}
    if kind == "reclaim":
        ghost = screen.ghost and number >= screen.cycles - 1
        outcome = "ghost" if ghost else rng.choice(("clean", "clean", "clean", "faint"))
        return {"rounds": rng.choice((1, 1, 2)), "minutes": rng.randint(5, 14), "outcome": outcome}
    return {}
