"""Light sources, timed runs, step tests with their readings, the exposure chart, exposures and washouts."""

import secrets

from django.db import models
from simple_history.models import HistoricalRecords

from frimble.coatings.models import Batch, Emulsion
from frimble.core.exposure import timer
from frimble.core.exposure.chart import times as chart_times
from frimble.core.exposure.chart.learning import CellFacts
from frimble.core.exposure.light import source as light_source
from frimble.core.exposure.steptest import plan as steptest
from frimble.core.exposure.steptest.guided import Marks, Ranked, rank
from frimble.core.exposure.steptest.reading import StepGrade
from frimble.films.models import FilmSystem, Positive
from frimble.people.models import Person
from frimble.people.records import AppendOnly
from frimble.screens.models import LifeEvent, MeshKind, Screen


class Lamp(models.Model):
    """A light source and where it stands. Reference data, with history."""

    class Kind(models.TextChoices):
        LED = "led", "LED"
        METAL_HALIDE = "metal_halide", "metal halide"
        TUBES = "tubes", "fluorescent tubes"
        SUN = "sun", "sun"

    name = models.CharField(max_length=40, unique=True)
    kind = models.CharField(max_length=16, choices=Kind)
    distance_mm = models.FloatField()
    warm_up_s = models.FloatField(default=0)
    start_lag_s = models.FloatField(default=0)
    geometry = models.CharField(max_length=8, choices=list(light_source.GEOMETRIES.items()), default="point")
    contact = models.CharField(max_length=8, choices=list(light_source.CONTACTS.items()), default="weight")
    units_a_second = models.FloatField(null=True, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name

    @property
    def is_sun(self) -> bool:
        return self.kind == self.Kind.SUN

    @property
    def words(self) -> str:
        """Its kind and shape; the sun has but one."""
        return self.get_kind_display() if self.is_sun else f"{self.get_kind_display()}, {self.get_geometry_display()}"

    def newest(self, kind: str):
        """The newest record of a kind, or None."""
        return self.records.filter(kind=kind).order_by("-at", "-pk").first()


class LampRecord(AppendOnly):
    """What was read off or done to a lamp. Append-only."""

    class Kind(models.TextChoices):
        HOURS = "hours", "hours read"
        METER = "meter", "light metered"
        FIELD = "field", "field mapped"
        REPLACED = "replaced", "bulb or tubes replaced"

    lamp = models.ForeignKey(Lamp, on_delete=models.PROTECT, related_name="records")
    kind = models.CharField(max_length=8, choices=Kind)
    hours = models.FloatField(null=True)
    light_mw_cm2 = models.FloatField(null=True)
    field = models.JSONField(null=True, help_text="rows of readings, of the lamp's own meter or as shares")
    simulated = models.BooleanField(default=False)
    note = models.CharField(max_length=200, blank=True)
    at = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-at", "-pk"]
        indexes = [models.Index(fields=["lamp", "kind", "-at"])]

    def __str__(self) -> str:
        return f"{self.lamp}: {self.get_kind_display()}"


class Setup(models.Model):
    """What a time rests on: the five conditions of the exposure chart."""

    CONDITIONS = ("mesh", "formula", "emulsion", "lamp", "film")

    mesh = models.ForeignKey(MeshKind, on_delete=models.PROTECT, related_name="+")
    formula = models.CharField(max_length=60)
    emulsion = models.ForeignKey(Emulsion, on_delete=models.PROTECT, related_name="+")
    lamp = models.ForeignKey(Lamp, on_delete=models.PROTECT, related_name="+")
    film = models.ForeignKey(FilmSystem, on_delete=models.PROTECT, related_name="+")

    class Meta:
        abstract = True

    @property
    def conditions(self) -> chart_times.Conditions:
        return chart_times.Conditions(str(self.mesh), self.formula, self.emulsion.name, self.lamp.name, self.film.name)

    @property
    def setup_words(self) -> str:
        return f"{self.mesh}, {self.formula}, {self.emulsion}, {self.lamp}, {self.film}"


class StepTest(Setup):
    """A step test of any kind: its plan as made and, once run, the times the steps really got."""

    class Kind(models.TextChoices):
        CARD = "card", "moving card"
        FACTOR = "factor", "factor film"
        GREY = "grey", "grey scale"
        SCREENS = "screens", "one screen for each time"

    class Status(models.TextChoices):
        PLANNED = "planned", "planned"
        EXPOSED = "exposed", "exposed"
        SPOILED = "spoiled", "spoiled"

    kind = models.CharField(max_length=8, choices=Kind, default=Kind.CARD)
    factors = models.JSONField(
        null=True, help_text="share of the light through each step of a factor film or grey scale"
    )
    own_film = models.BooleanField(default=False, help_text="with the shop's own step-test film on it")
    screen = models.ForeignKey(Screen, on_delete=models.PROTECT, related_name="step_tests")
    batch = models.ForeignKey(Batch, on_delete=models.PROTECT, related_name="+")
    guess_s = models.FloatField()
    series = models.CharField(max_length=12)
    card = models.CharField(max_length=8)
    lag_s = models.FloatField()
    length_mm = models.FloatField()
    planned_times_s = models.JSONField()
    moves = models.JSONField(help_text="[[seconds after light on, strip], …]")
    total_s = models.FloatField()
    real_times_s = models.JSONField(null=True)
    status = models.CharField(max_length=8, choices=Status, default=Status.PLANNED)
    lamp_distance_mm = models.FloatField()
    soak_s = models.FloatField(null=True, help_text="how it is to be washed out: more washing moves the reading")
    rinse_s = models.FloatField(null=True)
    planned_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    planned_at = models.DateTimeField()

    class Meta:
        ordering = ["-planned_at"]

    def __str__(self) -> str:
        return f"Step test {self.pk}"

    @property
    def plan(self) -> steptest.StepTestPlan:
        return steptest.StepTestPlan(
            self.guess_s, self.series, self.card, tuple(self.planned_times_s),
            tuple(steptest.CardMove(at, strip) for at, strip in self.moves), self.total_s, self.lag_s,
        )  # fmt: skip

    @property
    def kept_film(self) -> bool:
        """Whether a photo of it can be read: strips side by side under the shop's own film."""
        return self.kind == self.Kind.CARD

    def all_screens(self) -> list[Screen]:
        """Every screen that is part of it."""
        return [s.screen for s in self.screens.select_related("screen__frame")] or [self.screen]

    @property
    def times_s(self) -> list[float]:
        """Seconds of light of strip 1, 2, …: as they fell, or as planned before the run."""
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


class Trial(AppendOnly):
    """Two step tests set against each other for a question, and what they said then. Append-only."""

    question = models.CharField(max_length=160)
    one = models.ForeignKey(StepTest, on_delete=models.PROTECT, related_name="+")
    other = models.ForeignKey(StepTest, on_delete=models.PROTECT, related_name="+")
    verdict = models.CharField(max_length=40)
    reason = models.CharField(max_length=400)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return self.question


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
    film = models.ForeignKey(FilmSystem, on_delete=models.PROTECT, related_name="+")
    positive = models.ForeignKey(Positive, on_delete=models.PROTECT, null=True, related_name="+")
    time_s = models.FloatField(help_text="light wanted, without the lamp's lag; of strip 1 in a step test")
    moves_s = models.JSONField(default=list)
    total_s = models.FloatField()
    warm_up_s = models.FloatField(default=0)
    meter = models.FloatField(null=True, help_text="light under the sky when it began, as the meter shows it")
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


class Tap(models.Model):
    """One tap, as it fell on the technician's clock set to the server's. Sent again, it is stored once."""

    run = models.ForeignKey(Run, on_delete=models.PROTECT, related_name="taps")
    uid = models.UUIDField(unique=True)
    kind = models.CharField(max_length=8)
    at = models.DateTimeField()
    received_at = models.DateTimeField()

    class Meta:
        ordering = ["at", "pk"]

    def __str__(self) -> str:
        return f"{self.kind} {self.at:%H:%M:%S}"


def photo_name(photo, filename: str) -> str:
    """A generated name: nothing of what was sent becomes a path."""
    return f"stencils/{secrets.token_hex(16)}"


class StepPhoto(AppendOnly):
    """A photo of a rinsed step test and what was read off it. Append-only: another photo stands beside it."""

    step_test = models.ForeignKey(StepTest, on_delete=models.PROTECT, related_name="photos")
    photo = models.FileField(upload_to=photo_name)
    straight = models.FileField(upload_to=photo_name, blank=True)
    dpi = models.PositiveIntegerField()
    scale_bar_mm = models.FloatField()
    wanted_opening_um = models.FloatField()
    result = models.JSONField()
    refused = models.CharField(max_length=500, blank=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return f"Photo of {self.step_test}"


class TestReading(models.Model):
    """One reading of a step test by grade, with what the core concluded. Append-only: a new reading stands beside it."""

    step_test = models.ForeignKey(StepTest, on_delete=models.PROTECT, related_name="readings")
    school = models.CharField(max_length=8)
    wanted_opening_um = models.FloatField()
    outcome = models.CharField(max_length=20)
    recommended_s = models.FloatField(null=True)
    solid_step = models.FloatField(null=True, help_text="of a grey scale: the highest step that stands solid")
    photo = models.ForeignKey(StepPhoto, on_delete=models.PROTECT, null=True, related_name="readings")
    read_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    read_at = models.DateTimeField()

    class Meta:
        ordering = ["read_at", "pk"]

    def __str__(self) -> str:
        return f"{self.step_test} read by {self.read_by}"


class ReadStep(models.Model):
    """One strip as read."""

    reading = models.ForeignKey(TestReading, on_delete=models.PROTECT, related_name="steps")
    strip = models.PositiveSmallIntegerField()
    time_s = models.FloatField()
    grade = models.CharField(max_length=8)
    finest_opening_um = models.FloatField(null=True)
    thinnest_line_um = models.FloatField(null=True)
    smallest_dot = models.FloatField(null=True, help_text="per cent of the highlight dot still clear")
    slimy = models.BooleanField(default=False)
    pale = models.BooleanField(default=False)
    marks = models.JSONField(null=True, help_text="what was seen of blocks, lines and openings, where it was ranked")

    class Meta:
        ordering = ["strip"]

    def __str__(self) -> str:
        return f"strip {self.strip} {self.grade}"

    def as_core(self) -> StepGrade:
        return StepGrade(
            self.strip, self.time_s, self.grade, self.finest_opening_um, self.thinnest_line_um, self.smallest_dot,
            self.slimy, self.pale,
        )  # fmt: skip

    @property
    def ranked(self) -> Ranked | None:
        """How its grade came about where the reader marked what was seen."""
        return rank(Marks(**self.marks, slimy=self.slimy, pale=self.pale)) if self.marks else None


class ChartEntries(models.QuerySet):
    """Accepted times, each with its step test's number as `test_id` and that test's pot as `pot_id` and `pot_code`."""

    def read(self):
        """With what every page says of an entry; of the reading and the test only what is asked for."""
        test = "reading__step_test"
        return self.select_related("mesh", "emulsion", "lamp", "film", "accepted_by").annotate(
            test_id=models.F(f"{test}_id"),
            pot_id=models.F(f"{test}__batch_id"),
            pot_code=models.F(f"{test}__batch__code"),
        )

    def same_conditions(self, setup: "Setup"):
        """Those accepted for a setup's five conditions."""
        return self.filter(**{field: getattr(setup, field) for field in Setup.CONDITIONS})

    def in_force(self):
        """The newest for each set of conditions."""
        alike = {field: models.OuterRef(field) for field in Setup.CONDITIONS}
        newer = models.Q(accepted_at__gt=models.OuterRef("accepted_at"))
        newer |= models.Q(accepted_at=models.OuterRef("accepted_at"), pk__gt=models.OuterRef("pk"))
        return self.filter(~models.Exists(ChartEntry.objects.filter(newer, **alike)))


class ChartEntry(Setup):
    """One accepted cell of the exposure chart. A newer entry for the same conditions takes its place."""

    time_s = models.FloatField()
    low_s = models.FloatField()
    high_s = models.FloatField()
    school = models.CharField(max_length=8)
    reason = models.CharField(max_length=400)
    bracketed = models.BooleanField()
    cured_low_s = models.FloatField(null=True)
    cured_high_s = models.FloatField(null=True)
    closes_low_s = models.FloatField(null=True)
    closes_high_s = models.FloatField(null=True)
    facts = models.JSONField(null=True, help_text="what the time rested on, in numbers")
    meter = models.FloatField(null=True)
    lamp_distance_mm = models.FloatField()
    reading = models.OneToOneField(TestReading, on_delete=models.PROTECT, related_name="chart_entry")
    accepted_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    accepted_at = models.DateTimeField()
    objects = ChartEntries.as_manager()

    class Meta:
        ordering = ["-accepted_at"]
        indexes = [models.Index(fields=["mesh", "emulsion", "lamp", "film"])]

    def __str__(self) -> str:
        return f"{self.setup_words}: {self.time_s:.1f} s"

    @property
    def cell_facts(self) -> CellFacts | None:
        return CellFacts(**self.facts) if self.facts else None

    def as_core(self) -> chart_times.CalibratedTime:
        return chart_times.CalibratedTime(
            self.conditions, self.time_s, self.low_s, self.high_s, self.accepted_at, str(self.accepted_by),
            self.lamp_distance_mm, self.bracketed,
        )  # fmt: skip


class Exposure(models.Model):
    """Light given to a screen."""

    event = models.OneToOneField(LifeEvent, on_delete=models.PROTECT, related_name="exposure")
    lamp = models.ForeignKey(Lamp, on_delete=models.PROTECT, related_name="+")
    film = models.ForeignKey(FilmSystem, on_delete=models.PROTECT, related_name="+")
    positive = models.ForeignKey(Positive, on_delete=models.PROTECT, null=True, related_name="exposures")
    entry = models.ForeignKey(ChartEntry, on_delete=models.PROTECT, null=True, related_name="+")
    run = models.OneToOneField(Run, on_delete=models.PROTECT, null=True, related_name="exposure")
    planned_s = models.FloatField()
    given_s = models.FloatField()
    units = models.FloatField(null=True, help_text="the same in the lamp's light units")
    meter = models.FloatField(null=True)
    sky = models.CharField(max_length=60, blank=True)

    def __str__(self) -> str:
        return f"{self.given_s:.1f} s under {self.lamp}"


class ControlStrip(AppendOnly):
    """The highest solid step of the small grey scale on a production screen. Append-only."""

    exposure = models.ForeignKey(Exposure, on_delete=models.PROTECT, related_name="strips")
    lamp = models.ForeignKey(Lamp, on_delete=models.PROTECT, related_name="strips")
    emulsion = models.ForeignKey(Emulsion, on_delete=models.PROTECT, related_name="+")
    step = models.FloatField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "pk"]
        indexes = [models.Index(fields=["-at"])]

    def __str__(self) -> str:
        return f"step {self.step:g}"


class Washout(models.Model):
    """How a stencil was washed out."""

    event = models.OneToOneField(LifeEvent, on_delete=models.PROTECT, related_name="washout")
    soak_s = models.FloatField()
    rinse_s = models.FloatField()

    def __str__(self) -> str:
        return f"soak {self.soak_s:g} s, rinse {self.rinse_s:g} s"
