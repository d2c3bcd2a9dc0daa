"""Which screen was chosen for a job, by whom and why."""

from django.db import models

from frimble.people.records import Attributed
from frimble.screens.models import Frame


class ScreenChoice(Attributed):
    """A screen held for a job's colour from now on, or let go where no frame is named. Append-only."""

    need = models.ForeignKey("jobs.ScreenNeed", on_delete=models.PROTECT, related_name="choices")
    frame = models.ForeignKey(Frame, on_delete=models.PROTECT, null=True, related_name="+")
    because = models.CharField(max_length=240, blank=True)

    def __str__(self) -> str:
        return f"{self.frame or 'none'} for {self.need}"
