"""Plans of days, as they were made."""

from django.db import models
from django.utils import timezone

from frimble.people.models import Person
from frimble.people.records import Attributed
from frimble.people.records.fields import JSONField
from frimble.people.records.validators import Holding


class PlannedDay(Attributed):
    """A plan of the room's day with what is proven of it. Append-only: a better one, or a new one, is a new row.

    `plan` holds plain values: start, end, tasks, late, bound, left_out, why, changes that would help.
    """

    better_than = models.ForeignKey("self", on_delete=models.PROTECT, null=True, related_name="+")
    plan = JSONField(validators=[Holding("start", "end", "tasks")])

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"Plan of {timezone.localtime(self.at):%Y-%m-%d %H:%M}"


class UsualHours(models.Model):
    """When somebody is usually there, as it was typed; people without are there as long as the house's day."""

    person = models.OneToOneField(Person, on_delete=models.PROTECT, related_name="usual_hours")
    week = models.CharField(max_length=120)

    class Meta:
        verbose_name_plural = "usual hours"

    def __str__(self) -> str:
        return f"{self.person}: {self.week}"


class DayHours(models.Model):
    """When somebody is there on one day, whatever is usual; nothing typed is away."""

    person = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="day_hours")
    on = models.DateField()
    hours = models.CharField(max_length=80, blank=True)

    class Meta:
        verbose_name_plural = "hours of days"
        ordering = ["on", "person"]
        constraints = [models.UniqueConstraint(fields=["person", "on"], name="hours_of_a_day_are_one")]

    def __str__(self) -> str:
        return f"{self.person} on {self.on}: {self.hours or 'away'}"
