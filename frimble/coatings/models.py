"""Emulsions, batches, coaters, named coat formulas, coating runs, and the coats laid, measured and dried."""

from django.db import models
from simple_history.models import HistoricalRecords

from frimble.core.coating import defects as coat_defects
from frimble.core.coating import drying, dryness
from frimble.core.coating import wet as wet_coat
from frimble.core.coating.coater import CONDITIONS
from frimble.core.emulsion import batch as rules
from frimble.people.models import Person
from frimble.people.records import AppendOnly
from frimble.screens.models import LifeEvent, Rack, Screen


class Emulsion(models.Model):
    """A product: kind, solids, what it suits and costs, its colours. Reference data, with history."""

    class Resists(models.TextChoices):
        WATER = "water", "water-based ink"
        SOLVENT = "solvent", "solvent and plastisol ink"
        BOTH = "both", "water-based, solvent and plastisol ink"

    class Cloth(models.TextChoices):
        WHITE = "white", "white mesh"
        DYED = "dyed", "dyed mesh"
        ANY = "any", "white or dyed mesh"

    class Speed(models.TextChoices):
        SLOW = "slow", "slow, wide latitude"
        MEDIUM = "medium", "medium"
        FAST = "fast", "fast, narrow latitude"

    name = models.CharField(max_length=60, unique=True)
    kind = models.CharField(max_length=16, choices=list(rules.KINDS.items()))
    solids = models.FloatField(help_text="fraction of the wet emulsion")
    colour = models.CharField(max_length=7, default="#7FA99B")
    exposed_colour = models.CharField(max_length=7, blank=True)
    ratio = models.FloatField(null=True, blank=True)
    resists = models.CharField(max_length=8, choices=Resists, default=Resists.BOTH)
    suits = models.CharField(max_length=8, choices=Cloth, default=Cloth.ANY)
    speed = models.CharField(max_length=8, choices=Speed, default=Speed.MEDIUM)
    finest_um = models.FloatField(null=True, blank=True)
    cost_l = models.FloatField(null=True, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["name"]
        constraints = [
            models.CheckConstraint(condition=models.Q(solids__gt=0, solids__lt=1), name="solids_are_a_share")
        ]

    def __str__(self) -> str:
        return self.name


class BatchQuerySet(models.QuerySet):
    def in_use(self):
        """Pots not finished, with all that their age rests on."""
        return self.filter(finished_at__isnull=True).select_related("emulsion").prefetch_related("records")


class Batch(models.Model):
    """One pot, from mixing (or opening, for ready-sensitised emulsion) to its end.

    `oldest_at` is when the oldest part of a topped-up blend was mixed; `litres` what was mixed and `pot_l` what the pot
    holds, None where nobody measured.
    """

    code = models.CharField(max_length=16, unique=True)
    emulsion = models.ForeignKey(Emulsion, on_delete=models.PROTECT, related_name="batches")
    mixed_at = models.DateTimeField()
    oldest_at = models.DateTimeField(null=True, blank=True)
    mixed_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    kept_c = models.FloatField(default=20)
    ratio = models.FloatField(null=True, blank=True)
    litres = models.FloatField(null=True, blank=True)
    pot_l = models.FloatField(null=True, blank=True)
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

    def kept(self, at) -> list[rules.Kept]:
        """The stretches of its life up to a moment, each with the temperature it was kept at, oldest first."""
        moves = [(r.at, r.kept_c) for r in self.records.all() if r.kind == PotRecord.Kind.MOVED and r.at <= at]
        starts = [(self.born_at, self.kept_c), *sorted(moves)]
        ends = [moment for moment, _ in starts[1:]] + [at]
        return [
            rules.Kept((end - start).total_seconds() / 86400, kept_c)
            for (start, kept_c), end in zip(starts, ends, strict=True)
        ]

    def age(self, at, standards):
        """Life used at a moment, as the core concludes it."""
        return rules.batch_life(self.emulsion.kind, self.kept(at), standards)


class PotRecord(AppendOnly):
    """Something done to a pot: put warm or cold, poured from, returned to, topped up, thrown away, or counted."""

    class Kind(models.TextChoices):
        MOVED = "moved", "put elsewhere"
        POURED = "poured", "poured"
        RETURNED = "returned", "returned"
        THROWN = "thrown", "thrown away"
        COUNTED = "counted", "measured"

    batch = models.ForeignKey(Batch, on_delete=models.PROTECT, related_name="records")
    kind = models.CharField(max_length=10, choices=Kind)
    litres = models.FloatField(null=True)
    kept_c = models.FloatField(null=True)
    run = models.ForeignKey("CoatingRun", on_delete=models.PROTECT, null=True, related_name="pot_records")
    at = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    note = models.CharField(max_length=240, blank=True)

    class Meta:
        ordering = ["at", "pk"]

    def __str__(self) -> str:
        what = f"{self.litres:.2f} l" if self.litres is not None else f"at {self.kept_c:g} °C"
        return f"{self.get_kind_display()} {what}"


class Coater(models.Model):
    """A scoop coater: length and edges. Reference data, with history."""

    name = models.CharField(max_length=40, unique=True)
    length_mm = models.FloatField()
    round_edge = models.BooleanField(default=True)
    retired = models.BooleanField(default=False)
    history = HistoricalRecords()

    class Meta:
        ordering = ["length_mm", "name"]

    def __str__(self) -> str:
        return f"{self.name}, {self.length_mm:.0f} mm"


class CoaterCheck(AppendOnly):
    """A look along a coater's edge."""

    coater = models.ForeignKey(Coater, on_delete=models.PROTECT, related_name="checks")
    finding = models.CharField(max_length=8, choices=[(k, v[0]) for k, v in CONDITIONS.items()])
    note = models.CharField(max_length=240, blank=True)
    at = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["at", "pk"]

    def __str__(self) -> str:
        return self.get_finding_display()


class CoatThickness(AppendOnly):
    """Gauge readings of a finished coat, µm, and the emulsion over mesh they give."""

    event = models.OneToOneField(LifeEvent, on_delete=models.PROTECT, related_name="coat_thickness")
    coat = models.ForeignKey("Coat", on_delete=models.PROTECT, related_name="thicknesses")
    bare_um = models.FloatField()
    readings_um = models.JSONField()
    eom_um = models.FloatField()
    spread_um = models.FloatField()
    simulated = models.BooleanField(default=False)

    class Meta:
        constraints = [models.CheckConstraint(condition=models.Q(eom_um__gt=0), name="coated_is_thicker_than_bare")]

    def __str__(self) -> str:
        return f"{self.eom_um:.0f} µm over mesh"


class CoatRecipe(models.Model):
    """A coat formula the shop uses under a name, what for, and on which meshes and inks."""

    name = models.CharField(max_length=60)
    formula = models.CharField(max_length=60, unique=True)
    use = models.CharField(max_length=200)
    coarsest_per_cm = models.FloatField(default=0)
    finest_per_cm = models.FloatField(default=1000)
    inks = models.CharField(max_length=80, blank=True)

    class Meta:
        ordering = ["formula"]

    def __str__(self) -> str:
        return f"{self.formula}: {self.use}"


FILLS = [(key, wet_coat.FILL_WORDS[key]) for key in wet_coat.FILLS]


class Coat(models.Model):
    """One layer of a coat formula, laid from one batch, with the drying that was predicted for it (minutes)."""

    event = models.OneToOneField(LifeEvent, on_delete=models.PROTECT, related_name="coat")
    batch = models.ForeignKey(Batch, on_delete=models.PROTECT, related_name="coats")
    formula = models.CharField(max_length=60)
    layer = models.PositiveSmallIntegerField()
    coater = models.ForeignKey(Coater, on_delete=models.PROTECT, null=True, related_name="coats")
    fill = models.CharField(max_length=12, choices=FILLS, blank=True)
    stroke_s = models.FloatField(null=True)
    air_c = models.FloatField()
    humidity = models.FloatField()
    fan = models.CharField(max_length=4, choices=list(drying.FANS.items()), default="low")
    dry_min = models.FloatField()
    dry_low_min = models.FloatField()
    dry_high_min = models.FloatField()

    def __str__(self) -> str:
        return f"{self.formula} layer {self.layer}, {self.batch}"

    @property
    def air(self) -> drying.Air:
        return drying.Air(self.air_c, self.humidity, self.fan)


class CoatDefect(AppendOnly):
    """Something wrong with a coat, seen by somebody."""

    coat = models.ForeignKey(Coat, on_delete=models.PROTECT, related_name="defects")
    kind = models.CharField(max_length=10, choices=[(k, d.word) for k, d in coat_defects.DEFECTS.items()])
    at = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["at", "pk"]

    def __str__(self) -> str:
        return self.get_kind_display()


class DryCheck(AppendOnly):
    """A look at whether a coat is dry, so many minutes after it was laid."""

    event = models.OneToOneField(LifeEvent, on_delete=models.PROTECT, related_name="dry_check")
    coat = models.ForeignKey(Coat, on_delete=models.PROTECT, related_name="dry_checks")
    method = models.CharField(max_length=8, choices=list(dryness.METHODS.items()))
    verdict = models.CharField(max_length=10)
    elapsed_min = models.FloatField()

    class Meta:
        ordering = ["elapsed_min"]

    def __str__(self) -> str:
        return f"{self.verdict} after {self.elapsed_min:.0f} min"


class AirReading(AppendOnly):
    """The air in a cabinet at a moment, as typed or as the hygrometer said."""

    cabinet = models.ForeignKey(Rack, on_delete=models.PROTECT, related_name="air_readings")
    air_c = models.FloatField()
    humidity = models.FloatField()
    fan = models.CharField(max_length=4, choices=list(drying.FANS.items()))
    simulated = models.BooleanField(default=False)
    at = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["at", "pk"]

    def __str__(self) -> str:
        return f"{self.air_c:.1f} °C, {self.humidity * 100:.0f} %, fan {self.fan}"

    @property
    def air(self) -> drying.Air:
        return drying.Air(self.air_c, self.humidity, self.fan)


class CoatingRun(models.Model):
    """Several screens coated in one go: what was poured, what came back, and that the coater was washed."""

    batch = models.ForeignKey(Batch, on_delete=models.PROTECT, related_name="runs")
    coater = models.ForeignKey(Coater, on_delete=models.PROTECT, related_name="runs")
    fill = models.CharField(max_length=12, choices=FILLS)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    started_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-started_at"]

    def __str__(self) -> str:
        return f"Coating run {self.pk}"


class RunScreen(models.Model):
    """One screen's turn in a coating run."""

    run = models.ForeignKey(CoatingRun, on_delete=models.PROTECT, related_name="screens")
    screen = models.ForeignKey(Screen, on_delete=models.PROTECT, related_name="+")
    number = models.PositiveSmallIntegerField()
    formula = models.CharField(max_length=60)
    coat = models.OneToOneField(Coat, on_delete=models.PROTECT, null=True, related_name="turn")
    left_out = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["run", "screen"], name="a_screen_has_one_turn_in_a_run")]

    def __str__(self) -> str:
        return f"{self.screen} in {self.run}"
