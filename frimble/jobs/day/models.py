"""Plans of days, as they were made."""

from django.db import models

from frimble.people.records import Attributed


class PlannedDay(Attributed):
    """A plan of the room's day with what is proven of it. Append-only: a better one, or a new one, is a new row.

    `plan` holds plain values: start, end, tasks, late, bound, left_out, why, changes that would help.
    """

    better_than = models.ForeignKey("self", on_delete=models.PROTECT, null=True, related_name="+")
    plan = models.JSONField()

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"Plan of {self.at:%Y-%m-%d %H:%M}"
