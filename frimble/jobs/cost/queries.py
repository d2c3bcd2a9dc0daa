"""What a job's cost rests on: films, coats, meshes and losses as the records have them."""

from collections.abc import Iterator
from datetime import timedelta

from django.utils import timezone

from frimble.coatings.batches.queries import FLOW_SIGN
from frimble.coatings.models import Batch, BatchRecord, Coat, CoatingRun
from frimble.coatings.runs.queries import coated_size_mm
from frimble.coatings.thickness.queries import expected
from frimble.core.coating.formula import parse_formula
from frimble.core.coating.plan import wet_deposit
from frimble.core.coating.wet import FILLS, screen_ml, wet_um
from frimble.core.conclusions import Conclusion, RuleViolation
from frimble.core.costing.emulsion_use import used_over_predicted
from frimble.core.costing.screen import ScreenFacts
from frimble.core.statistics.interval import Interval
from frimble.core.statistics.proportion import proportion
from frimble.core.stencil.losses import LossStage
from frimble.films.models import FilmProcess
from frimble.jobs.choosing.colours import WITH_STENCIL
from frimble.jobs.losses.queries import lost_since
from frimble.jobs.models import Job, ScreenNeed
from frimble.people.cached import CachedValue
from frimble.screens.models import Frame, MeshType

_YEAR, _RUNS = timedelta(days=365), 60
_FLOWS = (BatchRecord.Kind.POURED, BatchRecord.Kind.RETURNED)
_STENCILS = (LossStage.COAT, LossStage.STENCIL, LossStage.PRINT)
# The next meshes on the list, coarser and finer, that a change is told for.
_NEXT_MESHES = 1
# What a year's losses and coating runs come to.
CACHED = CachedValue("job-costs", 3600)


class JobFacts:
    """The screens of a job with what each costs, and the changes that can be told for each."""

    def __init__(self, job: Job, settings) -> None:
        self._settings = settings
        self._batch = Batch.objects.in_use().first()
        if self._batch is None:
            raise RuleViolation("No emulsion is open: what a coat takes cannot be worked out.")
        self._frame = Frame.objects.order_by("outer_width_mm").first()
        self._lost, self._used = CACHED.get(lambda: (_lost_share(settings), emulsion_use(settings)), settings)
        needs = job.needs.select_related("mesh", "film__process", "frame__screen")
        self._needs = [need for need in needs for _ in range(need.number)]
        self.screens = [self._facts(need, need.mesh) for need in self._needs]

    def others(self) -> Iterator[tuple[str, int, ScreenFacts]]:
        """Each screen with the next coarser and finer mesh, with its stencil kept, and by the dearest film process."""
        meshes = list(MeshType.objects.filter(thermal=False).order_by("count_per_cm"))
        dearest = max((cost.a_film for p in FilmProcess.objects.all() if (cost := p.cost())), default=None)
        for k, need in enumerate(self._needs):
            name = self.screens[k].name
            place = next(i for i, mesh in enumerate(meshes) if mesh.pk == need.mesh_id)
            for other in (*meshes[max(0, place - _NEXT_MESHES) : place], *meshes[place + 1 : place + 1 + _NEXT_MESHES]):
                yield f"{name} on {other}", k, self._facts(need, other)
            if not self.screens[k].kept:
                yield f"{name} from a kept stencil", k, self._facts(need, need.mesh, kept=True)
                if dearest is not None and self.screens[k].film is not None and dearest > self.screens[k].film:
                    yield f"{name} with the dearest film", k, self._facts(need, need.mesh, film=dearest)

    def _facts(
        self, need: ScreenNeed, mesh: MeshType, *, kept: bool | None = None, film: float | None = None
    ) -> ScreenFacts:
        settings, frame = self._settings, need.frame or self._frame
        size = coated_size_mm(frame, settings) if frame else (400.0, 500.0)
        formula = parse_formula(need.formula, settings)
        cloth = mesh.geometry(settings)
        deposit = wet_deposit(cloth, expected(mesh, formula, self._batch.emulsion, settings))
        wide, high = frame.inside_mm(settings) if frame else size
        image = need.film
        area = image.width_mm * image.height_mm / 100 if image and image.width_mm and image.height_mm else None
        costs = image.process.cost() if image and image.process else None
        stands = need.frame is not None and need.frame.screen.state in WITH_STENCIL
        return ScreenFacts(
            need.colour or str(need.mesh),
            stands if kept is None else kept,
            film if film is not None else costs.a_film if costs else None,
            screen_ml(formula, cloth, *size, settings) * (self._used.value or 1.0),
            self._batch.emulsion.cost_l,
            wide * high / 1e6,
            deposit.known,
            area,
            self._lost,
            "as predicted" if self._used.value is None else f"{self._used.value:.2f} × predicted by what was poured",
        )


def emulsion_use(settings) -> Conclusion:
    """How many times its predicted emulsion a coat takes here, by the runs whose pouring was written down."""
    runs = CoatingRun.objects.filter(ended_at__gte=timezone.now() - _YEAR).prefetch_related(
        "batch_records", "screens__coat__event__installation__frame", "screens__coat__event__installation__mesh"
    )
    return used_over_predicted([_run_litres(run, settings) for run in runs[:_RUNS]])


def _run_litres(run: CoatingRun, settings) -> tuple[float, float]:
    """What was poured and not returned, and what its coats were predicted to take, l."""
    used = -sum(FLOW_SIGN[r.kind] * r.litres for r in run.batch_records.all() if r.kind in _FLOWS)
    return used, sum(_predicted_l(turn.coat, settings) for turn in run.screens.all() if turn.coat)


def _predicted_l(coat: Coat, settings) -> float:
    """Of one layer."""
    installation = coat.event.installation
    wide, high = coated_size_mm(installation.frame, settings)
    formula = parse_formula(coat.formula, settings)
    wet = wet_um(formula, coat.layer, installation.mesh.geometry(settings), settings, FILLS.get(coat.fill))
    return float(wet * wide * high / 1e9)


def _lost_share(settings) -> Interval:
    """Of a year's stencils those made in vain; nothing is known of a shop without any."""
    period = lost_since(timezone.now() - _YEAR, settings)
    lost = sum(loss.stage in _STENCILS for loss in period.losses)
    return proportion(min(lost, period.begun), period.begun) if period.begun else Interval(0.0, 0.0, 0.0)
