"""Looks at drying coats, and the air they dry in."""

from django.db import models

from frimble.coatings.coats.models import Coat
from frimble.core.coating import drying, dryness
from frimble.people.records import AppendOnly, Attributed
from frimble.people.records.fields import FloatField
from frimble.people.records.validators import positive, share
from frimble.screens.models import Rack, ScreenEvent


class DryCheck(AppendOnly):
    """A look at whether a coat is dry, so many minutes after it was laid. Append-only."""

    event = models.OneToOneField(ScreenEvent, on_delete=models.PROTECT, related_name="dry_check")
    coat = models.ForeignKey(Coat, on_delete=models.PROTECT, related_name="dry_checks")
    method = models.CharField(max_length=8, choices=list(dryness.METHODS.items()))
    verdict = models.CharField(max_length=10)
    elapsed_min = FloatField(validators=[positive])

    class Meta:
        ordering = ["elapsed_min"]

    def __str__(self) -> str:
        return f"{self.verdict} after {self.elapsed_min:.0f} min"


class AirReading(Attributed):
    """The air in a cabinet at a moment, as typed or as the hygrometer said. Append-only."""

    cabinet = models.ForeignKey(Rack, on_delete=models.PROTECT, related_name="air_readings")
    air_c = models.FloatField()
    humidity = FloatField(validators=[share])
    fan = models.CharField(max_length=4, choices=list(drying.FANS.items()))
    simulated = models.BooleanField(default=False)

    def __str__(self) -> str:
        return f"{self.air_c:.1f} °C, {self.humidity * 100:.0f} %, fan {self.fan}"

    @property
    def air(self) -> drying.Air:
        return drying.Air(self.air_c, self.humidity, self.fan)
