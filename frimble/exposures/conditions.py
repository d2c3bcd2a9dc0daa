"""What an exposure time rests on: the five conditions of the exposure chart."""

from functools import cached_property

from django.db import models

from frimble.coatings.models import Emulsion
from frimble.core.exposure.chart import times as chart_times
from frimble.exposures.lamps.models import Lamp
from frimble.films.models import FilmProcess
from frimble.screens.models import MeshType


class Setup(models.Model):
    """What a time rests on: the five conditions of the exposure chart."""

    CONDITIONS = ("mesh", "formula", "emulsion", "lamp", "film_process")

    mesh = models.ForeignKey(MeshType, on_delete=models.PROTECT, related_name="+")
    formula = models.CharField(max_length=60)
    emulsion = models.ForeignKey(Emulsion, on_delete=models.PROTECT, related_name="+")
    lamp = models.ForeignKey(Lamp, on_delete=models.PROTECT, related_name="+")
    film_process = models.ForeignKey(FilmProcess, on_delete=models.PROTECT, related_name="+")

    class Meta:
        abstract = True

    @cached_property
    def conditions(self) -> chart_times.Conditions:
        return chart_times.Conditions(
            str(self.mesh), self.formula, self.emulsion.name, self.lamp.name, self.film_process.name
        )

    @property
    def setup_words(self) -> str:
        return f"{self.mesh.label}, {self.formula}, {self.emulsion}, {self.lamp}, {self.film_process}"
