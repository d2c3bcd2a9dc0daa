"""A job is taken in, told when press wants it, and says which screens it wants."""

from datetime import date, time

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from frimble.core.coating.formula import parse_formula
from frimble.core.conclusions import InvalidInput
from frimble.films.models import Film
from frimble.jobs.choosing.meshes import suggested
from frimble.jobs.choosing.services import take_kept
from frimble.jobs.models import Job, ScreenNeed


@transaction.atomic
def add_job(
    *,
    number: str,
    name: str,
    what: str = "",
    press_on: date | None = None,
    press_time: time | None = None,
    like: Job | None = None,
    person,
    settings,
) -> Job:
    """A new job; like an earlier one, it wants the same colours with the same films, and takes the stencils kept of them.

    Raises:
        InvalidInput: the number is taken, or press wants it before today.
    """
    if Job.objects.filter(number__iexact=number).exists():
        raise InvalidInput(f"There is a job {number} already.", "number")
    _check_day(press_on)
    job = Job.objects.create(
        number=number, name=name, what=what or (like.what if like else ""), press_on=press_on, press_time=press_time
    )
    for need in like.needs.all() if like else ():
        need.pk, need._state.adding, need.job, need.frame, need.beside = None, True, job, None, None
        need.number = max(1, need.number)
        need.save()
    take_kept(job, person, settings)
    return job


def kept_words(job: Job) -> str:
    """Which kept stencils a new job has taken; empty for none."""
    held = [
        f"{need.frame.code} for {need.colour}" for need in job.needs.filter(frame__isnull=False).select_related("frame")
    ]
    return f"Kept stencils are taken: {', '.join(held)}." if held else ""


def set_time(job: Job, *, press_on: date | None, press_time: time | None) -> Job:
    """When the press wants it.

    Raises:
        InvalidInput: before today, or an hour without a day.
    """
    if press_on != job.press_on:
        _check_day(press_on)
    if press_time and not press_on:
        raise InvalidInput("An hour wants its day.", "press_on")
    job.press_on, job.press_time = press_on, press_time
    job.save()
    return job


def _check_day(press_on: date | None) -> None:
    if press_on and press_on < timezone.localdate():
        raise InvalidInput(f"{press_on:%-d %b %Y} is past.", "press_on")


@transaction.atomic
def add_need(
    job: Job, mesh, formula: str, number: int, settings, *, colour: str = "", film: Film | None = None, role: str = ""
) -> ScreenNeed:
    """A job wants screens of a mesh and coat for a colour; the same again changes the number.

    Args:
        mesh: None for the one that the chooser takes for the film's ruling and what the plate does.

    Raises:
        InvalidInput: the formula does not parse, or nothing tells which mesh.
    """
    mesh = mesh or suggested(film, role, settings)[0]
    text = str(parse_formula(formula, settings))
    last = job.needs.aggregate(last=Max("position"))["last"] or 0
    same = {"job": job, "mesh": mesh, "formula": text, "colour": colour, "frame": None}
    need = ScreenNeed.objects.filter(**same).first() or ScreenNeed(position=last + 1, **same)
    need.number, need.film = number, film
    need.save()
    return need
