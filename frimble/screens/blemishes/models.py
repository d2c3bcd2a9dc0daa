"""Ghosts, haze, holes and spots on a mesh."""

import secrets

from django.db import models

from frimble.core.mesh import blemishes
from frimble.people.records import Attributed
from frimble.people.records.fields import FloatField
from frimble.people.records.validators import not_negative
from frimble.screens.register.models import MeshInstallation


def photo_name(blemish, filename: str) -> str:
    """A generated name: nothing of what was sent becomes a path."""
    return f"marks/{secrets.token_hex(16)}"


class Blemish(Attributed):
    """A ghost, haze, hole or spot on a mesh, mm from the frame's outer top left, print side up; or that one is gone.

    Append-only.
    """

    installation = models.ForeignKey(MeshInstallation, on_delete=models.PROTECT, related_name="blemishes")
    kind = models.CharField(max_length=8, choices=list(blemishes.BLEMISHES.items()))
    x_mm = models.FloatField()
    y_mm = models.FloatField()
    width_mm = FloatField(validators=[not_negative])
    height_mm = FloatField(validators=[not_negative])
    photo = models.FileField(upload_to=photo_name, blank=True)
    clears = models.OneToOneField("self", on_delete=models.PROTECT, null=True, related_name="cleared_by")

    def __str__(self) -> str:
        return f"{self.get_kind_display()} on {self.installation.frame}"

    def as_core(self) -> blemishes.Blemish:
        return blemishes.Blemish(self.kind, self.x_mm, self.y_mm, self.width_mm, self.height_mm)
