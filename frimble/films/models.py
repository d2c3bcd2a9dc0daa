"""Film systems with their densities, and film positives with their checks."""

import secrets

from django.db import models
from simple_history.models import HistoricalRecords

from frimble.core.film import densities
from frimble.core.film.costs import FilmCost, film_cost
from frimble.people.models import Person
from frimble.people.records import AppendOnly
from frimble.screens.models import MeshKind


class FilmSystem(models.Model):
    """How a film is made and what it costs, in the shop's own money. Reference data, with history."""

    name = models.CharField(max_length=60, unique=True)
    how_made = models.CharField(max_length=200, blank=True)
    settings = models.CharField(max_length=240, blank=True)
    settings_changed_at = models.DateTimeField(null=True, editable=False)
    widest_mm = models.FloatField(null=True, blank=True)
    machine_price = models.FloatField(null=True, blank=True)
    life_films = models.FloatField(null=True, blank=True)
    ink_a_film = models.FloatField(null=True, blank=True)
    sheet_a_film = models.FloatField(null=True, blank=True)
    spoilage = models.FloatField(null=True, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name

    def cost(self) -> FilmCost | None:
        """Cost of a film, or None while something of it is not known."""
        parts = (self.machine_price, self.life_films, self.ink_a_film, self.sheet_a_film, self.spoilage)
        return None if any(p is None for p in parts) else film_cost(*parts)

    def density(self, band: str):
        """The newest reading in one band, or None; the bands are never mixed."""
        return self.readings.filter(band=band).order_by("-at", "-pk").first()


class DensityReading(AppendOnly):
    """Densities of one film system in one band, by one route. Append-only: a newer reading stands beside it."""

    system = models.ForeignKey(FilmSystem, on_delete=models.PROTECT, related_name="readings")
    band = models.CharField(max_length=8, choices=list(densities.BANDS.items()))
    route = models.CharField(max_length=12, choices=list(densities.ROUTES.items()))
    dmax = models.FloatField()
    dmin = models.FloatField()
    at_least = models.BooleanField(default=False)
    simulated = models.BooleanField(default=False)
    detail = models.CharField(max_length=240, blank=True)
    at = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-at", "-pk"]
        constraints = [
            models.CheckConstraint(condition=models.Q(dmax__gt=models.F("dmin"), dmin__gte=0), name="black_is_denser")
        ]

    def __str__(self) -> str:
        return f"{self.system} {self.get_band_display()} {self.dmax:.2f} over {self.dmin:.2f}"

    @property
    def stale(self) -> bool:
        """Whether the system's printer, ink, sheet or settings were changed since."""
        changed = self.system.settings_changed_at
        return changed is not None and self.at < changed


class Positive(models.Model):
    """One film: what it is for, how it was made, where it is kept. The job is known here by its number only."""

    name = models.CharField(max_length=80)
    job_number = models.CharField(max_length=12, blank=True)
    separation = models.CharField(max_length=60, blank=True)
    system = models.ForeignKey(FilmSystem, on_delete=models.PROTECT, null=True, related_name="positives")
    kept_at = models.CharField(max_length=60, blank=True)
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    history = HistoricalRecords()

    class Meta:
        ordering = ["-made_at", "-pk"]

    def __str__(self) -> str:
        return f"{self.name}, {self.separation}" if self.separation else self.name


class TouchUp(AppendOnly):
    """What was done to a film by hand after it was made. Append-only."""

    positive = models.ForeignKey(Positive, on_delete=models.PROTECT, related_name="touch_ups")
    words = models.CharField(max_length=240)
    at = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["at", "pk"]

    def __str__(self) -> str:
        return self.words


def scan_name(check, filename: str) -> str:
    """A generated name: nothing of what was sent becomes a path."""
    return f"scans/{secrets.token_hex(16)}"


class ScanCheck(models.Model):
    """A scan of a positive and what its check concluded. Written once by a person, then once by the check."""

    class State(models.TextChoices):
        WAITING = "waiting", "waiting"
        RUNNING = "running", "being checked"
        DONE = "done", "checked"
        REFUSED = "refused", "refused"

    positive = models.ForeignKey(Positive, on_delete=models.PROTECT, related_name="checks")
    scan = models.FileField(upload_to=scan_name)
    picture = models.FileField(upload_to=scan_name, blank=True)
    densities = models.FileField(upload_to=scan_name, blank=True)
    detail = models.FileField(upload_to=scan_name, blank=True)
    dpi = models.FloatField(null=True, blank=True)
    encoding = models.CharField(max_length=8, default="srgb")
    wedge = models.CharField(max_length=300, blank=True)
    mesh = models.ForeignKey(MeshKind, on_delete=models.PROTECT, null=True, blank=True, related_name="+")
    state = models.CharField(max_length=8, choices=State.choices, default=State.WAITING)
    share_done = models.FloatField(default=0)
    doing = models.CharField(max_length=60, blank=True)
    refusal = models.CharField(max_length=400, blank=True)
    result = models.JSONField(null=True, blank=True)
    at = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return f"{self.positive} {self.get_state_display()}"


class Judgement(AppendOnly):
    """What a person thinks of one finding. Append-only: the newest stands."""

    check_of = models.ForeignKey(ScanCheck, on_delete=models.PROTECT, related_name="judgements")
    finding = models.PositiveIntegerField()
    accepted = models.BooleanField()
    reason = models.CharField(max_length=200, blank=True)
    at = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["at", "pk"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(accepted=True) | ~models.Q(reason=""), name="dismissed_with_a_reason"
            )
        ]

    def __str__(self) -> str:
        return f"finding {self.finding} {'accepted' if self.accepted else 'dismissed'}"
