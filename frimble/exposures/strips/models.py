"""Control strips of production screens."""

from django.db import models

from frimble.coatings.models import Emulsion
from frimble.exposures.lamps.models import Lamp
from frimble.exposures.production.models import Exposure
from frimble.people.records import Attributed
from frimble.people.records.fields import FloatField
from frimble.people.records.validators import not_negative


class ControlStrip(Attributed):
    """The highest solid step of the small grey scale on a production screen. Append-only."""

    exposure = models.ForeignKey(Exposure, on_delete=models.PROTECT, related_name="strips")
    lamp = models.ForeignKey(Lamp, on_delete=models.PROTECT, related_name="strips")
    emulsion = models.ForeignKey(Emulsion, on_delete=models.PROTECT, related_name="+")
    step = FloatField(validators=[not_negative])

    class Meta:
        ordering = ["at", "pk"]
        indexes = [models.Index(fields=["-at"])]

    def __str__(self) -> str:
        return f"step {self.step:g}"
