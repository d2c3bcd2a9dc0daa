"""What the room uses up, and every record of it."""

import secrets

from django.core.validators import MinValueValidator
from django.db import models

from frimble.core.supplies.stock import Moved
from frimble.people.records import Attributed


def sheet_name(supply, filename: str) -> str:
    """A generated name: nothing of what was sent becomes a path."""
    return f"safety/{secrets.token_hex(16)}.pdf"


class Supply(models.Model):
    """Something that is used up: film, remover, filler, tape. Emulsions have their batches.

    `a_screen` is what one planned screen takes of it, nothing where it is not tied to screens.
    """

    name = models.CharField(max_length=60, unique=True)
    code = models.CharField(max_length=40, blank=True)
    unit = models.CharField(max_length=12)
    supplier_days = models.FloatField(default=7, validators=[MinValueValidator(0)])
    a_screen = models.FloatField(null=True, blank=True, validators=[MinValueValidator(0)])
    stored_at = models.CharField(max_length=80, blank=True)
    keep_from = models.CharField(max_length=160, blank=True)
    safety_sheet = models.FileField(upload_to=sheet_name, blank=True)

    class Meta:
        ordering = ["name"]
        verbose_name_plural = "supplies"

    def __str__(self) -> str:
        return self.name


class SupplyRecord(Attributed):
    """So much came in, went out, or was counted. Append-only."""

    supply = models.ForeignKey(Supply, on_delete=models.PROTECT, related_name="records")
    kind = models.CharField(max_length=8, choices=[(kind.value, kind.value) for kind in Moved])
    amount = models.FloatField()
    batch = models.CharField(max_length=40, blank=True)
    expires_on = models.DateField(null=True, blank=True)

    def __str__(self) -> str:
        return f"{self.supply} {self.kind} {self.amount:g} {self.supply.unit}"
