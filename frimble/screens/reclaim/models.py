"""What stands at the reclaim booth."""

from django.db import models
from simple_history.models import HistoricalRecords

from frimble.people.records.fields import FloatField
from frimble.people.records.validators import not_negative


class ReclaimProduct(models.Model):
    """What the shop uses at a step of the reclaim, with its own dwell. Reference data, with history."""

    step = models.CharField(max_length=20, unique=True)
    name = models.CharField(max_length=60)
    dwell_s = FloatField(null=True, blank=True, validators=[not_negative])
    history = HistoricalRecords()

    class Meta:
        ordering = ["step"]

    def __str__(self) -> str:
        return self.name
