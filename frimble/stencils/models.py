"""How stencils were washed out, and what was found to have gone wrong with them."""

from django.db import models

from frimble.people.records import AppendOnly
from frimble.screens.models import ScreenEvent
from frimble.stencils.diagnosis.models import ConfirmedCause

__all__ = ["ConfirmedCause", "Washout"]


class Washout(AppendOnly):
    """How a stencil was washed out. Append-only."""

    event = models.OneToOneField(ScreenEvent, on_delete=models.PROTECT, related_name="washout")
    soak_s = models.FloatField()
    rinse_s = models.FloatField()

    def __str__(self) -> str:
        return f"soak {self.soak_s:g} s, rinse {self.rinse_s:g} s"
