"""Tension as it was measured, N/cm."""

from django.db import models

from frimble.people.records import AppendOnly
from frimble.people.records.fields import FloatField
from frimble.people.records.validators import not_negative
from frimble.screens.register.models import ScreenEvent


class TensionMeasurement(AppendOnly):
    """The statistics of one tension measurement, N/cm. Append-only."""

    event = models.OneToOneField(ScreenEvent, on_delete=models.PROTECT, related_name="tension")
    mean = FloatField(validators=[not_negative])
    lowest = FloatField(validators=[not_negative])
    highest = FloatField(validators=[not_negative])
    warp_mean = FloatField(validators=[not_negative])
    weft_mean = FloatField(validators=[not_negative])
    simulated = models.BooleanField(default=False)

    def __str__(self) -> str:
        return f"{self.mean:.1f} N/cm"


class TensionValue(AppendOnly):
    """One press of the gauge. Append-only."""

    measurement = models.ForeignKey(TensionMeasurement, on_delete=models.PROTECT, related_name="values")
    place = models.CharField(max_length=20)
    direction = models.CharField(max_length=4, choices=[("warp", "warp"), ("weft", "weft")])
    n_per_cm = FloatField(validators=[not_negative])

    def __str__(self) -> str:
        return f"{self.place} {self.direction} {self.n_per_cm:g}"
