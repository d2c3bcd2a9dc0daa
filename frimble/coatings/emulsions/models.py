"""Emulsions. Reference data, with history."""

from django.db import models
from simple_history.models import HistoricalRecords

from frimble.core.emulsion import batch as rules
from frimble.people.records.fields import FloatField
from frimble.people.records.validators import not_negative, positive, share


class Emulsion(models.Model):
    """A product: kind, solids, what it suits and costs, its colours. Reference data, with history."""

    class Resists(models.TextChoices):
        WATER = "water", "water-based ink"
        SOLVENT = "solvent", "solvent and plastisol ink"
        BOTH = "both", "water-based, solvent and plastisol ink"

    class Cloth(models.TextChoices):
        WHITE = "white", "white mesh"
        DYED = "dyed", "dyed mesh"
        ANY = "any", "white or dyed mesh"

    class Speed(models.TextChoices):
        SLOW = "slow", "slow, wide latitude"
        MEDIUM = "medium", "medium"
        FAST = "fast", "fast, narrow latitude"

    name = models.CharField(max_length=60, unique=True)
    kind = models.CharField(max_length=16, choices=list(rules.KINDS.items()))
    solids = FloatField(help_text="fraction of the wet emulsion", validators=[share])
    colour = models.CharField(max_length=7, default="#7FA99B")
    exposed_colour = models.CharField(max_length=7, blank=True)
    ratio = FloatField(null=True, blank=True, validators=[positive])
    resists = models.CharField(max_length=8, choices=Resists, default=Resists.BOTH)
    suits = models.CharField(max_length=8, choices=Cloth, default=Cloth.ANY)
    speed = models.CharField(max_length=8, choices=Speed, default=Speed.MEDIUM)
    finest_um = FloatField(null=True, blank=True, validators=[positive])
    cost_l = FloatField(null=True, blank=True, validators=[not_negative])
    history = HistoricalRecords()

    class Meta:
        ordering = ["name"]
        constraints = [
            models.CheckConstraint(condition=models.Q(solids__gt=0, solids__lt=1), name="solids_are_a_share")
        ]

    def __str__(self) -> str:
        return self.name
