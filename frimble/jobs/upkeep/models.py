"""What is seen to again and again, on which circuit things run, and what one shift tells the next."""

from django.db import models

from frimble.people.models import Person
from frimble.people.records import Attributed
from frimble.people.records.fields import PositiveIntegerField
from frimble.people.records.validators import positive


class UpkeepItem(models.Model):
    """Something that comes due: an extinguisher, a filter, a gauge's calibration, gear, a machine's service."""

    name = models.CharField(max_length=80, unique=True)
    every_days = PositiveIntegerField(validators=[positive])
    person = models.ForeignKey(Person, on_delete=models.SET_NULL, null=True, blank=True, related_name="+")
    where = models.CharField(max_length=80, blank=True)

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name


class UpkeepRecord(Attributed):
    """It was seen to. Append-only."""

    item = models.ForeignKey(UpkeepItem, on_delete=models.PROTECT, related_name="records")
    note = models.CharField(max_length=200, blank=True)

    def __str__(self) -> str:
        return f"{self.item} on {self.at:%Y-%m-%d}"


class Equipment(models.Model):
    """A machine with its plate's rating, its circuit, and what a licensed electrician said may run beside it."""

    name = models.CharField(max_length=80, unique=True)
    circuit = models.CharField(max_length=40, blank=True)
    rating = models.CharField(max_length=60, blank=True)
    together = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["circuit", "name"]
        verbose_name_plural = "equipment"

    def __str__(self) -> str:
        return self.name


class Handover(Attributed):
    """What hangs, what is wet, what to watch, at the end of a shift; signed by whoever takes over. Append-only."""

    words = models.TextField(max_length=2000, blank=True)
    room = models.JSONField(default=list)

    def __str__(self) -> str:
        return f"Handover of {self.at:%Y-%m-%d %H:%M}"


class HandoverSignature(Attributed):
    """Somebody has read a handover. Append-only."""

    handover = models.ForeignKey(Handover, on_delete=models.PROTECT, related_name="signatures")

    class Meta(Attributed.Meta):
        constraints = [models.UniqueConstraint(fields=["handover", "by"], name="a_handover_is_signed_once_by_each")]

    def __str__(self) -> str:
        return f"{self.by} read {self.handover}"


class Loan(Attributed):
    """Something of the room that somebody has taken away, and when it is wanted back. Append-only."""

    what = models.CharField(max_length=80)
    to = models.CharField(max_length=80)
    back_by = models.DateField(null=True)

    def __str__(self) -> str:
        return f"{self.what}, lent to {self.to}"


class LoanReturn(Attributed):
    """It is back. Append-only."""

    loan = models.OneToOneField(Loan, on_delete=models.PROTECT, related_name="back")

    def __str__(self) -> str:
        return f"{self.loan.what} is back"
