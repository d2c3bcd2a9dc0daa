"""Racks and their slots."""

from django.db import models

from frimble.people.records.fields import FloatField
from frimble.people.records.validators import positive


class Rack(models.Model):
    """A rack as it stands: open or dark, level or not (wet coats lie level), a drying cabinet or not."""

    code = models.CharField(max_length=8, unique=True)
    name = models.CharField(max_length=60)
    dark = models.BooleanField(default=False)
    level = models.BooleanField(default=False)
    cabinet = models.BooleanField(default=False)

    class Meta:
        ordering = ["code"]

    def __str__(self) -> str:
        return self.name


class Slot(models.Model):
    """One place in a rack. Column and row count from the lower left; sizes are clear mm."""

    rack = models.ForeignKey(Rack, on_delete=models.CASCADE, related_name="slots")
    code = models.CharField(max_length=12, unique=True)
    column = models.PositiveSmallIntegerField()
    row = models.PositiveSmallIntegerField()
    width_mm = FloatField(validators=[positive])
    height_mm = FloatField(validators=[positive])

    class Meta:
        ordering = ["rack__code", "row", "column"]
        constraints = [models.UniqueConstraint(fields=["rack", "column", "row"], name="one_slot_a_place")]
        # Slots of a size are counted from the index alone.
        indexes = [models.Index(fields=["rack", "width_mm", "height_mm"])]

    def __str__(self) -> str:
        return self.code
