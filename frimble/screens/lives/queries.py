"""How meshes of this shop lived and lose tension: histories for the core's forecasts and life curves."""

from collections import defaultdict
from dataclasses import dataclass
from datetime import date, timedelta

from django.core.cache import cache
from django.db.models import Count, Q
from django.utils import timezone

from frimble.core.lifecycle import MESH_ENDS
from frimble.core.mesh import life as mesh_life
from frimble.core.statistics import survival
from frimble.core.tension import loss as tension_loss
from frimble.core.tension.limits import poor_below
from frimble.people import settings as house_settings
from frimble.screens.models import Cycle, MeshInstallation, Screen, ScreenEvent
from frimble.screens.register.services import ENDINGS

_MOST_OTHERS = 60
_SECONDS_A_DAY = 86_400
# The shop's belief moves slowly; a page need not learn it anew.
_BELIEF_KEPT_S = 600


@dataclass(frozen=True)
class MeshLife:
    """All that is predicted of a screen's mesh: its measurements, the forecast or None, sudden changes, the life
    curve of its kind, and what to do with it."""

    history: list[tension_loss.TensionObservation]
    forecast: tension_loss.Forecast | None
    sudden: dict[int, str]
    lives: survival.Survival | None
    advice: mesh_life.Advice
    since: object

    def one_in_ten_day(self) -> date | None:
        """Day by which one in ten such meshes would be under the limit; None where fewer are within what is predicted."""
        return self._day(self.forecast.one_in_ten) if self.forecast else None

    def _day(self, days: float | None) -> date | None:
        """The day so many days after the last measurement."""
        measured = self.since + timedelta(days=self.history[-1].days)
        return None if days is None else timezone.localdate(measured + timedelta(days=days))

    def crossing_days(self) -> tuple[date | None, date | None, date | None]:
        """(day, first, last) on which it is to be expected under the limit; None where that is beyond what is predicted."""
        if not self.forecast:
            return None, None, None
        crossing = self.forecast.crossing
        return tuple(self._day(days) for days in (crossing.value, crossing.low, crossing.high))


def life_of(screen: Screen, marks) -> MeshLife:
    """Look at one screen's mesh, with the blemishes that are on it, learning from the others of its kind."""
    settings, installation = house_settings.current(), screen.installation
    history = histories([installation])[installation.pk]
    belief, forecast, sudden = _belief(screen, settings), None, {}
    if history:
        pace, spread = _pace(screen, settings)
        limit = poor_below(screen.frame.material, settings)
        forecast = tension_loss.forecast(history, belief, settings, pace, limit, spread)
        sudden = dict(tension_loss.sudden_changes(history, belief, settings))
    lives = life_curve(installation.mesh_id, screen.frame.material)
    kinds = {mark.kind for mark in marks}
    facts = mesh_life.MeshFacts(
        screen.frame.material, screen.cycles, screen.tension_n_per_cm, "hole" in kinds, "ghost" in kinds
    )
    advice = mesh_life.advise(facts, settings, forecast, lives)
    return MeshLife(history, forecast, sudden, lives, advice, installation.mounted_at)


def histories(installations) -> dict[int, list[tension_loss.TensionObservation]]:
    """Measurings of meshes, oldest first, with cycles closed by then; stretching readings count as any other."""
    installations = list(installations)
    events = ScreenEvent.objects.standing().filter(installation__in=installations, kind="tension").order_by("at", "pk")
    closed = defaultdict(list)
    for installation_id, at in Cycle.objects.filter(
        installation__in=installations, closed_at__isnull=False
    ).values_list("installation_id", "closed_at"):
        closed[installation_id].append(at)
    mounted = {m.pk: m.mounted_at for m in installations}
    by_mesh: dict[int, list[tension_loss.TensionObservation]] = {m.pk: [] for m in installations}
    for installation_id, at, facts in events.values_list("installation_id", "at", "facts"):
        days = max(0.0, (at - mounted[installation_id]).total_seconds() / _SECONDS_A_DAY)
        cycles = sum(end <= at for end in closed[installation_id])
        by_mesh[installation_id].append(tension_loss.TensionObservation(days, cycles, facts["mean"]))
    return by_mesh


def _belief(screen: Screen, settings):
    """What the shop's other screens of this mesh and frame kind tell, kept for some minutes."""

    def learned():
        others = _alike(screen.installation.mesh_id, screen.frame.material).exclude(frame=screen.frame)
        latest = others.order_by("-mounted_at")[:_MOST_OTHERS]
        return tension_loss.shop_belief([h for h in histories(latest).values() if h], settings)

    key = f"tension-belief-{screen.installation.mesh_id}-{screen.frame.material}-{screen.pk}"
    return cache.get_or_set(key, learned, _BELIEF_KEPT_S)


def _alike(mesh_id, material):
    return MeshInstallation.objects.filter(mesh_id=mesh_id, frame__material=material)


def _pace(screen, settings) -> tuple[float, float]:
    """(cycles a day to be expected, how far off that may be): its own, and its kind's while it is young."""
    mesh, days = screen.installation, _days_since(screen.installation.mounted_at)
    key = f"pace-{mesh.mesh_id}-{screen.frame.material}"
    kind = cache.get_or_set(key, lambda: _kind_pace(mesh.mesh_id, screen.frame.material), _BELIEF_KEPT_S)
    return tension_loss.pace(screen.cycles, days, kind, settings)


def _kind_pace(mesh_id, material) -> float:
    """Cycles a day that meshes of a kind were used, all of them together."""
    alike = _alike(mesh_id, material).order_by("-mounted_at")[:_MOST_OTHERS]
    days = sum(_days_since(mounted) for mounted in alike.values_list("mounted_at", flat=True))
    closed = Cycle.objects.filter(installation__in=list(alike.values_list("pk", flat=True)), closed_at__isnull=False)
    return closed.count() / days if days > 1 else 0.0


def _days_since(moment) -> float:
    return max(0.0, (timezone.now() - moment).total_seconds() / _SECONDS_A_DAY)


def life_curve(mesh_id=None, material=None) -> survival.Survival | None:
    """Cycles that meshes lived, of a kind on a kind of frame or all of them; None when there is none.

    A mesh taken off for other work has not ended its life: it was seen for so long.
    """
    return cache.get_or_set(f"life-curve-{mesh_id}-{material}", lambda: _life_curve(mesh_id, material), _BELIEF_KEPT_S)


def _life_curve(mesh_id, material):
    installations = _alike(mesh_id, material) if mesh_id else MeshInstallation.objects.filter(mesh__thermal=False)
    installations = installations.annotate(closed=Count("cycles", filter=Q(cycles__closed_at__isnull=False)))
    spans = dict(installations.values_list("pk", "closed"))
    if not spans:
        return None
    over = list(installations.filter(ended_at__isnull=False).values_list("pk", flat=True))
    ended = ScreenEvent.objects.standing().filter(installation__in=over, kind__in=MESH_ENDS)
    endings = {pk: facts.get("ending", "") for pk, facts in ended.values_list("installation_id", "facts")}
    deaths = {pk for pk, why in endings.items() if why in ENDINGS and why != "other"}
    return survival.kaplan_meier(list(spans.values()), [pk in deaths for pk in spans])
