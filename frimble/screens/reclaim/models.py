"""What stands at the reclaim booth."""

from django.db import models
from simple_history.models import HistoricalRecords


class ReclaimProduct(models.Model):
    """What the shop uses at a step of the reclaim, with its own dwell. Reference data, with history."""

    step = models.CharField(max_length=20, unique=True)
    name = models.CharField(max_length=60)
    dwell_s = models.FloatField(null=True, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["step"]

    def __str__(self) -> str:
        return self.name
