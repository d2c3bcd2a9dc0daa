"""Plans of days, as they were made."""

from django.db import models

from frimble.people.models import Person
from frimble.people.records import AppendOnly


class PlannedDay(AppendOnly):
    """A plan of the room's day with what is proven of it. Append-only: a better one, or a new one, is a new row.

    `plan` holds plain values: start, end, tasks, late, bound, left_out, why, changes that would help.
    """

    better_than = models.ForeignKey("self", on_delete=models.PROTECT, null=True, related_name="+")
    plan = models.JSONField()
    at = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"Plan of {self.at:%Y-%m-%d %H:%M}"
