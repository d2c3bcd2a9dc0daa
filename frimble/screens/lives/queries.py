"""How meshes of this shop lived and lose tension: histories for the core's forecasts and life curves."""

from collections import defaultdict
from dataclasses import dataclass
from datetime import date, timedelta

from django.core.cache import cache
from django.db.models import Count, Q
from django.utils import timezone

from frimble.core.mesh import life as mesh_life
from frimble.core.statistics import survival
from frimble.core.tension import loss as tension_loss
from frimble.people import settings as house_settings
from frimble.screens.models import Cycle, LifeEvent, Meshing, Screen
from frimble.screens.register.services import ENDINGS

_MOST_OTHERS = 60
_SECONDS_A_DAY = 86_400
# The shop's belief moves slowly; a page need not learn it anew.
_BELIEF_KEPT_S = 600


@dataclass(frozen=True)
class MeshLife:
    """All that is foretold of a screen's mesh: its measurings, the forecast or None, sudden changes by measuring, the life
    curve of its kind, and what to do with it."""

    history: list[tension_loss.Measured]
    forecast: tension_loss.Forecast | None
    sudden: dict[int, str]
    lives: survival.Survival | None
    advice: mesh_life.Advice
    since: object

    def crossing_days(self) -> tuple[date | None, date | None, date | None]:
        """(day, first, last) on which it is to be expected under the limit; None where that is beyond what is foretold."""
        if not self.forecast:
            return None, None, None
        measured = self.since + timedelta(days=self.history[-1].days)
        found = self.forecast.crossing
        return tuple(
            None if days is None else timezone.localdate(measured + timedelta(days=days))
            for days in (found.value, found.low, found.high)
        )


def life_of(screen: Screen, marks) -> MeshLife:
    """Look at one screen's mesh, with the blemishes that are on it, learning from the others of its kind."""
    in_force, meshing = house_settings.current(), screen.meshing
    history = histories([meshing])[meshing.pk]
    belief, forecast, sudden = _belief(screen, in_force), None, {}
    if history:
        forecast = tension_loss.forecast(history, belief, in_force, _cycles_a_day(screen, history))
        sudden = dict(tension_loss.sudden_changes(history, belief, in_force))
    lives = life_curve(meshing.mesh_id, screen.frame.material)
    kinds = {mark.kind for mark in marks}
    facts = mesh_life.MeshFacts(
        screen.frame.material, screen.cycles, screen.tension_n_per_cm, "hole" in kinds, "ghost" in kinds
    )
    advice = mesh_life.advise(facts, in_force, forecast, lives)
    return MeshLife(history, forecast, sudden, lives, advice, meshing.mounted_at)


def histories(meshings) -> dict[int, list[tension_loss.Measured]]:
    """Measurings of meshes, oldest first, with cycles closed by then; stretching readings count as any other."""
    meshings = list(meshings)
    events = LifeEvent.objects.standing().filter(meshing__in=meshings, kind="tension").order_by("at", "pk")
    closed = defaultdict(list)
    for meshing_id, at in Cycle.objects.filter(meshing__in=meshings, closed_at__isnull=False).values_list(
        "meshing_id", "closed_at"
    ):
        closed[meshing_id].append(at)
    mounted = {m.pk: m.mounted_at for m in meshings}
    found: dict[int, list[tension_loss.Measured]] = {m.pk: [] for m in meshings}
    for meshing_id, at, facts in events.values_list("meshing_id", "at", "facts"):
        days = max(0.0, (at - mounted[meshing_id]).total_seconds() / _SECONDS_A_DAY)
        cycles = sum(end <= at for end in closed[meshing_id])
        found[meshing_id].append(tension_loss.Measured(days, cycles, facts["mean"]))
    return found


def _belief(screen: Screen, in_force):
    """What the shop's other screens of this mesh and frame kind tell, kept for some minutes."""

    def learned():
        others = _alike(screen.meshing.mesh_id, screen.frame.material).exclude(frame=screen.frame)
        latest = others.order_by("-mounted_at")[:_MOST_OTHERS]
        return tension_loss.shop_belief([h for h in histories(latest).values() if h], in_force)

    key = f"tension-belief-{screen.meshing.mesh_id}-{screen.frame.material}-{screen.pk}"
    return cache.get_or_set(key, learned, _BELIEF_KEPT_S)


def _alike(mesh_id, material):
    return Meshing.objects.filter(mesh_id=mesh_id, frame__material=material)


def _cycles_a_day(screen, history) -> float:
    days = (timezone.now() - screen.meshing.mounted_at).total_seconds() / _SECONDS_A_DAY
    return screen.cycles / days if days > 1 else 0.0


def life_curve(mesh_id=None, material=None) -> survival.Survival | None:
    """Cycles that meshes lived, of a kind on a kind of frame or all of them; None when there is none.

    A mesh taken off for other work has not ended its life: it was seen for so long.
    """
    return cache.get_or_set(f"life-curve-{mesh_id}-{material}", lambda: _life_curve(mesh_id, material), _BELIEF_KEPT_S)


def _life_curve(mesh_id, material):
    meshings = _alike(mesh_id, material) if mesh_id else Meshing.objects.filter(mesh__thermal=False)
    meshings = meshings.annotate(closed=Count("cycles", filter=Q(cycles__closed_at__isnull=False)))
    spans = dict(meshings.values_list("pk", "closed"))
    if not spans:
        return None
    ended = LifeEvent.objects.standing().filter(meshing__in=spans, kind__in=["take_off", "cut_out"])
    endings = {pk: facts.get("ending", "") for pk, facts in ended.values_list("meshing_id", "facts")}
    deaths = {pk for pk, why in endings.items() if why in ENDINGS and why != "other"}
    return survival.kaplan_meier(list(spans.values()), [pk in deaths for pk in spans])
