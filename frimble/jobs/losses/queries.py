"""Everything that was lost in some time, from the records."""

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass
from functools import cache

from django.utils import timezone

from frimble.coatings.models import Coat, CoatDefect
from frimble.coatings.runs.queries import coated_size_mm
from frimble.core.coating.formula import parse_formula
from frimble.core.coating.wet import screen_ml
from frimble.core.conclusions import InvalidInput
from frimble.core.lifecycle import MESH_ENDS
from frimble.core.press.feedback import Hold
from frimble.core.stencil.losses import Loss, LossStage
from frimble.core.stencil.wear import PrintedStencil
from frimble.core.verdicts import FilmVerdict
from frimble.exposures.models import Exposure
from frimble.films.models import ScanCheck
from frimble.press.models import PressFeedback
from frimble.screens.models import Cycle, MeshInstallation, MeshType, ScreenEvent
from frimble.screens.register.services import ENDINGS
from frimble.stencils.models import ConfirmedCause
from frimble.stencils.washing.learning import dose_of

NOT_FOUND_OUT = "cause not found out"
# A mesh taken off for these was not lost.
_NO_LOSS = ("cost", "other")
# Stencils that tell how they stand their runs.
_MOST_PRINTED = 500


@dataclass(frozen=True)
class Period:
    """What was lost since a day, and the stencils that were begun in that time."""

    losses: list[Loss]
    begun: int


def lost_since(start, settings) -> Period:
    """Films, coats, stencils, prints and meshes lost since `start`."""
    losses = [*_stencils(start, settings), *_films(start), *_meshes(start)]
    return Period(losses, Cycle.objects.filter(coated_at__gte=start).count())


def _stencils(start, settings) -> Iterator[Loss]:
    """Stencils that failed, broke on press, or were coated and never exposed."""
    stages = _lost_stages(start)
    coats = _coats(start, stages)
    exposures = Exposure.objects.filter(event__cycle__in=coats, event__replaced_by=None).order_by("pk")
    lamps = dict(exposures.values_list("event__cycle_id", "lamp__name"))
    causes = _causes(coats)
    defects = dict(CoatDefect.objects.filter(coat__in=coats.values()).values_list("coat__event__cycle_id", "kind"))
    laid_ml = cache(lambda formula, mesh, *size: _emulsion_ml(formula, mesh, size, settings))
    for cycle, coat in coats.items():
        usual = NOT_FOUND_OUT
        if stages[cycle] == LossStage.COAT:
            usual = CoatDefect(kind=defects.get(cycle, "")).get_kind_display() or "never exposed"
        frame, mesh = coat.event.installation.frame, coat.event.installation.mesh
        ml = laid_ml(coat.formula, mesh, *coated_size_mm(frame, settings))
        price = (coat.batch.emulsion.cost_l or 0) / 1000
        yield Loss(
            stages[cycle], causes.get(cycle, usual), _month(coat.event.at), lamps.get(cycle, ""), str(coat.event.by),
            coat.batch.code, frame.code, ml, ml * price,
        )  # fmt: skip


def _lost_stages(start) -> dict[int, LossStage]:
    """Cycle → where it was lost, of those lost since; one that failed its inspection was lost there, not on press."""
    broke = PressFeedback.objects.filter(at__gte=start, hold=Hold.BROKE, cycle__isnull=False)
    before_press = Cycle.objects.filter(lost_at__gte=start).values_list("pk", "lost")
    return {
        **dict.fromkeys(broke.values_list("cycle_id", flat=True), LossStage.PRINT),
        **{cycle: LossStage(lost) for cycle, lost in before_press},
    }


def _coats(start, cycles: Collection[int]) -> dict[int, Coat]:
    """Cycle → its last coat, of those of the cycles that were coated since."""
    laid = Coat.objects.filter(event__at__gte=start, event__replaced_by=None, event__cycle__in=cycles).select_related(
        "event__by", "event__installation__frame", "event__installation__mesh", "batch__emulsion"
    )
    return {coat.event.cycle_id: coat for coat in laid.order_by("pk")}


def _causes(coats) -> dict[int, str]:
    found = ConfirmedCause.objects.filter(cycle__in=coats).order_by("at", "pk")
    return {cause.cycle_id: cause.label for cause in found}


def _emulsion_ml(formula: str, mesh: MeshType, size: Sequence[float], settings) -> float:
    """Laid on a screen by all its layers."""
    try:
        return screen_ml(parse_formula(formula, settings), mesh.geometry(settings), *size, settings)
    except InvalidInput:
        return 0.0


def _films(start) -> Iterator[Loss]:
    """Films whose last check found faults; each film once."""
    done = ScanCheck.objects.filter(state=ScanCheck.State.DONE, at__gte=start).select_related("by").order_by("at", "pk")
    for check in {c.film_id: c for c in done}.values():
        if check.found == FilmVerdict.FAULTS:
            yield Loss(LossStage.FILM, "film failed its check", _month(check.at), person=str(check.by))


def _meshes(start) -> Iterator[Loss]:
    meshes = list(MeshInstallation.objects.filter(ended_at__gte=start).values_list("pk", flat=True))
    ended = ScreenEvent.objects.standing().filter(installation__in=meshes, kind__in=MESH_ENDS)
    for event in ended.select_related("by"):
        why = event.facts.get("ending", "")
        if why in ENDINGS and why not in _NO_LOSS:
            yield Loss(LossStage.MESH, ENDINGS[why], _month(event.at), person=str(event.by))


def _month(at) -> str:
    return timezone.localtime(at).strftime("%Y-%m")


def printed_since(start) -> list[PrintedStencil]:
    """Stencils that came back from press since `start`, or were spoken of there; of very many the newest."""
    back = ScreenEvent.objects.standing().filter(kind="from_press", at__gte=start, cycle__isnull=False)
    spoken = PressFeedback.objects.filter(at__gte=start, hold=Hold.BROKE, cycle__isnull=False)
    impressions: dict[int, int] = {}
    columns = ("cycle_id", "facts", "cycle__last_min__harden", "at")
    newest = list(back.order_by("-at").values_list(*columns)[:_MOST_PRINTED])
    for cycle, facts, *_ in newest:
        impressions[cycle] = impressions.get(cycle, 0) + facts.get("impressions", 0)
    if len(newest) == _MOST_PRINTED:
        # Of the same time as those that came back, or too many would seem to break.
        spoken = spoken.filter(at__gte=newest[-1][-1])
    broke = dict(spoken.values_list("cycle_id", "cycle__last_min__harden"))
    cycles = impressions.keys() | broke
    hardened = {cycle for cycle, _, at_min, _ in newest if at_min is not None}
    hardened |= {cycle for cycle, at_min in broke.items() if at_min is not None}
    given = Exposure.objects.filter(event__cycle__in=cycles, event__replaced_by=None).order_by("pk")
    times = given.values_list("event__cycle_id", "given_s", "entry__time_s")
    doses = {cycle: dose_of(given_s, calibrated_s) for cycle, given_s, calibrated_s in times}
    return [
        PrintedStencil(cycle in hardened, doses.get(cycle), cycle in broke, impressions.get(cycle, 0))
        for cycle in sorted(cycles)
    ]
