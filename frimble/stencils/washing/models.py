"""How stencils were washed out, and what was seen of their latent image before."""

import secrets

from django.db import models

from frimble.core.stencil.latent import LATENT_WORDS
from frimble.people.records import AppendOnly
from frimble.people.records.fields import FloatField
from frimble.people.records.validators import not_negative, positive
from frimble.screens.models import ScreenEvent


def latent_name(washout, filename: str) -> str:
    """A generated name: nothing of what was sent becomes a path."""
    return f"stencils/{secrets.token_hex(16)}"


class Washout(AppendOnly):
    """How a stencil was washed out, s, °C and cm; what is empty was not written down. Append-only."""

    class Side(models.TextChoices):
        PRINT = "print", "print side"
        SQUEEGEE = "squeegee", "squeegee side"
        BOTH = "both", "both sides"

    class Pressure(models.TextChoices):
        LOW = "low", "low, as from a hose"
        NORMAL = "normal", "normal"
        HIGH = "high", "high, or close"

    event = models.OneToOneField(ScreenEvent, on_delete=models.PROTECT, related_name="washout")
    soak_s = FloatField(validators=[not_negative])
    rinse_s = FloatField(validators=[not_negative])
    side = models.CharField(max_length=8, choices=Side, blank=True)
    pressure = models.CharField(max_length=6, choices=Pressure, blank=True)
    water_c = models.FloatField(null=True)
    distance_cm = FloatField(null=True, validators=[positive])
    latent = models.CharField(max_length=5, choices=[(k.value, w) for k, w in LATENT_WORDS.items()], blank=True)
    latent_photo = models.FileField(upload_to=latent_name, blank=True)

    class Meta:
        app_label = "stencils"

    def __str__(self) -> str:
        return f"soak {self.soak_s:g} s, rinse {self.rinse_s:g} s"
