"""Coats as they were laid, and what is wrong with them."""

from django.db import models

from frimble.coatings.batches.models import Batch
from frimble.coatings.coaters.models import Coater
from frimble.core.coating import defects as coat_defects
from frimble.core.coating import drying
from frimble.core.coating import wet as wet_coat
from frimble.core.emulsion import batch as batch_rules
from frimble.core.statistics.interval import Interval
from frimble.people.records import AppendOnly, Attributed
from frimble.people.records.fields import FloatField
from frimble.people.records.validators import positive, share
from frimble.screens.models import ScreenEvent

INKS = list(batch_rules.INKS.items())
FILLS = [(key, wet_coat.FILL_WORDS[key]) for key in wet_coat.FILLS]


class Coat(AppendOnly):
    """One layer of a coat formula, laid from one batch, with the drying that was predicted for it (minutes).

    Append-only.
    """

    event = models.OneToOneField(ScreenEvent, on_delete=models.PROTECT, related_name="coat")
    batch = models.ForeignKey(Batch, on_delete=models.PROTECT, related_name="coats")
    formula = models.CharField(max_length=60)
    layer = models.PositiveSmallIntegerField()
    coater = models.ForeignKey(Coater, on_delete=models.PROTECT, null=True, related_name="coats")
    fill = models.CharField(max_length=12, choices=FILLS, blank=True)
    ink = models.CharField(max_length=8, choices=INKS, blank=True)
    stroke_s = FloatField(null=True, validators=[positive])
    air_c = models.FloatField()
    humidity = FloatField(validators=[share])
    fan = models.CharField(max_length=4, choices=list(drying.FANS.items()), default="low")
    dry_min = FloatField(validators=[positive])
    dry_low_min = FloatField(validators=[positive])
    dry_high_min = FloatField(validators=[positive])

    @property
    def drying_time(self) -> Interval:
        """Minutes it was expected to dry in when it was laid."""
        return Interval(self.dry_min, self.dry_low_min, self.dry_high_min)

    def __str__(self) -> str:
        return f"{self.formula} layer {self.layer}, {self.batch}"

    @property
    def air(self) -> drying.Air:
        return drying.Air(self.air_c, self.humidity, self.fan)


class CoatDefect(Attributed):
    """Something wrong with a coat, seen by somebody. Append-only."""

    coat = models.ForeignKey(Coat, on_delete=models.PROTECT, related_name="defects")
    kind = models.CharField(max_length=10, choices=[(k, d.word) for k, d in coat_defects.DEFECTS.items()])

    def __str__(self) -> str:
        return self.get_kind_display()
