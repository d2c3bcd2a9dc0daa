"""Jobs, the screens they want, and photographs of their designs."""

import secrets
from datetime import timedelta

from django.db import models
from django.utils import timezone

from frimble.films.models import Film
from frimble.jobs.choosing.models import ScreenChoice
from frimble.jobs.day.models import DayHours, PlannedDay, UsualHours
from frimble.jobs.losses.models import TrialConclusion, TrialNote
from frimble.jobs.refused.models import RefusedWork
from frimble.jobs.supplies.models import Supply, SupplyRecord
from frimble.jobs.upkeep.models import (
    Equipment,
    Handover,
    HandoverSignature,
    Loan,
    LoanReturn,
    UpkeepItem,
    UpkeepRecord,
)
from frimble.people.records import Attributed
from frimble.screens.models import Frame, MeshType

# A job that never came to press is waited for so long after its day.
WAITED_FOR_DAYS = 14


class JobQuerySet(models.QuerySet):
    def to_be_printed(self):
        """Jobs without a day, with one that comes, and late ones: past it by little, with colours, and never at press."""
        from frimble.press.models import PressVisit

        today = timezone.localdate()
        visits = PressVisit.objects.filter(job=models.OuterRef("pk"), event__replaced_by__isnull=True)
        not_long = models.Q(press_on__gte=today - timedelta(days=WAITED_FOR_DAYS))
        wanted = ScreenNeed.objects.filter(job=models.OuterRef("pk"))
        late = not_long & models.Exists(wanted) & ~models.Exists(visits)
        return self.filter(models.Q(press_on__isnull=True) | models.Q(press_on__gte=today) | late)


class Job(models.Model):
    """Work that screens are made for."""

    number = models.CharField(max_length=12, unique=True)
    name = models.CharField(max_length=80)
    what = models.CharField(max_length=200, blank=True)
    press_on = models.DateField(null=True, blank=True)
    press_time = models.TimeField(null=True, blank=True)

    objects = JobQuerySet.as_manager()

    class Meta:
        ordering = ["number"]

    def __str__(self) -> str:
        return f"{self.number} {self.name}"

    @property
    def is_late(self) -> bool:
        """Its day at press is past, and it has not been there."""
        past = self.press_on is not None and self.press_on < timezone.localdate()
        return past and Job.objects.to_be_printed().filter(pk=self.pk).exists()


class ScreenNeed(models.Model):
    """Screens a job wants: so many of a mesh, coated with a formula; once one is chosen, that one.

    `position` is that of its colour in the order of printing. One that is ganged up with another wants no screen of its
    own: its `number` is 0, and `beside` is the colour on whose screen it is.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="needs")
    mesh = models.ForeignKey(MeshType, on_delete=models.PROTECT, related_name="+")
    formula = models.CharField(max_length=60)
    number = models.PositiveSmallIntegerField(default=1)
    position = models.PositiveSmallIntegerField(default=0)
    colour = models.CharField(max_length=40, blank=True)
    film = models.ForeignKey(Film, on_delete=models.SET_NULL, null=True, blank=True, related_name="+")
    frame = models.ForeignKey(Frame, on_delete=models.PROTECT, null=True, blank=True, related_name="held_for")
    beside = models.ForeignKey("self", on_delete=models.SET_NULL, null=True, blank=True, related_name="ganged")

    class Meta:
        ordering = ["position", "mesh__count_per_cm", "formula", "pk"]

    def __str__(self) -> str:
        what = f"{self.number} × {self.mesh}, {self.formula}"
        return f"{self.colour}: {what}" if self.colour else what

    @property
    def key(self) -> str:
        """Job and colour in a word or two."""
        return f"{self.job.number} {self.colour}".strip()


def photo_name(photo, filename: str) -> str:
    """A generated name: nothing of what was sent becomes a path."""
    return f"photos/{secrets.token_hex(16)}"


class Photo(Attributed):
    """What film, stencil or print of a job looked like. Append-only."""

    class Shows(models.TextChoices):
        FILM = "film", "film"
        STENCIL = "stencil", "stencil"
        PRINT = "print", "print"

    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="photos")
    shows = models.CharField(max_length=8, choices=Shows)
    picture = models.FileField(upload_to=photo_name)
    words = models.CharField(max_length=160, blank=True)

    class Meta:
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return f"{self.get_shows_display()} of {self.job}"


__all__ = [
    "DayHours", "Equipment", "Handover", "HandoverSignature", "Job", "Loan", "LoanReturn", "Photo", "PlannedDay",
    "RefusedWork", "ScreenChoice", "ScreenNeed", "Supply", "SupplyRecord", "TrialConclusion", "TrialNote", "UpkeepItem",
    "UpkeepRecord", "UsualHours",
]  # fmt: skip
