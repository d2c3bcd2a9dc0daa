"""Meshes as bought. Reference data, with history."""

from django.db import models
from simple_history.models import HistoricalRecords

from frimble.core.mesh.geometry import MeshGeometry, geometry
from frimble.people.records.fields import FloatField
from frimble.people.records.validators import positive
from frimble.ui.active_units import mesh_words


class MeshType(models.Model):
    """A cloth as bought: count, thread, colour. Reference data, with history."""

    class Colour(models.TextChoices):
        WHITE = "white", "white"
        YELLOW = "yellow", "yellow"

    count_per_cm = FloatField(validators=[positive])
    thread_um = FloatField(validators=[positive])
    colour = models.CharField(max_length=8, choices=Colour, default=Colour.WHITE)
    fabric_thickness_um = FloatField(null=True, blank=True, validators=[positive])
    measured_opening_um = FloatField(null=True, blank=True, validators=[positive])
    thermal = models.BooleanField(default=False)
    thread_assumed = models.BooleanField(default=False, help_text="the label named no thread: it is asked later")
    history = HistoricalRecords()

    class Meta:
        ordering = ["count_per_cm", "thread_um", "colour"]
        constraints = [
            models.UniqueConstraint(fields=["count_per_cm", "thread_um", "colour", "thermal"], name="one_of_each_mesh"),
            models.CheckConstraint(condition=models.Q(count_per_cm__gt=0, thread_um__gt=0), name="mesh_is_positive"),
        ]

    def __str__(self) -> str:
        kind = "thermal film" if self.thermal else self.colour
        return f"{self.count_per_cm:.0f}-{self.thread_um:.0f} {kind}"

    @property
    def label(self) -> str:
        """The mesh as whoever looks at the page knows it; `str` names it for the records."""
        kind = "thermal film" if self.thermal else self.colour
        return f"{mesh_words(self.count_per_cm, self.thread_um)} {kind}"

    def geometry(self, settings) -> MeshGeometry:
        return geometry(self.count_per_cm, self.thread_um, settings, self.fabric_thickness_um, self.measured_opening_um)
