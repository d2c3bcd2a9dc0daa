"""What the page of the day's plan shows: the next thing for each person, the lanes, and what is late and why."""

from collections import defaultdict
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.utils import timezone

from frimble.core.numbers import counted
from frimble.core.units import show_minutes
from frimble.jobs.day.queries import Done
from frimble.jobs.day.tasks import PlannedTask, moment_of, planned_tasks
from frimble.jobs.models import PlannedDay
from frimble.ui.pictures.day_lanes import Bar, Lane

_LISTED = 60
_CALLED, _CALLED_LATER = ("Now", "Next", "Then"), ("First", "Next", "Then")
_WEEK_DAYS = 7
# A step so long past its planned end says that the day goes otherwise.
_BEHIND_MIN = 10


@dataclass(frozen=True)
class PersonList:
    """What one person does: now, next and then, and all the rest of the day."""

    person: str
    called: list[tuple[str, PlannedTask]]
    rest: list[PlannedTask]
    done: int


@dataclass(frozen=True)
class ScreenWords:
    """A screen, what it is made for, and what is said of it: what it waits for, or how it moved."""

    code: str
    job: str
    words: str


@dataclass(frozen=True)
class PromisedScreen:
    """When a screen is ready by the plan, and at the latest; whether it is frozen where it stands."""

    code: str
    job: str
    words: str
    due: bool
    frozen: bool


@dataclass(frozen=True)
class DayPage:
    """The whole page."""

    day: str
    headline: str
    judgement: str
    crowded: list[str]
    searching: bool
    people: list[PersonList]
    lanes: list[Lane]
    hours: list[tuple[int, str]]
    now_min: int | None
    minutes: int
    late: list[ScreenWords]
    helps: list[str]
    moved: list[ScreenWords]
    anew: str
    behind: str
    promised: list[PromisedScreen]
    at: datetime
    start: datetime
    by: object


def day_page(kept: PlannedDay, done: Done, now: datetime) -> DayPage:
    """A kept plan as it stands now; `done` says when each screen's steps were recorded."""
    plan = kept.plan
    start, end = moment_of(plan["start"]), moment_of(plan["end"])
    tasks, late = planned_tasks(plan, done), _late_codes(plan)
    minutes = int((max([end, *(t.end for t in tasks)]) - start).total_seconds() // 60)
    ahead = (start.date() - timezone.localtime(now).date()).days
    day = _day_words(start, ahead)
    return DayPage(
        day,
        _headline(plan, day),
        _judgement(plan, late),
        _crowded(plan),
        not plan["searched"],
        _people(tasks, _CALLED_LATER if ahead > 0 else _CALLED),
        _lanes(plan, tasks, start, late),
        _hours(start, minutes),
        _minute(now, start) if start <= now <= end else None,
        minutes,
        _late(plan, tasks, day, late),
        _helps(plan),
        [ScreenWords(code, plan["jobs"].get(code, ""), f"{words}.") for code, words in plan["moved"].items()],
        _anew(plan),
        _behind(tasks, now),
        _promised(plan, tasks),
        timezone.localtime(kept.at),
        start,
        kept.by,
    )


def _minute(moment: datetime, start: datetime) -> int:
    return int((moment - start).total_seconds() // 60)


def _day_words(start: datetime, ahead: int) -> str:
    """Which day is planned, so many days ahead: less than 0 where the plan is an old one."""
    near = {0: "today", 1: "tomorrow", -1: "yesterday"}
    if ahead in near:
        return near[ahead]
    return f"on {start:%A}" if abs(ahead) < _WEEK_DAYS else f"on {start.day} {start:%B}"


def _headline(plan, day: str) -> str:
    there = len({row["screen"] for row in plan["tasks"]})
    out = len(plan["left_out"])
    screens = counted(there, "screen", "screens")
    if out:
        return f"{screens} {day}, {out} not"
    return f"{screens} {day}"


def _judgement(plan, late: list[str]) -> str:
    beside = len(_unplanned(plan))
    if beside:
        return f"{_of_planned(plan, late)} {counted(beside, 'colour', 'colours')} that jobs want cannot be planned."
    return _of_planned(plan, late)


def _of_planned(plan, late: list[str]) -> str:
    if not late:
        return f"Every screen {'in it ' if _unplanned(plan) else ''}is at press in time."
    minutes, bound = plan["late"], plan["bound"]
    told = f"{counted(len(late), 'screen is', 'screens are')} late, {minutes:.0f} min in all"
    if bound >= minutes:
        return f"{told}; no plan is less late."
    return f"{told}; no plan is less late than {bound:.0f} min."


def _unplanned(plan) -> list[dict[str, str]]:
    """Plans kept from before that was looked at name none."""
    return plan.get("unplanned", [])


def _crowded(plan) -> list[str]:
    """Workstations with more screens than places; plans kept from before that was looked at name none."""
    return [
        f"{counted(held, 'screen dries', 'screens dry')} and the {name} takes {number} by the house settings: "
        f"planned as if it took {held}."
        for name, (number, held) in plan.get("crowded", {}).items()
    ]


def _late_codes(plan) -> list[str]:
    ends: dict[str, datetime] = {}
    for row in plan["tasks"]:
        end = datetime.fromisoformat(row["end"])
        ends[row["screen"]] = max(end, ends.get(row["screen"], end))
    missed_by = datetime.fromisoformat(plan["end"]) + timedelta(days=1)
    return [code for code, due in plan["due"].items() if ends.get(code, missed_by) > datetime.fromisoformat(due)]


def _people(tasks: list[PlannedTask], words: tuple[str, ...]) -> list[PersonList]:
    by_person: dict[str, list[PlannedTask]] = defaultdict(list)
    for task in tasks:
        if task.person:
            by_person[task.person].append(task)
    lists = []
    for person, own in sorted(by_person.items()):
        open_tasks = sorted((t for t in own if t.done_at is None), key=lambda t: (t.start, t.screen))
        called = list(zip(words, open_tasks, strict=False))
        lists.append(PersonList(person, called, open_tasks[len(words) : _LISTED], len(own) - len(open_tasks)))
    return lists


def _lanes(plan, tasks: list[PlannedTask], start: datetime, late: list[str]) -> list[Lane]:
    by_screen: dict[str, list[PlannedTask]] = defaultdict(list)
    for task in tasks:
        by_screen[task.screen].append(task)
    end = _minute(moment_of(plan["end"]), start)
    lanes = []
    for code, own in sorted(by_screen.items(), key=lambda item: min(t.start for t in item[1])):
        due = _minute(moment_of(plan["due"][code]), start) if code in plan["due"] else None
        bars = [
            Bar(_minute(t.start, start), _minute(t.end, start), bool(t.person), t.done_at is not None, _bar_words(t))
            for t in own
        ]
        label = f"{plan['jobs'][code]} · {code}" if code in plan["jobs"] else code
        label += ", frozen" if code in plan["frozen"] else ""
        lanes.append(Lane(label, bars, due if due is not None and 0 <= due <= end else None, code in late))
    return lanes


def _bar_words(task: PlannedTask) -> str:
    who = f", {task.person}" if task.person else ""
    return f"{task.start:%H:%M} to {task.end:%H:%M} {task.words.lower()} {task.screen}{who}"


def _hours(start: datetime, minutes: int) -> list[tuple[int, str]]:
    first = (60 - start.minute) % 60
    return [(m, f"{start + timedelta(minutes=m):%H:%M}") for m in range(first, minutes + 1, 60)]


def _late(plan, tasks, day: str, late: list[str]) -> list[ScreenWords]:
    there = {t.screen for t in tasks}
    rows = [ScreenWords(row["screen"], row["job"], f"cannot be planned: {row['words']}.") for row in _unplanned(plan)]
    for code in dict.fromkeys([*late, *plan["left_out"]]):
        waits = plan["why"].get(code, "")
        what = "late" if code in there else f"not {day}"
        rows.append(
            ScreenWords(code, plan["jobs"].get(code, ""), f"{what}: waits for {waits}." if waits else f"{what}.")
        )
    return rows


def _anew(plan) -> str:
    """What a plan that takes no heed of the earlier one would save; empty where it saves nothing."""
    anew = plan["anew"]
    if anew is None:
        return ""
    screens = counted(anew["moved"], "screen", "screens")
    return f"Planned anew, {anew['late']:.0f} min late instead of {plan['late']:.0f}, with {screens} moved."


def _behind(tasks: list[PlannedTask], now: datetime) -> str:
    """What should be done by now and is not recorded; empty where the day goes as planned."""
    over = timedelta(minutes=_BEHIND_MIN)
    open_tasks = [t for t in tasks if t.person and t.done_at is None and t.end + over < now]
    if not open_tasks:
        return ""
    first = min(open_tasks, key=lambda t: t.end)
    minutes = int((now - first.end).total_seconds() // 60)
    return (
        f"{counted(len(open_tasks), 'step', 'steps')} behind: {first.words.lower()} {first.screen} was to end "
        f"{show_minutes(minutes)} ago. Record it, or plan again."
    )


def _promised(plan, tasks: list[PlannedTask]) -> list[PromisedScreen]:
    """Screens by their end, with the end if everything dries slowly: what may be promised."""
    ends: dict[str, datetime] = {}
    for task in tasks:
        ends[task.screen] = max(task.end, ends.get(task.screen, task.end))
    rows = []
    for code, end in sorted(ends.items(), key=lambda item: (item[1], item[0])):
        latest = plan["latest"].get(code)
        promise = None if latest is None else moment_of(latest)
        due = moment_of(plan["due"][code]) if code in plan["due"] else None
        words, risky = _promise_words(end, promise, due)
        rows.append(PromisedScreen(code, plan["jobs"].get(code, ""), words, risky, code in plan["frozen"]))
    return rows


def _promise_words(end: datetime, promise: datetime | None, due: datetime | None) -> tuple[str, bool]:
    planned = f"ready {end:%H:%M}"
    if promise is None:
        return f"{planned}; not the same day if coats dry slowly", due is not None
    words = planned if promise <= end else f"{planned}, promise {promise:%H:%M}"
    if due is None or promise <= due:
        return words, False
    wanted = f"{due:%H:%M}" if due.date() == end.date() else f"{due:%-d %b %H:%M}"
    if end > due:
        return f"{words}; wanted {wanted}", True
    return f"{words}; wanted {wanted}: late if coats dry slowly", True


def _helps(plan) -> list[str]:
    return [
        f"{h['words'].capitalize()}: {h['late']:.0f} min late instead of {plan['late']:.0f}." for h in plan["helps"]
    ]
