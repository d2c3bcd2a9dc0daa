"""Coat formulas kept under a name."""

from django.db import models

from frimble.people.records.fields import FloatField
from frimble.people.records.validators import not_negative


class CoatRecipe(models.Model):
    """A coat formula the shop uses under a name, what for, and on which meshes and inks."""

    name = models.CharField(max_length=60)
    formula = models.CharField(max_length=60, unique=True)
    use = models.CharField(max_length=200)
    coarsest_per_cm = FloatField(default=0, validators=[not_negative])
    finest_per_cm = FloatField(default=1000, validators=[not_negative])
    inks = models.CharField(max_length=80, blank=True)

    class Meta:
        ordering = ["formula"]

    def __str__(self) -> str:
        return f"{self.formula}: {self.use}"
