"""Photos of finished stencils, what was found on them, and what people did about it."""

import secrets

from django.db import models

from frimble.films.models import ScanCheck
from frimble.people.background import BackgroundWork
from frimble.people.models import Person
from frimble.people.records import Attributed
from frimble.people.records.fields import FloatField
from frimble.people.records.validators import Holding, positive
from frimble.screens.models import Cycle, MeshInstallation


def stencil_photo_name(photo, filename: str) -> str:
    """A generated name: nothing of what was sent becomes a path."""
    return f"stencils/{secrets.token_hex(16)}"


# Decisions that leave something on the stencil which ink remover may take off again.
_MENDED = ("filler", "tape")


class StencilPhotoQuerySet(models.QuerySet):
    """Photos of stencils, by what they tell."""

    def that_tell(self):
        """Those that were held against their film and told what is there."""
        return self.filter(state=BackgroundWork.State.DONE, refused="")


class StencilPhoto(BackgroundWork):
    """A photo of a finished stencil. Written once by a person, then once by what holds it against its film.

    `result` holds side, share seen, findings in mm of the film, and pixels a mm of the straightened picture;
    `refused` why the photo tells nothing.
    """

    answers = Holding("side", "seen_share", "findings")
    objects = StencilPhotoQuerySet.as_manager()

    installation = models.ForeignKey(MeshInstallation, on_delete=models.PROTECT, related_name="stencil_photos")
    cycle = models.ForeignKey(Cycle, on_delete=models.PROTECT, null=True, related_name="stencil_photos")
    scan = models.ForeignKey(ScanCheck, on_delete=models.PROTECT, related_name="stencil_photos")
    photo = models.FileField(upload_to=stencil_photo_name, blank=True, help_text="empty where it was looked at by eye")
    straight = models.FileField(upload_to=stencil_photo_name, blank=True)
    want_mm = FloatField(validators=[positive])
    pinhole_mm = FloatField(validators=[positive])
    refused = models.CharField(max_length=300, blank=True)
    at = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        app_label = "stencils"
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return f"Photo of {self.installation.frame}'s stencil"

    @property
    def screen_code(self) -> str:
        """For the log of writes."""
        return self.installation.frame.code

    @property
    def found(self) -> dict:
        """`result`; nothing found while it is not worked out."""
        return self.result or {"findings": []}

    @property
    def number_of_faults(self) -> int:
        """Found by the photo and tapped by eye."""
        return len(self.found["findings"]) + self.tapped.count()

    @property
    def number_mended(self) -> int:
        """Faults that filler or tape lies on, by the newest decision about each."""
        newest = {d.finding: d.what for d in self.decisions.all()}
        return sum(what in _MENDED for what in newest.values())


class TappedFault(Attributed):
    """A fault that somebody saw and tapped on the drawing: its middle and size, mm of the film. Append-only.

    Its number follows those of the findings of its photo.
    """

    photo = models.ForeignKey(StencilPhoto, on_delete=models.PROTECT, related_name="tapped")
    kind = models.CharField(max_length=12)
    x_mm = models.FloatField()
    y_mm = models.FloatField()
    size_mm = FloatField(validators=[positive])

    class Meta:
        app_label = "stencils"
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.kind} at {self.x_mm:.0f}, {self.y_mm:.0f} mm"


class FindingDecision(Attributed):
    """What somebody did about one finding; the newest stands. Append-only."""

    class What(models.TextChoices):
        FILLER = "filler", "blocked with filler"
        TAPE = "tape", "taped"
        WASHED = "washed", "washed again"
        LEFT = "left", "left as it is"
        NONE = "none", "no fault"

    photo = models.ForeignKey(StencilPhoto, on_delete=models.PROTECT, related_name="decisions")
    finding = models.PositiveIntegerField()
    what = models.CharField(max_length=6, choices=What)
    reason = models.CharField(max_length=200, blank=True)

    class Meta:
        app_label = "stencils"
        ordering = ["at", "pk"]

    def __str__(self) -> str:
        return f"finding {self.finding}: {self.get_what_display()}"
