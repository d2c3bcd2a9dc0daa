"""A list handed in and not yet taken over."""

from django.db import models

from frimble.core.numbers import counted
from frimble.people.models import Person


class Draft(models.Model):
    """The rows of a list while its dry run is looked at; deleted once taken over."""

    headings = models.JSONField()
    rows = models.JSONField()
    notes = models.JSONField(default=list)
    at = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="+")

    def __str__(self) -> str:
        return f"list of {counted(len(self.rows), 'row')}"
