"""Frames, meshes and the records of their lives. Frame, mesh and stencil are three lives.

Records are append-only. `Screen` is a stored projection of them, computed by `frimble.core.lifecycle`.
"""

import secrets

from django.core.validators import RegexValidator
from django.db import models
from django.utils.dateparse import parse_datetime
from django.utils.functional import cached_property
from simple_history.models import HistoricalRecords

from frimble.core import lifecycle
from frimble.core.mesh import blemishes
from frimble.core.mesh.geometry import MeshGeometry, geometry
from frimble.people.models import Person
from frimble.people.records import AppendOnly, AppendOnlyQuerySet


class MeshKind(models.Model):
    """A cloth as bought: count, thread, colour. Reference data, with history."""

    class Colour(models.TextChoices):
        WHITE = "white", "white"
        YELLOW = "yellow", "yellow"

    count_per_cm = models.FloatField()
    thread_um = models.FloatField()
    colour = models.CharField(max_length=8, choices=Colour, default=Colour.WHITE)
    fabric_thickness_um = models.FloatField(null=True, blank=True)
    measured_opening_um = models.FloatField(null=True, blank=True)
    thermal = models.BooleanField(default=False)
    history = HistoricalRecords()

    class Meta:
        ordering = ["count_per_cm", "thread_um", "colour"]
        constraints = [
            models.UniqueConstraint(fields=["count_per_cm", "thread_um", "colour", "thermal"], name="one_of_each_mesh"),
            models.CheckConstraint(condition=models.Q(count_per_cm__gt=0, thread_um__gt=0), name="mesh_is_positive"),
        ]

    def __str__(self) -> str:
        kind = "thermal film" if self.thermal else self.colour
        return f"{self.count_per_cm:.0f}-{self.thread_um:.0f} {kind}"

    def geometry(self, standards) -> MeshGeometry:
        return geometry(
            self.count_per_cm, self.thread_um, standards, self.fabric_thickness_um, self.measured_opening_um
        )


class Rack(models.Model):
    """A rack as it stands: open or dark, level or not (wet coats lie level), a drying cabinet or not."""

    code = models.CharField(max_length=8, unique=True)
    name = models.CharField(max_length=60)
    dark = models.BooleanField(default=False)
    level = models.BooleanField(default=False)
    cabinet = models.BooleanField(default=False)

    class Meta:
        ordering = ["code"]

    def __str__(self) -> str:
        return self.name


class Slot(models.Model):
    """One place in a rack. Column and row count from the lower left; sizes are clear mm."""

    rack = models.ForeignKey(Rack, on_delete=models.CASCADE, related_name="slots")
    code = models.CharField(max_length=12, unique=True)
    column = models.PositiveSmallIntegerField()
    row = models.PositiveSmallIntegerField()
    width_mm = models.FloatField()
    height_mm = models.FloatField()

    class Meta:
        ordering = ["rack__code", "row", "column"]
        constraints = [models.UniqueConstraint(fields=["rack", "column", "row"], name="one_slot_a_place")]

    def __str__(self) -> str:
        return self.code


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
    outer_width_mm = models.FloatField()
    outer_height_mm = models.FloatField()
    inner_width_mm = models.FloatField(null=True, blank=True)
    inner_height_mm = models.FloatField(null=True, blank=True)
    registered_at = models.DateTimeField()
    registered_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["code"]

    def __str__(self) -> str:
        return self.code


class Meshing(models.Model):
    """One piece of mesh on a frame; tension and reclaim counts restart with it."""

    frame = models.ForeignKey(Frame, on_delete=models.PROTECT, related_name="meshings")
    number = models.PositiveIntegerField()
    mesh = models.ForeignKey(MeshKind, on_delete=models.PROTECT, related_name="+")
    line = models.CharField(max_length=8, choices=[(v.value, v.value) for v in lifecycle.Line])
    mounted_at = models.DateTimeField()
    angle_deg = models.FloatField(default=0)
    in_house = models.BooleanField(default=False)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["frame", "number"], name="meshings_are_numbered")]

    def __str__(self) -> str:
        return f"{self.frame} mesh {self.number}: {self.mesh}"


class Cycle(models.Model):
    """From bare mesh to reclaimed mesh."""

    meshing = models.ForeignKey(Meshing, on_delete=models.PROTECT, related_name="cycles")
    number = models.PositiveIntegerField()
    started_at = models.DateTimeField()
    closed_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["meshing", "number"], name="cycles_are_numbered")]

    def __str__(self) -> str:
        return f"{self.meshing} cycle {self.number}"


class LifeEventQuerySet(AppendOnlyQuerySet):
    def standing(self):
        """Records that hold: neither taken back nor the taking back itself."""
        return self.filter(replaced_by__isnull=True).exclude(kind="taken_back")


class LifeEvent(AppendOnly):
    """One record of a screen's life: what was done, when, by whom, and the facts later steps rest on."""

    meshing = models.ForeignKey(Meshing, on_delete=models.PROTECT, related_name="events")
    cycle = models.ForeignKey(Cycle, on_delete=models.PROTECT, null=True, related_name="events")
    kind = models.CharField(max_length=16)
    at = models.DateTimeField(db_index=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    facts = models.JSONField(default=dict)
    summary = models.CharField(max_length=240)
    note = models.CharField(max_length=400, blank=True)
    override_reason = models.CharField(max_length=300, blank=True)
    replaces = models.OneToOneField("self", on_delete=models.PROTECT, null=True, related_name="replaced_by")

    objects = LifeEventQuerySet.as_manager()

    class Meta:
        ordering = ["at", "pk"]
        indexes = [models.Index(fields=["meshing", "at"])]

    def __str__(self) -> str:
        return f"{self.meshing.frame} {self.kind} {self.at:%Y-%m-%d %H:%M}"

    def as_core(self) -> lifecycle.Event:
        facts = dict(self.facts)
        if facts.get("wet_until"):
            facts["wet_until"] = parse_datetime(facts["wet_until"])
        return lifecycle.Event(self.kind, self.at, facts)


class ScreenQuerySet(models.QuerySet):
    def for_lists(self):
        """Everything a frame sign needs, in one query."""
        return self.select_related("frame", "meshing__mesh", "slot")

    def at_work(self):
        """Screens that are at some station rather than bare at rest."""
        return self.exclude(state__in=[lifecycle.State.BARE, lifecycle.State.NO_MESH, lifecycle.State.AWAY])

    def at_station(self, name, now):
        """Screens whose next work is done at a station."""
        found = self.filter(state__in=lifecycle.states_at(name))
        if name == "dry":
            return found.filter(wet_until__gt=now)
        return found.exclude(state__in=lifecycle.DRIES, wet_until__gt=now)

    def waiting_for_hand(self):
        """Those of a station that ask for somebody now."""
        return self.exclude(state__in=lifecycle.RESTS)

    def ready_to_coat(self, now):
        return self.filter(state=lifecycle.State.DEGREASED).exclude(wet_until__gt=now)

    def ready_to_expose(self, now):
        return self.filter(state=lifecycle.State.COATED).exclude(wet_until__gt=now)


class Screen(models.Model):
    """Where a screen stands now: the projection of its records. Only `actions` writes it.

    `revision` grows with every record, so that a page can tell that somebody else was quicker.
    """

    frame = models.OneToOneField(Frame, on_delete=models.PROTECT, primary_key=True, related_name="screen")
    meshing = models.OneToOneField(Meshing, on_delete=models.PROTECT, related_name="screen")
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
            models.Index(fields=["state", "wet_until"]),
            models.Index(fields=["tension_n_per_cm"]),
            models.Index(fields=["tension_at"]),
        ]

    def __str__(self) -> str:
        return self.frame.code

    @property
    def code(self) -> str:
        return self.frame.code

    @property
    def mesh(self) -> MeshKind:
        return self.meshing.mesh

    @property
    def life(self) -> lifecycle.Life:
        """The stored projection as the core's value."""
        return lifecycle.Life(
            line=lifecycle.Line(self.meshing.line),
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
        return self.meshing.cycles.filter(closed_at__isnull=True).last()


def photo_name(blemish, filename: str) -> str:
    """A generated name: nothing of what was sent becomes a path."""
    return f"marks/{secrets.token_hex(16)}"


class Blemish(AppendOnly):
    """A ghost, haze, hole or spot on a mesh, mm from the frame's outer top left, print side up; or that one is gone."""

    meshing = models.ForeignKey(Meshing, on_delete=models.PROTECT, related_name="blemishes")
    kind = models.CharField(max_length=8, choices=list(blemishes.BLEMISHES.items()))
    x_mm = models.FloatField()
    y_mm = models.FloatField()
    width_mm = models.FloatField()
    height_mm = models.FloatField()
    photo = models.FileField(upload_to=photo_name, blank=True)
    clears = models.OneToOneField("self", on_delete=models.PROTECT, null=True, related_name="cleared_by")
    at = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["at", "pk"]

    def __str__(self) -> str:
        return f"{self.get_kind_display()} on {self.meshing.frame}"

    def as_core(self) -> blemishes.Blemish:
        return blemishes.Blemish(self.kind, self.x_mm, self.y_mm, self.width_mm, self.height_mm)


class ReclaimProduct(models.Model):
    """What the shop uses at a step of the reclaim, with its own dwell. Reference data, with history."""

    step = models.CharField(max_length=20, unique=True)
    name = models.CharField(max_length=60)
    dwell_s = models.FloatField(null=True, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["step"]

    def __str__(self) -> str:
        return self.name


class SavedLook(models.Model):
    """A search somebody wants to see again."""

    name = models.CharField(max_length=40)
    query = models.CharField(max_length=300)
    by = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="looks")

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["by", "name"], name="looks_are_named_once")]

    def __str__(self) -> str:
        return self.name


class TensionMeasuring(models.Model):
    """The statistics of one tension measuring, N/cm."""

    event = models.OneToOneField(LifeEvent, on_delete=models.PROTECT, related_name="tension")
    mean = models.FloatField()
    lowest = models.FloatField()
    highest = models.FloatField()
    warp_mean = models.FloatField()
    weft_mean = models.FloatField()
    simulated = models.BooleanField(default=False)

    def __str__(self) -> str:
        return f"{self.mean:.1f} N/cm"


class TensionValue(models.Model):
    """One press of the gauge."""

    measuring = models.ForeignKey(TensionMeasuring, on_delete=models.PROTECT, related_name="values")
    place = models.CharField(max_length=20)
    direction = models.CharField(max_length=4, choices=[("warp", "warp"), ("weft", "weft")])
    n_per_cm = models.FloatField()

    def __str__(self) -> str:
        return f"{self.place} {self.direction} {self.n_per_cm:g}"
