"""Light given to screens."""

from django.db import models

from frimble.exposures.chart.models import ChartEntry
from frimble.exposures.lamps.models import Lamp
from frimble.exposures.timer.models import Run
from frimble.films.models import Film, FilmProcess
from frimble.people.records import AppendOnly
from frimble.screens.models import ScreenEvent


class Exposure(AppendOnly):
    """Light given to a screen. Append-only."""

    event = models.OneToOneField(ScreenEvent, on_delete=models.PROTECT, related_name="exposure")
    lamp = models.ForeignKey(Lamp, on_delete=models.PROTECT, related_name="+")
    film_process = models.ForeignKey(FilmProcess, on_delete=models.PROTECT, related_name="+")
    film = models.ForeignKey(Film, on_delete=models.PROTECT, null=True, related_name="exposures")
    entry = models.ForeignKey(ChartEntry, on_delete=models.PROTECT, null=True, related_name="+")
    run = models.OneToOneField(Run, on_delete=models.PROTECT, null=True, related_name="exposure")
    planned_s = models.FloatField()
    given_s = models.FloatField()
    units = models.FloatField(null=True, help_text="the same in the lamp's light units")
    meter = models.FloatField(null=True)
    sky = models.CharField(max_length=60, blank=True)

    def __str__(self) -> str:
        return f"{self.given_s:.1f} s under {self.lamp}"
