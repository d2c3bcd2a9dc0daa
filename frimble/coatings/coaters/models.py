"""Scoop coaters and the looks along their edges."""

from django.db import models
from simple_history.models import HistoricalRecords

from frimble.core.coating.coater import CONDITIONS
from frimble.people.records import Attributed
from frimble.people.records.fields import FloatField
from frimble.people.records.validators import positive


class Coater(models.Model):
    """A scoop coater: length, edges and end caps. Reference data, with history."""

    class Ends(models.TextChoices):
        GLUED = "glued", "end caps glued"
        SLOTTED = "slotted", "end caps pushed on"
        SCREWED = "screwed", "end caps screwed"

    name = models.CharField(max_length=40, unique=True)
    length_mm = FloatField(validators=[positive])
    round_edge = models.BooleanField(default=True)
    ends = models.CharField(max_length=8, choices=Ends, blank=True)
    lipped = models.BooleanField(default=False, help_text="its ends stand out and set the angle by themselves")
    retired = models.BooleanField(default=False)
    history = HistoricalRecords()

    class Meta:
        ordering = ["length_mm", "name"]

    def __str__(self) -> str:
        return f"{self.name}, {self.length_mm:.0f} mm"


class CoaterCheck(Attributed):
    """A look along a coater's edge. Append-only."""

    coater = models.ForeignKey(Coater, on_delete=models.PROTECT, related_name="checks")
    finding = models.CharField(max_length=8, choices=[(k, v[0]) for k, v in CONDITIONS.items()])
    note = models.CharField(max_length=240, blank=True)

    def __str__(self) -> str:
        return self.get_finding_display()
