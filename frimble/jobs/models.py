"""Jobs, and what each screen did on press."""

from django.db import models

from frimble.screens.models import LifeEvent


class Job(models.Model):
    """Work that screens are made for."""

    number = models.CharField(max_length=12, unique=True)
    name = models.CharField(max_length=80)
    what = models.CharField(max_length=200, blank=True)
    press_on = models.DateField(null=True, blank=True)

    class Meta:
        ordering = ["number"]

    def __str__(self) -> str:
        return f"{self.number} {self.name}"


class PressVisit(models.Model):
    """A screen sent to press for a job."""

    event = models.OneToOneField(LifeEvent, on_delete=models.PROTECT, related_name="press_visit")
    job = models.ForeignKey(Job, on_delete=models.PROTECT, null=True, related_name="visits")

    def __str__(self) -> str:
        return f"{self.event.meshing.frame} for {self.job}"


class PressReport(models.Model):
    """A screen back from press: impressions it made."""

    event = models.OneToOneField(LifeEvent, on_delete=models.PROTECT, related_name="press_report")
    impressions = models.PositiveIntegerField()

    def __str__(self) -> str:
        return f"{self.impressions} impressions"
