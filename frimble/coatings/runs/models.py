"""Coating runs and each screen's turn in one."""

from django.db import models

from frimble.coatings.batches.models import Batch
from frimble.coatings.coaters.models import Coater
from frimble.coatings.coats.models import FILLS, INKS, Coat
from frimble.people.models import Person
from frimble.screens.models import Screen


class CoatingRun(models.Model):
    """Several screens coated in one go: what was poured, what came back, and that the coater was washed."""

    batch = models.ForeignKey(Batch, on_delete=models.PROTECT, related_name="runs")
    coater = models.ForeignKey(Coater, on_delete=models.PROTECT, related_name="runs")
    fill = models.CharField(max_length=12, choices=FILLS)
    ink = models.CharField(max_length=8, choices=INKS, blank=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    started_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-started_at"]

    def __str__(self) -> str:
        return f"Coating run {self.pk}"


class RunScreen(models.Model):
    """One screen's turn in a coating run."""

    run = models.ForeignKey(CoatingRun, on_delete=models.PROTECT, related_name="screens")
    screen = models.ForeignKey(Screen, on_delete=models.PROTECT, related_name="+")
    number = models.PositiveSmallIntegerField()
    formula = models.CharField(max_length=60)
    coat = models.OneToOneField(Coat, on_delete=models.PROTECT, null=True, related_name="turn")
    left_out = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["run", "screen"], name="a_screen_has_one_turn_in_a_run")]

    def __str__(self) -> str:
        return f"{self.screen} in {self.run}"
