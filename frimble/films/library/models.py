"""Films, and what was done to them by hand."""

from django.db import models
from simple_history.models import HistoricalRecords

from frimble.core.emulsion.batch import INKS
from frimble.core.film.angles import SHAPES
from frimble.films.processes.models import FilmProcess
from frimble.people.models import Person
from frimble.people.records import Attributed
from frimble.people.records.fields import FloatField
from frimble.people.records.validators import not_negative, positive


class Film(models.Model):
    """One film: what it is for, how it was made, its size, where it is kept and where it lies on a screen.

    The job is known here by its number only. The place is that of the image's middle from the frame's, right and down, so
    that it serves frames of several sizes.
    """

    name = models.CharField(max_length=80)
    job_number = models.CharField(max_length=12, blank=True)
    separation = models.CharField(max_length=60, blank=True)
    process = models.ForeignKey(FilmProcess, on_delete=models.PROTECT, null=True, related_name="films")
    kept_at = models.CharField(max_length=60, blank=True)
    ruling_lpi = FloatField(null=True, blank=True, validators=[positive])
    angle_deg = models.FloatField(null=True, blank=True)
    dot_shape = models.CharField(max_length=12, choices=list(SHAPES.items()), blank=True)
    ink = models.CharField(max_length=8, choices=list(INKS.items()), blank=True)
    width_mm = FloatField(null=True, blank=True, validators=[positive])
    height_mm = FloatField(null=True, blank=True, validators=[positive])
    centre_x_mm = models.FloatField(null=True, editable=False)
    centre_y_mm = models.FloatField(null=True, editable=False)
    turned = models.BooleanField(default=False, editable=False)
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    history = HistoricalRecords()

    class Meta:
        ordering = ["-made_at", "-pk"]

    def __str__(self) -> str:
        return f"{self.name}, {self.separation}" if self.separation else self.name

    @property
    def centre_mm(self) -> tuple[float, float] | None:
        """Where its middle lies, from the frame's middle; None while no place is kept."""
        return None if self.centre_x_mm is None else (self.centre_x_mm, self.centre_y_mm)


class TouchUp(Attributed):
    """What was done to a film by hand after it was made, with the black's density before and after. Append-only."""

    class Kind(models.TextChoices):
        PEN = "pen", "opaque pen or paint"
        SPRAY = "spray", "toner spray"
        OTHER = "other", "other"

    kind = models.CharField(max_length=8, choices=Kind, default=Kind.OTHER)
    density_before = FloatField(null=True, validators=[not_negative])
    density_after = FloatField(null=True, validators=[not_negative])
    film = models.ForeignKey(Film, on_delete=models.PROTECT, related_name="touch_ups")
    words = models.CharField(max_length=240)

    def __str__(self) -> str:
        return self.words

    @property
    def density_words(self) -> str:
        """What it did to the black; empty where nobody measured both."""
        if self.density_before is None or self.density_after is None:
            return ""
        return f"black {self.density_before:.2f} → {self.density_after:.2f}"
