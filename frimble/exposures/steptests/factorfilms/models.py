"""The shop's own factor films."""

from django.db import models
from simple_history.models import HistoricalRecords

from frimble.people.records.fields import JSONField
from frimble.people.records.validators import numbers, rows_of_words


class FactorFilm(models.Model):
    """A film whose columns pass known shares of the light, and what each area on it is for. Reference data, with history."""

    name = models.CharField(max_length=60, unique=True)
    factors = JSONField(help_text="share of the light through each column, as printed on it", validators=[numbers])
    areas = JSONField(default=list, help_text="[[area, what it is for], …]", validators=[rows_of_words])
    history = HistoricalRecords()

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name

    @property
    def factor_words(self) -> str:
        return " ".join(f"{f:g}" for f in self.factors)
