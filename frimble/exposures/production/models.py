"""Light given to screens."""

from django.db import models

from frimble.exposures.chart.models import ChartEntry
from frimble.exposures.lamps.models import Lamp
from frimble.exposures.timer.models import Run
from frimble.films.models import Film, FilmProcess
from frimble.people.records import AppendOnly
from frimble.people.records.fields import FloatField
from frimble.people.records.validators import not_negative, positive
from frimble.screens.models import ScreenEvent


class Exposure(AppendOnly):
    """Light given to a screen. Append-only."""

    event = models.OneToOneField(ScreenEvent, on_delete=models.PROTECT, related_name="exposure")
    lamp = models.ForeignKey(Lamp, on_delete=models.PROTECT, related_name="+")
    film_process = models.ForeignKey(FilmProcess, on_delete=models.PROTECT, related_name="+")
    film = models.ForeignKey(Film, on_delete=models.PROTECT, null=True, related_name="exposures")
    entry = models.ForeignKey(ChartEntry, on_delete=models.PROTECT, null=True, related_name="+")
    run = models.OneToOneField(Run, on_delete=models.PROTECT, null=True, related_name="exposure")
    planned_s = FloatField(validators=[positive])
    given_s = FloatField(validators=[not_negative])
    units = FloatField(null=True, help_text="the same in the lamp's light units", validators=[not_negative])
    meter = FloatField(null=True, validators=[positive])
    sky = models.CharField(max_length=60, blank=True)

    def __str__(self) -> str:
        return f"{self.given_s:.1f} s under {self.lamp}"
