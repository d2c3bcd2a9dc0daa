"""The exposure chart: accepted times."""

from django.db import models
from django.utils import timezone

from frimble.core.exposure.chart import times as chart_times
from frimble.core.exposure.chart.learning import CellFacts
from frimble.exposures.conditions import Setup
from frimble.exposures.steptests.models import TestReading
from frimble.people.models import Person
from frimble.people.records import AppendOnly, AppendOnlyQuerySet, Attributed
from frimble.people.records.fields import FloatField, JSONField
from frimble.people.records.validators import Holding, positive


class ChartEntries(AppendOnlyQuerySet):
    """Accepted times, each with its step test's number as `test_id` and that test's batch as `batch_id` and `batch_code`."""

    def read(self):
        """With what every page says of an entry; of the reading and the test only what is asked for."""
        test = "reading__step_test"
        return self.select_related("mesh", "emulsion", "lamp", "film_process", "accepted_by").annotate(
            test_id=models.F(f"{test}_id"),
            batch_id=models.F(f"{test}__batch_id"),
            batch_code=models.F(f"{test}__batch__code"),
        )

    def same_conditions(self, setup: "Setup"):
        """Those accepted for a setup's five conditions."""
        return self.filter(**{field: getattr(setup, field) for field in Setup.CONDITIONS})

    def in_force(self):
        """The newest for each set of conditions; one that was withdrawn counts no more, and what it replaced holds again."""
        alike = {field: models.OuterRef(field) for field in Setup.CONDITIONS} | {"withdrawal__isnull": True}
        newer = models.Q(accepted_at__gt=models.OuterRef("accepted_at"))
        newer |= models.Q(accepted_at=models.OuterRef("accepted_at"), pk__gt=models.OuterRef("pk"))
        return self.filter(~models.Exists(ChartEntry.objects.filter(newer, **alike)), withdrawal__isnull=True)


class ChartEntry(AppendOnly, Setup):
    """One accepted cell of the exposure chart. A newer entry for the same conditions takes its place. Append-only."""

    time_s = FloatField(validators=[positive])
    low_s = FloatField(validators=[positive])
    high_s = FloatField(validators=[positive])
    school = models.CharField(max_length=8)
    reason = models.CharField(max_length=400)
    bracketed = models.BooleanField()
    cured_low_s = FloatField(null=True, validators=[positive])
    cured_high_s = FloatField(null=True, validators=[positive])
    closes_low_s = FloatField(null=True, validators=[positive])
    closes_high_s = FloatField(null=True, validators=[positive])
    facts = JSONField(
        null=True,
        help_text="what the time rested on, in numbers",
        validators=[Holding("stencil_um", "yellow", "dmin", "emulsion", "lamp", "distance_mm")],
    )
    meter = FloatField(null=True, validators=[positive])
    lamp_distance_mm = FloatField(null=True, validators=[positive])
    reading = models.OneToOneField(TestReading, on_delete=models.PROTECT, related_name="chart_entry")
    accepted_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    accepted_at = models.DateTimeField()
    objects = ChartEntries.as_manager()

    class Meta:
        ordering = ["-accepted_at"]
        indexes = [models.Index(fields=["mesh", "emulsion", "lamp", "film_process"])]

    def __str__(self) -> str:
        return f"{self.setup_words}: {self.time_s:.1f} s"

    @property
    def has_window(self) -> bool:
        """Whether both ends of the working window were seen: not by a grey scale."""
        return self.bracketed and self.cured_low_s is not None and self.closes_low_s is not None

    @property
    def cell_facts(self) -> CellFacts | None:
        return CellFacts(**self.facts) if self.facts else None

    def as_core(self) -> chart_times.CalibratedTime:
        return chart_times.CalibratedTime(
            self.conditions,
            self.time_s,
            self.low_s,
            self.high_s,
            timezone.localtime(self.accepted_at),
            str(self.accepted_by),
            self.bracketed,
        )


class ChartWithdrawal(Attributed):
    """A lead found that an accepted time was wrong: it counts no more, and nothing is learned from it. Append-only."""

    entry = models.OneToOneField(ChartEntry, on_delete=models.PROTECT, related_name="withdrawal")
    reason = models.CharField(max_length=300)

    class Meta:
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return f"{self.entry}: withdrawn"
