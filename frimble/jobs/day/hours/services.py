"""Who is there when is said: the usual week of a person, and single days."""

from datetime import date

from django.utils import timezone

from frimble.core.conclusions import InvalidInput
from frimble.core.planning.hours import AWAY, hours_of_day, hours_of_week
from frimble.jobs.models import DayHours, UsualHours


def say_usual(person, week: str) -> str:
    """What a person's week usually is, in words; nothing typed is the house's day again.

    Raises:
        InvalidInput: hours that cannot be read.
    """
    week = " ".join(week.split())
    try:
        hours_of_week(week)
    except InvalidInput as error:
        raise InvalidInput(str(error), "week") from error
    if not week:
        UsualHours.objects.filter(person=person).delete()
        return f"{person} is there as long as the house's day"
    UsualHours.objects.update_or_create(person=person, defaults={"week": week})
    return f"{person} is usually there {week}"


def say_day(person, on: date, hours: str) -> str:
    """When a person is there on one day, in words.

    Raises:
        InvalidInput: a day that is past, or hours that cannot be read.
    """
    if on < timezone.localdate():
        raise InvalidInput("That day is past.", "on")
    try:
        there = hours_of_day(hours)
    except InvalidInput as error:
        raise InvalidInput(str(error), "hours") from error
    hours = hours.strip() if there else ""
    DayHours.objects.update_or_create(person=person, on=on, defaults={"hours": hours})
    return f"{person} is {f'there {hours}' if hours else AWAY} on {on:%A %-d %B}"


def as_usual(pk: int) -> None:
    """Nothing else than the usual is said of that day any more."""
    DayHours.objects.filter(pk=pk).delete()
