"""Everything on record of one stencil, and of all stencils of one film."""

from dataclasses import dataclass, field

from frimble.coatings.models import Coat
from frimble.core.stencil.outcome import Ending, ending
from frimble.exposures.models import Exposure
from frimble.films.models import Film
from frimble.press.defects.models import PrintDefect
from frimble.press.feedback.models import PressFeedback
from frimble.screens.models import Cycle, ScreenEvent
from frimble.stencils.models import ConfirmedCause, StencilPhoto, Washout

_MOST = 200


@dataclass
class StencilLife:
    """One stencil: its records in order, and what each station kept of it."""

    cycle: Cycle
    events: list[ScreenEvent] = field(default_factory=list)
    coat: Coat | None = None
    exposure: Exposure | None = None
    washout: Washout | None = None
    photos: list[StencilPhoto] = field(default_factory=list)
    feedback: list[PressFeedback] = field(default_factory=list)
    cause: ConfirmedCause | None = None
    shown: int = 0

    @property
    def impressions(self) -> int:
        """Written down at its coming back; those of a run that goes on with them."""
        runs = [e for e in self.events if e.kind == "from_press"]
        returned = max((e.at for e in runs), default=None)
        running = (f.impressions for f in self.feedback if f.impressions and (returned is None or f.at > returned))
        return sum(e.facts.get("impressions", 0) for e in runs) + next(running, 0)

    @property
    def mended(self) -> int:
        """Faults that filler or tape lies on, by its last sheet."""
        return self.photos[-1].number_mended if self.photos else 0

    @property
    def ending(self) -> Ending:
        inspected = [e.facts.get("passed") for e in self.events if e.kind == "inspect"]
        hold = next((f.hold for f in self.feedback if f.hold), "")
        return ending(inspected[-1] if inspected else None, hold, self.impressions, self.cycle.closed_at is not None)

    @property
    def recipe(self) -> str:
        """Mesh, coat and light, as one would make it again."""
        parts = [str(self.cycle.installation.mesh)]
        if self.coat:
            parts.append(f"{self.coat.formula} {self.coat.batch.emulsion}")
        if self.exposure:
            parts.append(f"{self.exposure.given_s:.0f} s under {self.exposure.lamp}")
        return ", ".join(parts)


def cycles_of(screen) -> list[Cycle]:
    """The stencils that this mesh has borne, newest first."""
    borne = Cycle.objects.filter(installation=screen.installation_id)
    return list(borne.select_related("installation__mesh").order_by("-number"))


def lives_of(cycles: list[Cycle]) -> list[StencilLife]:
    """Everything on record of some stencils, in nine questions however many they are."""
    lives = {c.pk: StencilLife(c) for c in cycles}
    ids = list(lives)
    for event in ScreenEvent.objects.standing().filter(cycle__in=ids).select_related("by").order_by("at", "pk"):
        lives[event.cycle_id].events.append(event)
    standing = {"event__cycle__in": ids, "event__replaced_by": None}
    for coat in Coat.objects.filter(**standing).select_related("event", "batch__emulsion").order_by("pk"):
        lives[coat.event.cycle_id].coat = coat
    for given in Exposure.objects.filter(**standing).select_related("event", "lamp", "film").order_by("pk"):
        lives[given.event.cycle_id].exposure = given
    for wash in Washout.objects.filter(**standing).select_related("event").order_by("pk"):
        lives[wash.event.cycle_id].washout = wash
    photos = StencilPhoto.objects.that_tell().filter(cycle__in=ids).select_related("by", "scan__film")
    for photo in photos.prefetch_related("decisions__by").order_by("pk"):
        lives[photo.cycle_id].photos.append(photo)
    for said in PressFeedback.objects.filter(cycle__in=ids).select_related("by"):
        lives[said.cycle_id].feedback.append(said)
    answers = PrintDefect.objects.filter(photo__cycle__in=ids, fault__isnull=False).select_related("photo")
    newest = {(a.photo.cycle_id, a.photo_id, a.fault): a.shows for a in answers.order_by("pk")}
    for (cycle, _, _), shows in newest.items():
        lives[cycle].shown += bool(shows)
    for cause in ConfirmedCause.objects.filter(cycle__in=ids).select_related("by").order_by("at", "pk"):
        lives[cause.cycle_id].cause = cause
    return list(lives.values())


def stencils_of(film: Film) -> list[StencilLife]:
    """The stencils exposed through a film, newest first."""
    given = Exposure.objects.filter(film=film, event__replaced_by=None)
    ids = given.order_by("-pk").values_list("event__cycle", flat=True)[:_MOST]
    found = Cycle.objects.filter(pk__in=list(ids)).select_related("installation__mesh", "installation__frame")
    return lives_of(list(found.order_by("-started_at", "-pk")))


def films_alike(film: Film) -> list[Film]:
    """Other films of the same design: those that bear its name."""
    return list(Film.objects.filter(name=film.name).exclude(pk=film.pk).order_by("-made_at")[:20])
