"""Step tests with their photos and readings."""

import secrets

from django.db import models

from frimble.coatings.models import Batch
from frimble.core.exposure.steptest import plan as steptest
from frimble.core.exposure.steptest.guided import Ranked, StripMarks, rank
from frimble.core.exposure.steptest.reading import StepGrade
from frimble.exposures.conditions import Setup
from frimble.exposures.steptests import kinds
from frimble.people.models import Person
from frimble.people.records import AppendOnly, Attributed
from frimble.people.records.fields import FloatField, JSONField, PositiveIntegerField
from frimble.people.records.validators import (
    Holding,
    not_negative,
    numbers,
    numbers_with_gaps,
    positive,
    rows_of_numbers,
)
from frimble.screens.models import Screen


class StepTest(Setup):
    """A step test of any kind: its plan as made and, once run, the times the steps really got."""

    class Status(models.TextChoices):
        PLANNED = "planned", "planned"
        EXPOSED = "exposed", "exposed"
        SPOILED = "spoiled", "spoiled"

    kind = models.CharField(max_length=8, choices=kinds.choices, default=kinds.USUAL.key)
    factors = JSONField(
        null=True,
        help_text="share of the light through each step of a factor film or grey scale",
        validators=[numbers],
    )
    factor_film = models.ForeignKey("FactorFilm", on_delete=models.PROTECT, null=True, related_name="+")
    own_film = models.BooleanField(default=False, help_text="with the shop's own step-test film on it")
    screen = models.ForeignKey(Screen, on_delete=models.PROTECT, related_name="step_tests")
    batch = models.ForeignKey(Batch, on_delete=models.PROTECT, related_name="+")
    guess_s = FloatField(validators=[positive])
    series = models.CharField(max_length=12)
    card = models.CharField(max_length=8)
    lag_s = FloatField(validators=[not_negative])
    length_mm = FloatField(validators=[positive])
    planned_times_s = JSONField(validators=[numbers])
    moves = JSONField(help_text="[[seconds after light on, strip], …]", validators=[rows_of_numbers])
    total_s = FloatField(validators=[positive])
    real_times_s = JSONField(null=True, validators=[numbers_with_gaps])
    status = models.CharField(max_length=8, choices=Status, default=Status.PLANNED)
    lamp_distance_mm = FloatField(null=True, validators=[positive])
    soak_s = FloatField(
        null=True, help_text="how it is to be washed out: more washing moves the reading", validators=[not_negative]
    )
    rinse_s = FloatField(null=True, validators=[not_negative])
    planned_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    planned_at = models.DateTimeField()

    class Meta:
        ordering = ["-planned_at"]

    def __str__(self) -> str:
        return f"Step test {self.pk}"

    @property
    def test_kind(self) -> kinds.TestKind:
        return kinds.KINDS[self.kind]

    @property
    def plan(self) -> steptest.StepTestPlan:
        return steptest.StepTestPlan(
            self.guess_s,
            self.series,
            self.card,
            tuple(self.planned_times_s),
            tuple(steptest.CardMove(at, strip) for at, strip in self.moves),
            self.total_s,
            self.lag_s,
        )

    @property
    def has_target_film(self) -> bool:
        """Whether a photo of it can be read: strips side by side under the shop's own film."""
        return self.own_film and self.kind == kinds.USUAL.key

    def all_screens(self) -> list[Screen]:
        """Every screen that is part of it."""
        return [s.screen for s in self.screens.select_related("screen__frame")] or [self.screen]

    @property
    def times_s(self) -> list[float | None]:
        """Seconds of light of strip 1, 2, …: as they fell, or as planned before the run; None where a tap was forgotten."""
        return self.real_times_s or self.planned_times_s


class TestScreen(models.Model):
    """One screen of a test that gives each screen a time of its own."""

    step_test = models.ForeignKey(StepTest, on_delete=models.PROTECT, related_name="screens")
    screen = models.ForeignKey(Screen, on_delete=models.PROTECT, related_name="+")
    strip = models.PositiveSmallIntegerField()
    run = models.OneToOneField("Run", on_delete=models.PROTECT, null=True, related_name="test_screen")

    class Meta:
        ordering = ["strip"]
        constraints = [models.UniqueConstraint(fields=["step_test", "strip"], name="one_screen_a_strip")]

    def __str__(self) -> str:
        return f"{self.step_test}, {self.screen}"


class TestComparison(Attributed):
    """Two step tests set against each other for a question, and what they said then. Append-only."""

    question = models.CharField(max_length=160)
    one = models.ForeignKey(StepTest, on_delete=models.PROTECT, related_name="+")
    other = models.ForeignKey(StepTest, on_delete=models.PROTECT, related_name="+")
    verdict = models.CharField(max_length=40)
    reason = models.CharField(max_length=400)

    class Meta:
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return self.question


def photo_name(photo, filename: str) -> str:
    """A generated name: nothing of what was sent becomes a path."""
    return f"stencils/{secrets.token_hex(16)}"


class StepPhoto(Attributed):
    """A photo of a rinsed step test and what was read off it. Append-only: another photo stands beside it."""

    step_test = models.ForeignKey(StepTest, on_delete=models.PROTECT, related_name="photos")
    photo = models.FileField(upload_to=photo_name)
    straight = models.FileField(upload_to=photo_name, blank=True)
    dpi = PositiveIntegerField(validators=[positive])
    scale_bar_mm = FloatField(validators=[positive])
    wanted_opening_um = FloatField(validators=[positive])
    result = JSONField(validators=[Holding("steps")])
    refused = models.CharField(max_length=500, blank=True)

    class Meta:
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return f"Photo of {self.step_test}"


class TestReading(AppendOnly):
    """One reading of a step test by grade, with what the core concluded. Append-only: a new reading stands beside it."""

    step_test = models.ForeignKey(StepTest, on_delete=models.PROTECT, related_name="readings")
    school = models.CharField(max_length=8)
    wanted_opening_um = FloatField(validators=[positive])
    outcome = models.CharField(max_length=20)
    recommended_s = FloatField(null=True, validators=[positive])
    solid_step = FloatField(
        null=True, help_text="of a grey scale: the highest step that stands solid", validators=[not_negative]
    )
    photo = models.ForeignKey(StepPhoto, on_delete=models.PROTECT, null=True, related_name="readings")
    read_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    read_at = models.DateTimeField()

    class Meta:
        ordering = ["read_at", "pk"]

    def __str__(self) -> str:
        return f"{self.step_test} read by {self.read_by}"


class ReadStep(AppendOnly):
    """One strip as read. Append-only."""

    reading = models.ForeignKey(TestReading, on_delete=models.PROTECT, related_name="steps")
    strip = models.PositiveSmallIntegerField()
    time_s = FloatField(validators=[positive])
    grade = models.CharField(max_length=8)
    finest_opening_um = FloatField(null=True, validators=[positive])
    thinnest_line_um = FloatField(null=True, validators=[positive])
    smallest_dot = FloatField(
        null=True, help_text="per cent of the highlight dot still clear", validators=[not_negative]
    )
    slimy = models.BooleanField(default=False)
    pale = models.BooleanField(default=False)
    marks = JSONField(
        null=True, help_text="what was seen of blocks, lines and openings, where it was ranked", validators=[Holding()]
    )

    class Meta:
        ordering = ["strip"]

    def __str__(self) -> str:
        return f"strip {self.strip} {self.grade}"

    def as_core(self) -> StepGrade:
        return StepGrade(
            self.strip,
            self.time_s,
            self.grade,
            self.finest_opening_um,
            self.thinnest_line_um,
            self.smallest_dot,
            self.slimy,
            self.pale,
        )

    @property
    def ranked(self) -> Ranked | None:
        """How its grade came about where the reader marked what was seen."""
        return rank(StripMarks(**self.marks, slimy=self.slimy, pale=self.pale)) if self.marks else None
