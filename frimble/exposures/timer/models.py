"""Uses of the dark-room timer, and their taps."""

from django.db import models

from frimble.core.exposure import timer
from frimble.exposures.lamps.models import Lamp
from frimble.exposures.steptests.models import StepTest
from frimble.films.models import Film, FilmProcess
from frimble.people.models import Person
from frimble.people.records import AppendOnly
from frimble.people.records.fields import FloatField, JSONField
from frimble.people.records.validators import not_negative, numbers, positive
from frimble.screens.models import Screen


class Run(models.Model):
    """One use of the dark-room timer. It is its taps; nothing ticks on the server."""

    class Status(models.TextChoices):
        OPEN = "open", "open"
        DONE = "done", "done"
        ABANDONED = "abandoned", "abandoned"

    screen = models.ForeignKey(Screen, on_delete=models.PROTECT, related_name="runs")
    step_test = models.OneToOneField(StepTest, on_delete=models.PROTECT, null=True, related_name="run")
    entry = models.ForeignKey("ChartEntry", on_delete=models.PROTECT, null=True, related_name="runs")
    lamp = models.ForeignKey(Lamp, on_delete=models.PROTECT, related_name="+")
    film_process = models.ForeignKey(FilmProcess, on_delete=models.PROTECT, related_name="+")
    film = models.ForeignKey(Film, on_delete=models.PROTECT, null=True, related_name="+")
    time_s = FloatField(
        help_text="light wanted, without the lamp's lag; of strip 1 in a step test", validators=[positive]
    )
    moves_s = JSONField(default=list, validators=[numbers])
    total_s = FloatField(validators=[positive])
    warm_up_s = FloatField(default=0, validators=[not_negative])
    meter = FloatField(
        null=True, help_text="light under the sky when it began, as the meter shows it", validators=[positive]
    )
    sky = models.CharField(max_length=60, blank=True)
    why = models.CharField(max_length=400)
    override_reason = models.CharField(max_length=300, blank=True)
    made_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField()
    status = models.CharField(max_length=10, choices=Status, default=Status.OPEN)
    trouble = models.CharField(max_length=400, blank=True)

    class Meta:
        ordering = ["-made_at"]
        indexes = [models.Index(fields=["made_at"])]
        constraints = [
            models.UniqueConstraint(fields=["screen"], condition=models.Q(status="open"), name="one_open_run_a_screen")
        ]

    def __str__(self) -> str:
        return f"{self.screen.frame.code} {'test' if self.step_test_id else 'exposure'}"

    @property
    def schedule(self) -> timer.Schedule:
        return timer.Schedule(tuple(self.moves_s), self.total_s, self.warm_up_s)

    def times(self) -> timer.RunTimes:
        taps = [timer.Tap(t.kind, t.at.timestamp()) for t in self.taps.all()]
        return timer.read_taps(self.schedule, taps)


class Tap(AppendOnly):
    """One tap, as it fell on the technician's clock set to the server's. Sent again, it is stored once. Append-only."""

    run = models.ForeignKey(Run, on_delete=models.PROTECT, related_name="taps")
    uid = models.UUIDField(unique=True)
    kind = models.CharField(max_length=8)
    at = models.DateTimeField()
    received_at = models.DateTimeField()

    class Meta:
        ordering = ["at", "pk"]

    def __str__(self) -> str:
        return f"{self.kind} {self.at:%H:%M:%S}"
