"""What was handed in and is not yet taken over: a list of screens, or a whole shop."""

from uuid import uuid4

from django.db import models
from django.utils import timezone

from frimble.core.numbers import counted
from frimble.people.background import BackgroundWork
from frimble.people.models import Person


class Draft(models.Model):
    """The rows of a list: its dry run, then how far it is taken over. It goes when its person brings the next."""

    class State(models.TextChoices):
        LOOKED_AT = "looked_at", "looked at"
        TAKING = "taking", "being taken over"
        DONE = "done", "taken over"
        REFUSED = "refused", "not taken over"

    headings = models.JSONField()
    rows = models.JSONField()
    notes = models.JSONField(default=list)
    at = models.DateTimeField()
    # Its rows; how its columns were read when it was taken over; and how many screens are written.
    number = models.PositiveIntegerField(default=0)
    choices = models.JSONField(null=True)
    state = models.CharField(max_length=12, choices=State, default=State.LOOKED_AT)
    # Of the run that writes it: one that another has overtaken stops.
    claim = models.UUIDField(null=True)
    done = models.PositiveIntegerField(default=0)
    refusal = models.CharField(max_length=400, blank=True)
    by = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="+")

    def __str__(self) -> str:
        return f"list of {counted(len(self.rows), 'row')}"


class PackageReading(BackgroundWork):
    """A data package that is read into the empty shop. It is nobody's: the people change with it."""

    # Whoever brought it follows it by this, also when no longer signed in.
    claim = models.UUIDField(default=uuid4, unique=True)
    file = models.FileField(upload_to="packages")
    at = models.DateTimeField()

    def __str__(self) -> str:
        return f"data package of {timezone.localtime(self.at):%-d %B %Y}"
