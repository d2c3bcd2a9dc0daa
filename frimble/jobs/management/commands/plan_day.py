"""A day's plan from a written day: the same rules as the page."""

import json
import time
from datetime import timedelta
from pathlib import Path

from frimble.ui.commands import AnswerCommand

# Starting the program counts as time that is given, up to this share of it; so does writing the answer.
_STARTING_SHARE, _WRITING_S = 0.25, 0.3


class Command(AnswerCommand):
    help = "Plan who does which step of which screen when: a JSON file with a day's people, stations and screens."

    def add_arguments(self, parser):
        super().add_arguments(parser)
        parser.add_argument("day", type=Path)
        parser.add_argument("--seconds", type=float, default=20, help="wall time for the search, 0 for a plan at once")

    def answer(self, options):
        from frimble.core.conclusions import InvalidInput, require_between
        from frimble.core.planning.planning import plan_day
        from frimble.core.planning.reading import read_day

        require_between(options["seconds"], 0, 3600, "The seconds", "seconds")
        try:
            written = json.loads(options["day"].read_text(encoding="utf-8"))
        except (ValueError, RecursionError):
            raise InvalidInput(f"{options['day']} is no JSON.") from None
        day, seconds = read_day(written), options["seconds"]
        # The processor's time so far: starting hardly waits for anything.
        spent = min(time.process_time() + _WRITING_S, seconds * _STARTING_SHARE)
        plan = plan_day(day, seconds - spent)
        return _plain(day, plan), _sentences(day, plan)


def _plain(day, plan) -> dict:
    return {
        "status": plan.status,
        "late": plan.cost.late,
        "late_proven": plan.late_proven,
        "bound": plan.bound,
        "sum_of_ends": plan.cost.sum_of_ends,
        "bound_sum": plan.bound_sum,
        "tasks": [
            {
                "screen": task.screen,
                "step": task.step,
                "start": _at(day, task.start),
                "end": _at(day, task.end),
                "person": task.person,
            }
            for task in plan.tasks
        ],
        "left_out": list(plan.left_out),
        "why": dict(plan.why),
        "seconds": round(plan.seconds, 2),
    }


def _at(day, minute):
    return (day.start + timedelta(minutes=minute)).isoformat(timespec="minutes")


def _sentences(day, plan) -> str:
    lines = [_judgement(plan)]
    for task in plan.tasks:
        step = {s.code: s for s in day.screens}[task.screen].steps[task.step]
        who = f", {task.person}" if task.person else ""
        where = f" at {step.workstation}" if step.workstation else ""
        lines.append(f"{_at(day, task.start)} {task.screen}: {step.kind}{where}, {step.minutes} min{who}")
    lines += [f"{code} waits for {reason}." for code, reason in plan.why.items()]
    return "\n".join(lines)


def _judgement(plan) -> str:
    late = f"{plan.cost.late:g} weighted minutes late"
    if plan.status == "infeasible":
        return "A running step cannot go on: " + ", ".join(plan.why) + "."
    if plan.late_proven:
        return f"{late}; no plan has less."
    return f"{late}; no plan has less than {plan.bound:g}."
