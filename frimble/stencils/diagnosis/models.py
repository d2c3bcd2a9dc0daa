"""What was found to have gone wrong with stencils."""

from django.db import models

from frimble.core.stencil.diagnosis.causes import CAUSES
from frimble.core.stencil.diagnosis.codes import Cause
from frimble.people.records import Attributed
from frimble.people.records.fields import FloatField, JSONField
from frimble.people.records.validators import Holding, share, words
from frimble.screens.models import Cycle, MeshInstallation


class ConfirmedCause(Attributed):
    """The cause that somebody found, with what was seen and known then. A newer one of the same cycle counts instead.

    Append-only.
    """

    installation = models.ForeignKey(MeshInstallation, on_delete=models.PROTECT, related_name="confirmed_causes")
    cycle = models.ForeignKey(Cycle, on_delete=models.PROTECT, null=True, related_name="confirmed_causes")
    cause = models.CharField(max_length=32)
    symptoms = JSONField(validators=[words])
    facts = JSONField(validators=[Holding()])
    probability = FloatField(help_text="of this cause, as it was estimated", validators=[share])
    note = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return f"{self.installation.frame}: {self.label}"

    @property
    def label(self) -> str:
        """Its words on a page."""
        return CAUSES[Cause(self.cause)].label

    @property
    def screen_code(self) -> str:
        """For the log of writes."""
        return self.installation.frame.code
