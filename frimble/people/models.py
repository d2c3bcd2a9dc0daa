"""People of the room and the house settings they set."""

from django.contrib.auth.models import AbstractUser
from django.db import models
from simple_history.models import HistoricalRecords

from frimble.people.accounts.models import SignInCode
from frimble.people.cached.models import Change
from frimble.people.door.models import FailedTry, Session

__all__ = ["Change", "FailedTry", "HouseSetting", "Person", "Session", "SignInCode"]


class Person(AbstractUser):
    """Somebody who signs in. Role decides what may be done; units and light follow the person through all pages."""

    class Role(models.TextChoices):
        TECHNICIAN = "technician", "technician"
        LEAD = "lead", "lead"
        PRESS = "press", "press"
        TRAINEE = "trainee", "trainee"
        STATION = "station", "shared tablet"

    class Units(models.TextChoices):
        METRIC = "metric", "per cm"
        INCH = "inch", "per inch"

    class Light(models.TextChoices):
        DAY = "day", "day"
        SAFELIGHT = "safelight", "safelight"

    role = models.CharField(max_length=12, choices=Role, default=Role.TECHNICIAN)
    units = models.CharField(max_length=8, choices=Units, default=Units.METRIC)
    light = models.CharField(max_length=10, choices=Light, default=Light.DAY)
    keys = models.BooleanField(default=True)
    # Of the four digits that sign a record at a shared tablet; they alone say who, so no two people have the same.
    person_code = models.CharField(max_length=64, null=True, unique=True, editable=False)  # noqa: DJ001

    def __str__(self) -> str:
        return self.first_name or self.username

    # Signed by four digits at a shared tablet: good for records, not for what only leads do.
    by_digits = False

    @property
    def is_lead(self) -> bool:
        return self.role == self.Role.LEAD and not self.by_digits

    @property
    def is_station(self) -> bool:
        """A shared tablet: it looks, and each record at it is signed with a person's own code."""
        return self.role == self.Role.STATION

    @property
    def is_learning(self) -> bool:
        """Whether how a step is done stands open on its page."""
        return self.role == self.Role.TRAINEE

    @property
    def may_record(self) -> bool:
        """Technicians and leads record screen-room work; trainees practise, the press reports its own."""
        return self.role in (self.Role.TECHNICIAN, self.Role.LEAD)

    @property
    def may_report_press(self) -> bool:
        return self.may_record or self.role == self.Role.PRESS


class HouseSetting(models.Model):
    """A house setting the shop has changed from the core's default; its history says who, when and why."""

    key = models.CharField(max_length=60, primary_key=True)
    value = models.CharField(max_length=60)
    reason = models.CharField(max_length=300)
    changed_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    changed_at = models.DateTimeField()
    history = HistoricalRecords()

    def __str__(self) -> str:
        return f"{self.key} = {self.value}"
