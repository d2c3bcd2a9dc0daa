"""Light sources, and what was read off or done to them."""

from django.db import models
from simple_history.models import HistoricalRecords

from frimble.core.exposure.light import source as light_source
from frimble.core.exposure.light.kinds import KINDS
from frimble.people.records import Attributed
from frimble.people.records.fields import FloatField, JSONField
from frimble.people.records.validators import not_negative, positive, rows_of_numbers


class Lamp(models.Model):
    """A light source and where it stands. Reference data, with history."""

    SUN = "sun"

    name = models.CharField(max_length=40, unique=True)
    kind = models.CharField(max_length=16, choices=[(key, kind.words) for key, kind in KINDS.items()])
    distance_mm = FloatField(null=True, blank=True, validators=[positive])
    warm_up_s = FloatField(default=0, validators=[not_negative])
    start_lag_s = FloatField(default=0, validators=[not_negative])
    geometry = models.CharField(max_length=8, choices=list(light_source.GEOMETRIES.items()), default="point")
    contact = models.CharField(max_length=8, choices=list(light_source.CONTACTS.items()), default="weight")
    units_a_second = FloatField(null=True, blank=True, validators=[positive])
    changed_at = models.DateTimeField(null=True, editable=False)
    changed = models.CharField(max_length=160, blank=True, editable=False)
    history = HistoricalRecords()

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name

    @property
    def is_sun(self) -> bool:
        return self.kind == self.SUN

    @property
    def words(self) -> str:
        """Its kind and shape; the sun has but one."""
        return self.get_kind_display() if self.is_sun else f"{self.get_kind_display()}, {self.get_geometry_display()}"

    def newest(self, kind: str):
        """The newest record of a kind, or None."""
        return self.records.filter(kind=kind).order_by("-at", "-pk").first()


class LampRecord(Attributed):
    """What was read off or done to a lamp. Append-only."""

    class Kind(models.TextChoices):
        HOURS = "hours", "hours read"
        METER = "meter", "light metered"
        FIELD = "field", "field mapped"
        REPLACED = "replaced", "bulb or tubes replaced"

    lamp = models.ForeignKey(Lamp, on_delete=models.PROTECT, related_name="records")
    kind = models.CharField(max_length=8, choices=Kind)
    hours = FloatField(null=True, validators=[not_negative])
    light_mw_cm2 = FloatField(null=True, validators=[positive])
    field = JSONField(
        null=True, help_text="rows of readings, of the lamp's own meter or as shares", validators=[rows_of_numbers]
    )
    simulated = models.BooleanField(default=False)
    note = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["-at", "-pk"]
        indexes = [models.Index(fields=["lamp", "kind", "-at"])]

    def __str__(self) -> str:
        return f"{self.lamp}: {self.get_kind_display()}"
