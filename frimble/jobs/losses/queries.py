"""Everything that was lost in some time, from the records."""

from collections.abc import Iterator
from dataclasses import dataclass

from django.utils import timezone

from frimble.coatings.models import Coat, CoatDefect
from frimble.coatings.runs.queries import coated_size_mm
from frimble.core.coating.formula import parse_formula
from frimble.core.coating.wet import screen_ml
from frimble.core.conclusions import InvalidInput
from frimble.core.press.feedback import Hold
from frimble.core.stencil.losses import Loss, LossStage
from frimble.core.stencil.wear import PrintedStencil
from frimble.core.verdicts import FilmVerdict
from frimble.exposures.models import Exposure
from frimble.films.models import ScanCheck
from frimble.press.models import PressFeedback
from frimble.screens.models import Cycle, ScreenEvent
from frimble.screens.register.services import ENDINGS
from frimble.stencils.models import ConfirmedCause
from frimble.stencils.washing.learning import dose

NOT_FOUND_OUT = "cause not found out"
# A mesh taken off for these was not lost.
_NO_LOSS = ("cost", "other")


@dataclass(frozen=True)
class Period:
    """What was lost since a day, and the stencils that were begun in that time."""

    losses: list[Loss]
    begun: int


def lost_since(start, settings) -> Period:
    """Films, coats, stencils, prints and meshes lost since `start`."""
    coats = _coats(start)
    losses = [*_stencils(start, coats, settings), *_films(start), *_meshes(start)]
    return Period(losses, len(coats))


def _coats(start) -> dict[int, Coat]:
    """Cycle → its last coat, of those coated since."""
    laid = Coat.objects.filter(event__at__gte=start, event__replaced_by=None, event__cycle__isnull=False)
    laid = laid.select_related(
        "event__by", "event__installation__frame", "event__installation__mesh", "batch__emulsion"
    )
    return {coat.event.cycle_id: coat for coat in laid.order_by("pk")}


def _stencils(start, coats: dict[int, Coat], settings) -> Iterator[Loss]:
    """Stencils that failed, broke on press, or were coated and never exposed."""
    exposures = Exposure.objects.filter(event__cycle__in=coats, event__replaced_by=None).select_related("lamp", "event")
    given = {e.event.cycle_id: e for e in exposures.order_by("pk")}
    inspected = _last_inspections(coats)
    broke = set(PressFeedback.objects.filter(cycle__in=coats, hold=Hold.BROKE).values_list("cycle_id", flat=True))
    closed = set(Cycle.objects.filter(pk__in=coats, closed_at__isnull=False).values_list("pk", flat=True))
    lit = set(ScreenEvent.objects.standing().filter(cycle__in=coats, kind="expose").values_list("cycle_id", flat=True))
    causes = _causes(coats)
    defects = dict(CoatDefect.objects.filter(coat__in=coats.values()).values_list("coat__event__cycle_id", "kind"))
    for cycle, coat in coats.items():
        if inspected.get(cycle) is False:
            stage, usual = LossStage.STENCIL, NOT_FOUND_OUT
        elif cycle in broke:
            stage, usual = LossStage.PRINT, NOT_FOUND_OUT
        elif cycle in closed and cycle not in lit:
            stage, usual = LossStage.COAT, CoatDefect(kind=defects.get(cycle, "")).get_kind_display() or "never exposed"
        else:
            continue
        ml = _emulsion_ml(coat, settings)
        price = (coat.batch.emulsion.cost_l or 0) / 1000
        lamp = str(given[cycle].lamp) if cycle in given else ""
        yield Loss(
            stage, causes.get(cycle, usual), _month(coat.event.at), lamp, str(coat.event.by), coat.batch.code,
            coat.event.installation.frame.code, ml, ml * price,
        )  # fmt: skip


def _last_inspections(coats) -> dict[int, bool]:
    looked = ScreenEvent.objects.standing().filter(cycle__in=coats, kind="inspect").order_by("at", "pk")
    return {cycle: facts.get("passed", True) for cycle, facts in looked.values_list("cycle_id", "facts")}


def _causes(coats) -> dict[int, str]:
    found = ConfirmedCause.objects.filter(cycle__in=coats).order_by("at", "pk")
    return {cause.cycle_id: cause.label for cause in found}


def _emulsion_ml(coat: Coat, settings) -> float:
    """Laid on the screen by all its layers."""
    frame, mesh = coat.event.installation.frame, coat.event.installation.mesh
    size = coated_size_mm(frame, settings)
    try:
        return screen_ml(parse_formula(coat.formula, settings), mesh.geometry(settings), *size, settings)
    except InvalidInput:
        return 0.0


def _films(start) -> Iterator[Loss]:
    """Films whose last check found faults; each film once."""
    done = ScanCheck.objects.filter(state=ScanCheck.State.DONE, at__gte=start).select_related("by").order_by("at", "pk")
    for check in {c.film_id: c for c in done}.values():
        if check.found == FilmVerdict.FAULTS:
            yield Loss(LossStage.FILM, "film failed its check", _month(check.at), person=str(check.by))


def _meshes(start) -> Iterator[Loss]:
    ended = ScreenEvent.objects.standing().filter(kind__in=["take_off", "cut_out"], at__gte=start).select_related("by")
    for event in ended:
        why = event.facts.get("ending", "")
        if why in ENDINGS and why not in _NO_LOSS:
            yield Loss(LossStage.MESH, ENDINGS[why], _month(event.at), person=str(event.by))


def _month(at) -> str:
    return timezone.localtime(at).strftime("%Y-%m")


def printed_since(start) -> list[PrintedStencil]:
    """Stencils that came back from press since `start`, or were spoken of there."""
    back = ScreenEvent.objects.standing().filter(kind="from_press", at__gte=start, cycle__isnull=False)
    impressions: dict[int, int] = {}
    for cycle, facts in back.values_list("cycle_id", "facts"):
        impressions[cycle] = impressions.get(cycle, 0) + facts.get("impressions", 0)
    broke = set(
        PressFeedback.objects.filter(at__gte=start, hold=Hold.BROKE, cycle__isnull=False).values_list(
            "cycle_id", flat=True
        )
    )
    cycles = impressions.keys() | broke
    hardened = set(
        ScreenEvent.objects.standing().filter(cycle__in=cycles, kind="harden").values_list("cycle_id", flat=True)
    )
    given = Exposure.objects.filter(event__cycle__in=cycles, event__replaced_by=None).select_related("entry", "event")
    doses = {e.event.cycle_id: dose(e) for e in given.order_by("pk")}
    return [
        PrintedStencil(cycle in hardened, doses.get(cycle), cycle in broke, impressions.get(cycle, 0))
        for cycle in sorted(cycles)
    ]
