"""What each screen did on press."""

from django.db import models

from frimble.people.records import AppendOnly
from frimble.people.records.fields import JSONField
from frimble.people.records.validators import words
from frimble.press.defects.models import PrintDefect
from frimble.press.feedback.models import PressFeedback
from frimble.screens.models import ScreenEvent


class PressVisit(AppendOnly):
    """A screen sent to press for a job, which is known by name here: jobs come after the press. Append-only."""

    event = models.OneToOneField(ScreenEvent, on_delete=models.PROTECT, related_name="press_visit")
    job = models.ForeignKey("jobs.Job", on_delete=models.PROTECT, null=True, related_name="visits")
    passed_over = JSONField(default=list, help_text="checks of the gate that somebody went past", validators=[words])
    went_on_because = models.CharField(max_length=300, blank=True)

    def __str__(self) -> str:
        return f"{self.event.installation.frame} for {self.job}"


class PressReport(AppendOnly):
    """A screen back from press: impressions it made. Append-only."""

    event = models.OneToOneField(ScreenEvent, on_delete=models.PROTECT, related_name="press_report")
    impressions = models.PositiveIntegerField()

    def __str__(self) -> str:
        return f"{self.impressions} impressions"


__all__ = ["PressFeedback", "PressReport", "PressVisit", "PrintDefect"]
