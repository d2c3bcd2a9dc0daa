"""Gauge readings of coats."""

from django.db import models

from frimble.people.records import AppendOnly
from frimble.people.records.fields import FloatField, JSONField
from frimble.people.records.validators import not_negative, numbers, positive
from frimble.screens.models import ScreenEvent


class CoatThickness(AppendOnly):
    """Gauge readings of a finished coat, µm, and the emulsion over mesh they give. Append-only."""

    event = models.OneToOneField(ScreenEvent, on_delete=models.PROTECT, related_name="coat_thickness")
    coat = models.ForeignKey("Coat", on_delete=models.PROTECT, related_name="thicknesses")
    bare_um = FloatField(validators=[positive])
    readings_um = JSONField(validators=[numbers])
    eom_um = FloatField(validators=[positive])
    spread_um = FloatField(validators=[not_negative])
    simulated = models.BooleanField(default=False)

    class Meta:
        constraints = [models.CheckConstraint(condition=models.Q(eom_um__gt=0), name="coated_is_thicker_than_bare")]

    def __str__(self) -> str:
        return f"{self.eom_um:.0f} µm over mesh"
