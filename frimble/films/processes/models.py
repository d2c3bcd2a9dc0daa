"""Ways of making films, with their densities. Reference data, with history."""

from django.db import models
from simple_history.models import HistoricalRecords

from frimble.core.film import densities
from frimble.core.film.costs import FilmCost, film_cost
from frimble.core.film.evidence import Evidence, standing
from frimble.people.records import Attributed
from frimble.people.records.fields import FloatField
from frimble.people.records.validators import not_negative, positive, share


class FilmProcess(models.Model):
    """How a film is made and what it costs, in the shop's own money. Reference data, with history."""

    name = models.CharField(max_length=60, unique=True)
    how_made = models.CharField(max_length=200, blank=True)
    settings = models.CharField(max_length=240, blank=True)
    settings_changed_at = models.DateTimeField(null=True, editable=False)
    widest_mm = FloatField(null=True, blank=True, validators=[positive])
    machine_price = FloatField(null=True, blank=True, validators=[not_negative])
    life_films = FloatField(null=True, blank=True, validators=[positive])
    ink_a_film = FloatField(null=True, blank=True, validators=[not_negative])
    sheet_a_film = FloatField(null=True, blank=True, validators=[not_negative])
    spoilage = FloatField(null=True, blank=True, validators=[share])
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
        """The reading that counts in one band, or None; the bands are never mixed, and trials of a setting are none."""
        read = list(self.readings.filter(band=band, setting="").order_by("at", "pk"))
        counts = standing([r.as_evidence() for r in read])
        return read[counts[0]] if counts else None


class DensityReading(Attributed):
    """Densities of one film process in one band, by one route. Append-only: a newer reading stands beside it."""

    process = models.ForeignKey(FilmProcess, on_delete=models.PROTECT, related_name="readings")
    band = models.CharField(max_length=8, choices=list(densities.BANDS.items()))
    route = models.CharField(max_length=12, choices=list(densities.ROUTES.items()))
    dmax = FloatField(validators=[not_negative])
    dmin = FloatField(validators=[not_negative])
    at_least = models.BooleanField(default=False)
    simulated = models.BooleanField(default=False)
    setting = models.CharField(max_length=60, blank=True, help_text="a setting that was tried, not the one in use")
    detail = models.CharField(max_length=240, blank=True)

    class Meta:
        ordering = ["-at", "-pk"]
        constraints = [
            models.CheckConstraint(condition=models.Q(dmax__gt=models.F("dmin"), dmin__gte=0), name="black_is_denser")
        ]

    def __str__(self) -> str:
        return f"{self.process} {self.get_band_display()} {self.dmax:.2f} over {self.dmin:.2f}"

    @property
    def stale(self) -> bool:
        """Whether the process's printer, ink, sheet or settings were changed since."""
        changed = self.process.settings_changed_at
        return changed is not None and self.at < changed

    @property
    def core(self) -> float:
        """The black above clear film."""
        return self.dmax - self.dmin

    def as_evidence(self) -> Evidence:
        return Evidence(self.route, self.dmax, self.dmin, self.at_least, self.stale)
