"""Batches of emulsion, from mixing to the end of each, and what was done to them."""

from django.db import models
from simple_history.models import HistoricalRecords

from frimble.coatings.emulsions.models import Emulsion
from frimble.core.emulsion import batch as rules
from frimble.people.models import Person
from frimble.people.records import Attributed
from frimble.people.records.fields import FloatField
from frimble.people.records.validators import not_negative, positive


class BatchQuerySet(models.QuerySet):
    def in_use(self):
        """Batches not finished, with all that their age rests on."""
        return self.filter(finished_at__isnull=True).select_related("emulsion").prefetch_related("records")


class Batch(models.Model):
    """One batch, from mixing (or opening, for ready-sensitised emulsion) to its end.

    `oldest_at` is when the oldest part of a topped-up blend was mixed; `litres` what was mixed and `capacity_l` what its
    container holds, None where nobody measured.
    """

    code = models.CharField(max_length=16, unique=True)
    emulsion = models.ForeignKey(Emulsion, on_delete=models.PROTECT, related_name="batches")
    mixed_at = models.DateTimeField()
    oldest_at = models.DateTimeField(null=True, blank=True)
    mixed_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    kept_c = models.FloatField(default=20)
    ratio = FloatField(null=True, blank=True, validators=[positive])
    litres = FloatField(null=True, blank=True, validators=[not_negative])
    capacity_l = FloatField(null=True, blank=True, validators=[positive])
    topped_from = models.ForeignKey("self", on_delete=models.PROTECT, null=True, blank=True, related_name="topped_into")
    finished_at = models.DateTimeField(null=True, blank=True)
    history = HistoricalRecords()

    objects = BatchQuerySet.as_manager()

    class Meta:
        ordering = ["-mixed_at"]

    def __str__(self) -> str:
        return f"{self.code} {self.emulsion}"

    @property
    def born_at(self):
        """When its oldest part was mixed."""
        return self.oldest_at or self.mixed_at

    def kept(self, at) -> list[rules.StoragePeriod]:
        """The stretches of its life up to a moment, each with the temperature it was kept at, oldest first."""
        moves = [(r.at, r.kept_c) for r in self.records.all() if r.kind == BatchRecord.Kind.MOVED and r.at <= at]
        starts = [(self.born_at, self.kept_c), *sorted(moves)]
        ends = [moment for moment, _ in starts[1:]] + [at]
        return [
            rules.StoragePeriod((end - start).total_seconds() / 86400, kept_c)
            for (start, kept_c), end in zip(starts, ends, strict=True)
        ]

    def age(self, at, settings):
        """Life used at a moment, as the core concludes it."""
        return rules.batch_life(self.emulsion.kind, self.kept(at), settings)


class BatchRecord(Attributed):
    """Something done to a batch: put warm or cold, poured from, returned to, topped up, thrown away, or counted.

    Append-only.
    """

    class Kind(models.TextChoices):
        MOVED = "moved", "put elsewhere"
        POURED = "poured", "poured"
        RETURNED = "returned", "returned"
        THROWN = "thrown", "thrown away"
        COUNTED = "counted", "measured"

    batch = models.ForeignKey(Batch, on_delete=models.PROTECT, related_name="records")
    kind = models.CharField(max_length=10, choices=Kind)
    litres = FloatField(null=True, validators=[not_negative])
    kept_c = models.FloatField(null=True)
    run = models.ForeignKey("CoatingRun", on_delete=models.PROTECT, null=True, related_name="batch_records")
    note = models.CharField(max_length=240, blank=True)

    def __str__(self) -> str:
        what = f"{self.litres:.2f} l" if self.litres is not None else f"at {self.kept_c:g} °C"
        return f"{self.get_kind_display()} {what}"
