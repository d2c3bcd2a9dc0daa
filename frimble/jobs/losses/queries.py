"""Everything that was lost in some time, from the records.

What is asked rests on one moment alone, so that each question is put together once.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache

from django.db.models import CharField, QuerySet, Value
from django.utils import timezone

from frimble.coatings.models import Coat, CoatDefect
from frimble.coatings.runs.queries import coated_size_mm
from frimble.core.coating.defects import DEFECTS
from frimble.core.coating.formula import parse_formula
from frimble.core.coating.wet import screen_ml
from frimble.core.conclusions import InvalidInput
from frimble.core.lifecycle import MESH_ENDS
from frimble.core.press.feedback import Hold
from frimble.core.stencil.diagnosis.causes import CAUSES
from frimble.core.stencil.diagnosis.codes import Cause
from frimble.core.stencil.losses import Loss, LossStage
from frimble.core.verdicts import FilmVerdict
from frimble.exposures.models import Exposure
from frimble.films.models import ScanCheck
from frimble.people.cached import Prepared
from frimble.press.models import PressFeedback
from frimble.screens.models import Cycle, Frame, MeshInstallation, MeshType, ScreenEvent
from frimble.screens.register.services import ENDINGS
from frimble.stencils.models import ConfirmedCause

NOT_FOUND_OUT = "cause not found out"
# A mesh taken off for these was not lost.
_NO_LOSS = ("cost", "other")
_FRAME = ("outer_width_mm", "outer_height_mm", "inner_width_mm", "inner_height_mm")
_MESH = ("count_per_cm", "thread_um", "fabric_thickness_um", "measured_opening_um")


@dataclass(frozen=True)
class Period:
    """What was lost since a day, and the stencils that were begun in that time."""

    losses: list[Loss]
    begun: int


def lost_since(start, settings) -> Period:
    """Films, coats, stencils, prints and meshes lost since `start`."""
    losses = [*_stencils(start, settings), *_films(start), *_meshes(start)]
    return Period(losses, Cycle.objects.filter(coated_at__gte=start).count())


def broke_since(start) -> QuerySet:
    """What was said of stencils that broke on press."""
    return PressFeedback.objects.filter(at__gte=start, hold=Hold.BROKE, cycle__isnull=False).order_by()


def _lost_cycles(start) -> QuerySet:
    before_press = Cycle.objects.filter(lost_at__gte=start).order_by().values("pk")
    return before_press.union(broke_since(start).values("cycle"))


def _stages(start) -> QuerySet:
    """(cycle, where it was lost)."""
    on_press = broke_since(start).values_list("cycle_id", Value(LossStage.PRINT.value, CharField()))
    before_press = Cycle.objects.filter(lost_at__gte=start).order_by().values_list("pk", "lost")
    return on_press.union(before_press)


def _coats(start) -> QuerySet:
    """Of what was lost since, the coats laid since, the last of each cycle last."""
    laid = Coat.objects.filter(event__at__gte=start, event__replaced_by=None, event__cycle__in=_lost_cycles(start))
    columns = ("event__cycle_id", "event__at", *_by("event__"), "batch__code", "batch__emulsion__cost_l", "formula")
    frame = [f"event__installation__frame__{name}" for name in ("code", *_FRAME)]
    mesh = [f"event__installation__mesh__{name}" for name in _MESH]
    return laid.order_by("pk").values_list(*columns, *frame, *mesh)


def _by(prefix: str = "") -> tuple[str, str]:
    return f"{prefix}by__first_name", f"{prefix}by__username"


def _lamps(start) -> QuerySet:
    given = Exposure.objects.filter(event__cycle__in=_lost_cycles(start), event__replaced_by=None)
    return given.order_by("pk").values_list("event__cycle_id", "lamp__name")


def _found(start) -> QuerySet:
    """(cycle, cause confirmed, defect of its coat seen, when) of what was lost since, the last last."""
    none = Value("", CharField())
    causes = ConfirmedCause.objects.filter(cycle__in=_lost_cycles(start)).order_by()
    defects = CoatDefect.objects.filter(coat__event__cycle__in=_lost_cycles(start)).order_by()
    both = causes.values_list("cycle_id", "cause", none, "at").union(
        defects.values_list("coat__event__cycle_id", none, "kind", "at"), all=True
    )
    return both.order_by("at")


def _checks(start) -> QuerySet:
    done = ScanCheck.objects.filter(state=ScanCheck.State.DONE, at__gte=start)
    return done.order_by("at", "pk").values_list("film_id", "at", *_by(), "result__verdict", "result__passed")


def _ended(start) -> QuerySet:
    meshes = MeshInstallation.objects.filter(ended_at__gte=start).values("pk")
    ended = ScreenEvent.objects.standing().filter(installation__in=meshes, kind__in=MESH_ENDS)
    return ended.values_list("at", *_by(), "facts")


_STAGES, _COATS, _LAMPS, _FOUND = map(Prepared, (_stages, _coats, _lamps, _found))
_CHECKS, _ENDED = map(Prepared, (_checks, _ended))


def _stencils(start, settings) -> Iterator[Loss]:
    """Stencils that failed, broke on press, or were coated and never exposed."""
    stages = _lost_stages(start)
    lamps, found = dict(_LAMPS.rows(start)), _FOUND.rows(start)
    causes = {cycle: cause for cycle, cause, _, _ in found if cause}
    defects = {cycle: defect for cycle, _, defect, _ in found if defect}
    laid_ml = cache(lambda formula, frame, mesh: _emulsion_ml(formula, frame, mesh, settings))
    coats = {cycle: coat for cycle, *coat in _COATS.rows(start) if cycle in stages}
    for cycle, (at, first_name, username, batch, cost_l, formula, screen, *sizes) in coats.items():
        usual = NOT_FOUND_OUT
        if stages[cycle] == LossStage.COAT:
            usual = DEFECTS[defects[cycle]].word if cycle in defects else "never exposed"
        cause = CAUSES[Cause(causes[cycle])].label if cycle in causes else usual
        ml = laid_ml(formula, tuple(sizes[: len(_FRAME)]), tuple(sizes[len(_FRAME) :]))
        yield Loss(
            stages[cycle], cause, _month(at), lamps.get(cycle, ""), first_name or username, batch, screen, ml,
            ml * (cost_l or 0) / 1000,
        )  # fmt: skip


def _lost_stages(start) -> dict[int, LossStage]:
    """Cycle → where it was lost, of those lost since; one that failed its inspection was lost there, not on press."""
    on_press_first = sorted(_STAGES.rows(start), key=lambda row: row[1] != LossStage.PRINT)
    return {cycle: LossStage(stage) for cycle, stage in on_press_first}


def _emulsion_ml(formula: str, frame: tuple, mesh: tuple, settings) -> float:
    """Laid on a screen by all its layers."""
    size = coated_size_mm(Frame(**dict(zip(_FRAME, frame, strict=True))), settings)
    cloth = MeshType(**dict(zip(_MESH, mesh, strict=True)))
    try:
        return screen_ml(parse_formula(formula, settings), cloth.geometry(settings), *size, settings)
    except InvalidInput:
        return 0.0


def _films(start) -> Iterator[Loss]:
    """Films whose last check found faults; each film once."""
    checks = {film: check for film, *check in _CHECKS.rows(start)}
    for at, first_name, username, verdict, passed in checks.values():
        if ScanCheck.verdict_of(verdict, passed) == FilmVerdict.FAULTS:
            yield Loss(LossStage.FILM, "film failed its check", _month(at), person=first_name or username)


def _meshes(start) -> Iterator[Loss]:
    for at, first_name, username, facts in _ENDED.rows(start):
        why = facts.get("ending", "")
        if why in ENDINGS and why not in _NO_LOSS:
            yield Loss(LossStage.MESH, ENDINGS[why], _month(at), person=first_name or username)


def _month(at) -> str:
    return timezone.localtime(at).strftime("%Y-%m")
