"""A job is taken in, told when press wants it, and says which screens it wants."""

from datetime import date, time

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from frimble.core.coating.formula import parse_formula
from frimble.core.conclusions import InvalidInput
from frimble.films.models import Film
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
) -> Job:
    """A new job; like an earlier one, it wants the same colours with the same films.

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
        need.pk, need._state.adding, need.job, need.frame = None, True, job, None
        need.save()
    return job


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
        raise InvalidInput(f"{press_on:%d %b %Y} is past.", "press_on")


@transaction.atomic
def add_need(
    job: Job, mesh, formula: str, number: int, settings, *, colour: str = "", film: Film | None = None
) -> ScreenNeed:
    """A job wants screens of a mesh and coat for a colour; the same again changes the number.

    Raises:
        InvalidInput: the formula does not parse.
    """
    text = str(parse_formula(formula, settings))
    last = job.needs.aggregate(last=Max("position"))["last"] or 0
    same = {"job": job, "mesh": mesh, "formula": text, "colour": colour, "frame": None}
    need = ScreenNeed.objects.filter(**same).first() or ScreenNeed(position=last + 1, **same)
    need.number, need.film = number, film
    need.save()
    return need
