"""A plan as plain values, its moments with their zone, as it is kept."""

from collections.abc import Sequence
from datetime import datetime, timedelta

from frimble.core.planning.dayplan import Task
from frimble.core.planning.helping import Help
from frimble.core.planning.promise import latest_ends
from frimble.core.planning.stages.films import BESIDE, FilmPlan
from frimble.core.planning.stages.way import FILM, PRINTER
from frimble.core.planning.standing import Standing
from frimble.jobs.day.queries import RoomDay
from frimble.jobs.day.words import step_words


def written(found: RoomDay, made: FilmPlan, standing: Standing, helps: Sequence[Help] = (), **more) -> dict:
    """What is kept of a plan; `more` are plain values of its own."""
    day, plan = made.day, made.plan
    steps = {screen.code: screen.steps for screen in day.screens}

    def at(minute):
        return (found.start + timedelta(minutes=minute)).isoformat()

    def row(task):
        step = None if task.step == BESIDE else steps[task.screen][task.step]
        return {
            "screen": task.screen,
            "kind": FILM if step is None else step.kind,
            "place": PRINTER if step is None else step.workstation or "",
            "start": at(task.start),
            "end": at(task.end),
            "person": task.person or "",
        }

    tasks = sorted((*plan.tasks, *made.films), key=lambda t: (t.start, t.screen, t.step))
    latest = latest_ends(day, plan.tasks)
    return {
        "start": at(0),
        "end": at(day.end),
        "tasks": [row(task) for task in tasks],
        "jobs": found.jobs,
        "numbers": found.numbers,
        "due": {s.code: at(s.due) for s in day.screens if s.due is not None},
        "latest": {code: None if end is None else at(end) for code, end in latest.items()},
        "status": plan.status,
        "late": plan.cost.late,
        "bound": plan.bound,
        "left_out": list(plan.left_out),
        "why": dict(plan.why),
        "unplanned": found.unplanned,
        "helps": [{"words": h.words, "late": h.late, "left_out": h.left_out} for h in helps],
        "moved": {code: _change(code, standing, plan.tasks, steps[code], found.start) for code in plan.moved},
        "frozen": sorted(standing.frozen & steps.keys()),
        "crowded": {name: [n, day.places[name]] for name, n in found.day.places.items() if n < day.places[name]},
    } | more


def _change(code: str, standing: Standing, tasks: Sequence[Task], steps, start: datetime) -> str:
    """The first step of a screen that stands otherwise than before, in words."""
    now = {t.step: t for t in tasks if t.screen == code}
    if not now:
        return "no longer in the plan"
    for before in standing.tasks[code]:
        task = now[before.step]
        if (task.start, task.person) != (before.start, before.person):
            return f"{step_words(steps[task.step].kind).lower()} {_when(task, start)} instead of {_when(before, start)}"
    return ""


def _when(task: Task, start: datetime) -> str:
    at = f"{start + timedelta(minutes=task.start):%H:%M}"
    return f"{at}, {task.person}" if task.person else at
