"""Faults tapped on a drawing of the print."""

from django.db import models

from frimble.core.press.defects import PRINT_FAULTS, PrintFault
from frimble.people.records import Attributed
from frimble.stencils.models import StencilPhoto


class PrintDefect(Attributed):
    """A fault at a place of a print, mm of the film; or whether a fault of the stencil shows on it. Append-only.

    `fault` is the index of the stencil's fault on its photo; then `shows` says whether it prints, and there is no kind.
    """

    photo = models.ForeignKey(StencilPhoto, on_delete=models.PROTECT, related_name="print_defects")
    kind = models.CharField(max_length=12, blank=True)
    fault = models.PositiveIntegerField(null=True)
    shows = models.BooleanField(null=True)
    x_mm = models.FloatField(null=True)
    y_mm = models.FloatField(null=True)

    class Meta:
        app_label = "press"
        ordering = ["pk"]

    def __str__(self) -> str:
        if self.fault is None:
            return self.label
        return f"fault {self.fault + 1} {'shows' if self.shows else 'does not show'}"

    @property
    def label(self) -> str:
        """Its words on a page."""
        return PRINT_FAULTS[PrintFault(self.kind)].label
