"""The shop's own factor films."""

from django.db import models
from simple_history.models import HistoricalRecords


class FactorFilm(models.Model):
    """A film whose columns pass known shares of the light, and what each area on it is for. Reference data, with history."""

    name = models.CharField(max_length=60, unique=True)
    factors = models.JSONField(help_text="share of the light through each column, as printed on it")
    areas = models.JSONField(default=list, help_text="[[area, what it is for], …]")
    history = HistoricalRecords()

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name

    @property
    def factor_words(self) -> str:
        return " ".join(f"{f:g}" for f in self.factors)
