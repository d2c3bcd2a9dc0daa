"""Film systems: each way of making film positives, with its densities."""

from django.db import models
from simple_history.models import HistoricalRecords


class FilmSystem(models.Model):
    """How a film is made. Visual and UV densities are never mixed: each value names its band."""

    name = models.CharField(max_length=60, unique=True)
    how_made = models.CharField(max_length=200, blank=True)
    widest_mm = models.FloatField(null=True, blank=True)
    dmax_visual = models.FloatField(null=True, blank=True)
    dmin_visual = models.FloatField(null=True, blank=True)
    dmax_uv = models.FloatField(null=True, blank=True)
    dmin_uv = models.FloatField(null=True, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name
