"""Which screen was chosen for a job, by whom and why."""

from django.db import models

from frimble.people.models import Person
from frimble.people.records import AppendOnly
from frimble.screens.models import Frame


class ScreenChoice(AppendOnly):
    """A screen held for a job's colour from now on, or let go where no frame is named. Append-only."""

    need = models.ForeignKey("jobs.ScreenNeed", on_delete=models.PROTECT, related_name="choices")
    frame = models.ForeignKey(Frame, on_delete=models.PROTECT, null=True, related_name="+")
    because = models.CharField(max_length=240, blank=True)
    at = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["at", "pk"]

    def __str__(self) -> str:
        return f"{self.frame or 'none'} for {self.need}"
