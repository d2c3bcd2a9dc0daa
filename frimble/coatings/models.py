"""Emulsions, batches, named coat formulas, and the coats laid with them."""

from django.db import models
from simple_history.models import HistoricalRecords

from frimble.core import emulsion as rules
from frimble.people.models import Person
from frimble.people.records import AppendOnly
from frimble.screens.models import LifeEvent


class Emulsion(models.Model):
    """A product: kind, solids, colour. Reference data, with history."""

    name = models.CharField(max_length=60, unique=True)
    kind = models.CharField(max_length=16, choices=list(rules.KINDS.items()))
    solids = models.FloatField(help_text="fraction of the wet emulsion")
    colour = models.CharField(max_length=7, default="#7FA99B")
    history = HistoricalRecords()

    class Meta:
        ordering = ["name"]
        constraints = [
            models.CheckConstraint(condition=models.Q(solids__gt=0, solids__lt=1), name="solids_are_a_share")
        ]

    def __str__(self) -> str:
        return self.name


class Batch(models.Model):
    """One pot, from mixing (or opening, for ready-sensitised emulsion) to its end."""

    code = models.CharField(max_length=16, unique=True)
    emulsion = models.ForeignKey(Emulsion, on_delete=models.PROTECT, related_name="batches")
    mixed_at = models.DateTimeField()
    mixed_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    kept_c = models.FloatField(default=20)
    finished_at = models.DateTimeField(null=True, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["-mixed_at"]

    def __str__(self) -> str:
        return f"{self.code} {self.emulsion}"

    def age(self, at, standards):
        """Life used at a moment, as the core concludes it."""
        days = (at - self.mixed_at).total_seconds() / 86400
        return rules.batch_age(self.emulsion.kind, days, self.kept_c, standards)


class CoatThickness(AppendOnly):
    """Gauge readings of a finished coat, µm, and the emulsion over mesh they give."""

    event = models.OneToOneField(LifeEvent, on_delete=models.PROTECT, related_name="coat_thickness")
    coat = models.ForeignKey("Coat", on_delete=models.PROTECT, related_name="thicknesses")
    bare_um = models.FloatField()
    readings_um = models.JSONField()
    eom_um = models.FloatField()
    spread_um = models.FloatField()
    simulated = models.BooleanField(default=False)

    class Meta:
        constraints = [models.CheckConstraint(condition=models.Q(eom_um__gt=0), name="coated_is_thicker_than_bare")]

    def __str__(self) -> str:
        return f"{self.eom_um:.0f} µm over mesh"


class CoatRecipe(models.Model):
    """A coat formula the shop uses under a name, and what for."""

    name = models.CharField(max_length=60)
    formula = models.CharField(max_length=60, unique=True)
    use = models.CharField(max_length=200)

    class Meta:
        ordering = ["formula"]

    def __str__(self) -> str:
        return f"{self.formula}: {self.use}"


class Coat(models.Model):
    """One layer of a coat formula, laid from one batch, with the drying that was predicted for it (minutes)."""

    event = models.OneToOneField(LifeEvent, on_delete=models.PROTECT, related_name="coat")
    batch = models.ForeignKey(Batch, on_delete=models.PROTECT, related_name="coats")
    formula = models.CharField(max_length=60)
    layer = models.PositiveSmallIntegerField()
    air_c = models.FloatField()
    humidity = models.FloatField()
    dry_min = models.FloatField()
    dry_low_min = models.FloatField()
    dry_high_min = models.FloatField()

    def __str__(self) -> str:
        return f"{self.formula} layer {self.layer}, {self.batch}"
