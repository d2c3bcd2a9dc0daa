"""Frames, meshes and the records of their lives. Frame, mesh and stencil are three lives.

Records are append-only. `Screen` is a stored projection of them, computed by `frimble.core.lifecycle`.
"""

from collections.abc import Iterable

from django.core.exceptions import ValidationError
from django.core.validators import RegexValidator
from django.db import models
from django.utils.dateparse import parse_datetime
from django.utils.functional import cached_property

from frimble.core import lifecycle, stations
from frimble.core.facts import wrong_in_old
from frimble.people.models import Person
from frimble.people.records import AppendOnly, AppendOnlyQuerySet
from frimble.people.records.fields import FloatField
from frimble.people.records.validators import positive
from frimble.screens.meshes.models import MeshType
from frimble.screens.racks.models import Slot


class Frame(models.Model):
    """A frame: it lasts while meshes come and go. Its code is the screen's code."""

    class Material(models.TextChoices):
        ALUMINIUM = "aluminium", "aluminium"
        ROLLER = "roller", "roller-tensioned aluminium"
        DRAW_BAR = "draw_bar", "draw-bar"
        WOOD = "wood", "wood"

    code = models.CharField(
        max_length=16, unique=True, validators=[RegexValidator(r"^[A-Z0-9][A-Z0-9-]*$", "Capitals, digits and dashes.")]
    )
    material = models.CharField(max_length=12, choices=Material, default=Material.ALUMINIUM)
    outer_width_mm = FloatField(validators=[positive])
    outer_height_mm = FloatField(validators=[positive])
    inner_width_mm = FloatField(null=True, blank=True, validators=[positive])
    inner_height_mm = FloatField(null=True, blank=True, validators=[positive])
    registered_at = models.DateTimeField()
    registered_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["code"]
        # The smallest frame is what a figure for no certain screen goes by.
        indexes = [models.Index(fields=["outer_width_mm"])]

    def __str__(self) -> str:
        return self.code

    def inside_mm(self, settings) -> tuple[float, float]:
        """Width and height of its clear inside; by the house's usual bars where that was not measured."""
        bars = 2 * settings["placement.profile_mm"]
        return self.inner_width_mm or self.outer_width_mm - bars, self.inner_height_mm or self.outer_height_mm - bars


class MeshInstallation(models.Model):
    """One piece of mesh on a frame; tension and reclaim counts restart with it. `ended_at`, when it came off, is stored by
    `ledger`."""

    frame = models.ForeignKey(Frame, on_delete=models.PROTECT, related_name="installations")
    number = models.PositiveIntegerField()
    mesh = models.ForeignKey(MeshType, on_delete=models.PROTECT, related_name="+")
    line = models.CharField(max_length=8, choices=[(v.value, v.value) for v in lifecycle.Line])
    mounted_at = models.DateTimeField()
    angle_deg = models.FloatField(default=0)
    in_house = models.BooleanField(default=False)
    ended_at = models.DateTimeField(null=True, db_index=True)

    # Told by the records: no package holds them.
    derived = frozenset({"ended_at"})

    class Meta:
        constraints = [models.UniqueConstraint(fields=["frame", "number"], name="installations_are_numbered")]

    def __str__(self) -> str:
        return f"{self.frame} mesh {self.number}: {self.mesh}"


class Cycle(models.Model):
    """From bare mesh to reclaimed mesh.

    `last_min`, `coated_at`, `lost` and `lost_at` are what its records come to, stored by `ledger`: for each kind the minute,
    since 1970, of the last record; when it was coated last; at which stage before the press its stencil was lost, and when.
    """

    installation = models.ForeignKey(MeshInstallation, on_delete=models.PROTECT, related_name="cycles")
    number = models.PositiveIntegerField()
    started_at = models.DateTimeField(db_index=True)
    closed_at = models.DateTimeField(null=True, blank=True)
    last_min = models.JSONField(default=dict)
    coated_at = models.DateTimeField(null=True, db_index=True)
    lost = models.CharField(max_length=8, blank=True)
    lost_at = models.DateTimeField(null=True, db_index=True)

    derived = frozenset({"last_min", "coated_at", "lost", "lost_at"})

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["installation", "number"], name="cycles_are_numbered")]

    def __str__(self) -> str:
        return f"{self.installation} cycle {self.number}"


def open_among(cycles: Iterable[Cycle]) -> Cycle | None:
    """The cycle that goes on, of a mesh's cycles in their order.

    A later one may be open too: its first step was taken back, and then what had closed the one before it.
    """
    return next((cycle for cycle in cycles if cycle.closed_at is None), None)


class ScreenEventQuerySet(AppendOnlyQuerySet):
    def standing(self):
        """Records that hold: neither taken back nor the taking back itself."""
        return self.filter(replaced_by__isnull=True).exclude(kind="taken_back")


class ScreenEvent(AppendOnly):
    """One record of a screen's life: what was done, when, by whom, and the facts later steps rest on.

    Append-only.
    """

    installation = models.ForeignKey(MeshInstallation, on_delete=models.PROTECT, related_name="events")
    cycle = models.ForeignKey(Cycle, on_delete=models.PROTECT, null=True, related_name="events")
    kind = models.CharField(max_length=16)
    at = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    facts = models.JSONField(default=dict)
    summary = models.CharField(max_length=240)
    note = models.CharField(max_length=400, blank=True)
    override_reason = models.CharField(max_length=300, blank=True)
    replaces = models.OneToOneField("self", on_delete=models.PROTECT, null=True, related_name="replaced_by")

    objects = ScreenEventQuerySet.as_manager()

    class Meta:
        ordering = ["at", "pk"]
        # Records of a kind since a day are found without reading those of the other kinds.
        indexes = [models.Index(fields=["installation", "at"]), models.Index(fields=["at", "kind", "cycle"])]

    def clean(self) -> None:
        """The facts have the shape of their kind.

        Raises:
            ValidationError: they have not.
        """
        super().clean()
        wrong = wrong_in_old(self.kind, self.facts)
        wet_until = None if wrong else self.facts.get("wet_until")
        if wet_until is not None and parse_datetime(wet_until) is None:
            wrong = ["wet_until is no moment"]
        if wrong:
            raise ValidationError({"facts": f"Of {self.kind}, {', '.join(wrong)}."})

    def __str__(self) -> str:
        return f"{self.installation.frame} {self.kind} {self.at:%Y-%m-%d %H:%M}"

    @property
    def stands(self) -> bool:
        """Whether no later record took it back; asks the database unless it was read with what replaced it."""
        return not hasattr(self, "replaced_by")

    @property
    def screen_code(self) -> str:
        """For the log of writes."""
        return self.installation.frame.code

    def as_core(self) -> lifecycle.Event:
        facts = dict(self.facts)
        if facts.get("wet_until"):
            facts["wet_until"] = parse_datetime(facts["wet_until"])
        return lifecycle.Event(self.kind, self.at, facts)


class ScreenQuerySet(models.QuerySet):
    def for_lists(self):
        """Everything a frame sign needs, in one query."""
        return self.select_related("frame", "installation__mesh", "slot")

    def at_work(self):
        """Screens that are at some station rather than bare at rest."""
        return self.exclude(state__in=[lifecycle.State.BARE, lifecycle.State.NO_MESH, lifecycle.State.AWAY])

    def at_station(self, name, now):
        """Screens whose next work is done at a station."""
        station = stations.named(name)
        if station.wet:
            return self.filter(state__in=stations.DRIES, wet_until__gt=now)
        return self.filter(state__in=station.states).exclude(state__in=stations.DRIES, wet_until__gt=now)

    def waiting_for_hand(self):
        """Those of a station that ask for somebody now."""
        return self.exclude(state__in=stations.RESTS)

    def ready_to_coat(self, now):
        return self.filter(state=lifecycle.State.DEGREASED).exclude(wet_until__gt=now)

    def ready_to_expose(self, now):
        return self.filter(state=lifecycle.State.COATED).exclude(wet_until__gt=now)


class Screen(models.Model):
    """Where a screen stands now: the projection of its records. Only `ledger` writes it.

    `revision` grows with every record, so that a page can tell that somebody else was quicker.
    """

    frame = models.OneToOneField(Frame, on_delete=models.PROTECT, primary_key=True, related_name="screen")
    installation = models.OneToOneField(MeshInstallation, on_delete=models.PROTECT, related_name="screen")
    state = models.CharField(max_length=12, choices=[(s.value, w) for s, w in lifecycle.STATE_WORDS.items()])
    since = models.DateTimeField(null=True)
    wet_until = models.DateTimeField(null=True)
    layers_done = models.PositiveSmallIntegerField(default=0)
    layers = models.PositiveSmallIntegerField(default=0)
    coated_at = models.DateTimeField(null=True)
    is_test = models.BooleanField(default=False)
    cycles = models.PositiveIntegerField(default=0)
    tension_n_per_cm = models.FloatField(null=True)
    tension_at = models.DateTimeField(null=True)
    coat_colour = models.CharField(max_length=7, blank=True)
    slot = models.OneToOneField(Slot, on_delete=models.PROTECT, null=True, related_name="screen")
    revision = models.PositiveIntegerField(default=0)

    objects = ScreenQuerySet.as_manager()

    class Meta:
        ordering = ["frame__code"]
        indexes = [
            models.Index(fields=["state", "wet_until", "slot"]),
            models.Index(fields=["tension_n_per_cm"]),
            models.Index(fields=["tension_at"]),
        ]

    def __str__(self) -> str:
        return self.frame.code

    @property
    def code(self) -> str:
        return self.frame.code

    @property
    def mesh(self) -> MeshType:
        return self.installation.mesh

    @property
    def life(self) -> lifecycle.Life:
        """The stored projection as the core's value."""
        return lifecycle.Life(
            line=lifecycle.Line(self.installation.line),
            state=lifecycle.State(self.state),
            since=self.since,
            wet_until=self.wet_until,
            layers_done=self.layers_done,
            layers=self.layers,
            coated_at=self.coated_at,
            is_test=self.is_test,
            cycles=self.cycles,
            slot=self.slot.code if self.slot else "",
            tension_n_per_cm=self.tension_n_per_cm,
            tension_at=self.tension_at,
        )

    @cached_property
    def open_cycle(self) -> Cycle | None:
        return open_among(self.installation.cycles.filter(closed_at__isnull=True))
