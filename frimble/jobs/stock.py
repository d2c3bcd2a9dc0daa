"""What is coated, how old it is, and which mesh runs short for the coming jobs."""

from collections import Counter
from datetime import timedelta

from django.db.models import Count, Exists, OuterRef, QuerySet
from django.utils import timezone

from frimble.coatings.batches import queries as batch_queries
from frimble.coatings.drying import queries as drying_queries
from frimble.coatings.planner import outcomes
from frimble.coatings.runs import queries as run_queries
from frimble.core import lifecycle
from frimble.core.coating import stock as coated_stock
from frimble.core.coating import wet as wet_coat
from frimble.core.coating.formula import parse_formula
from frimble.jobs.choosing.colours import WITH_STENCIL
from frimble.jobs.models import Job, ScreenNeed
from frimble.people.cached import Prepared
from frimble.screens.models import Frame, Screen

# Nothing is to be coated any more for a need whose screen stands so.
_COATED_AND_MORE = (lifecycle.State.EXPOSED, lifecycle.State.WASHED, *WITH_STENCIL)


def _coated_since(oldest) -> QuerySet:
    coated = Screen.objects.filter(state=lifecycle.State.COATED, coated_at__gte=oldest).order_by()
    return coated.values_list("installation", "installation__mesh")


def _bare() -> QuerySet:
    """(mesh, how many are bare)."""
    bare = Screen.objects.filter(state=lifecycle.State.BARE).order_by()
    return bare.values_list("installation__mesh").annotate(Count("pk"))


_COATED_SINCE, _BARE = Prepared(_coated_since), Prepared(_bare)


def coming() -> list[ScreenNeed]:
    """What jobs with a day on press want, those that come and late ones; `made` where its stencil stands already."""
    jobs = Job.objects.to_be_printed().filter(press_on__isnull=False)
    stencil = Screen.objects.filter(frame=OuterRef("frame"), state__in=_COATED_AND_MORE, is_test=False)
    needs = ScreenNeed.objects.select_related("job", "mesh").filter(job__in=jobs).annotate(made=Exists(stencil))
    return list(needs.order_by("job__press_on"))


def stock(needs, settings, now, most: int) -> tuple[list[dict], list[coated_stock.Balance]]:
    """The oldest coated screens, at most so many, each with its coat; and what coming jobs want against what is coated."""
    rows, meshes = outcomes.coated_stock(settings, now, most), {n.mesh_id: str(n.mesh) for n in needs}
    mesh_of = _young(meshes, settings, now)
    coats = drying_queries.coats_on({*mesh_of, *(r["screen"].installation_id for r in rows)})
    usable = Counter((meshes[mesh], coats[on].formula) for on, mesh in mesh_of.items() if on in coats)
    return [r | {"coat": coats.get(r["screen"].installation_id)} for r in rows], _balances(needs, meshes, usable, now)


def _balances(needs, meshes: dict[int, str], coated, now) -> list[coated_stock.Balance]:
    today = timezone.localdate(now)
    wants = [
        coated_stock.ScreenDemand(str(n.job), (n.job.press_on - today).days, meshes[n.mesh_id], n.formula, n.number)
        for n in needs
        if not n.made
    ]
    bare = {meshes[mesh]: number for mesh, number in _BARE.rows() if mesh in meshes}
    return coated_stock.balance(wants, coated, bare)


def _young(meshes, settings, now) -> dict[int, int]:
    """The mesh of each installation of these meshes whose coat has not kept too long."""
    oldest = now - timedelta(days=settings["coat.keeps_days"])
    return {on: mesh for on, mesh in _COATED_SINCE.rows(oldest) if mesh in meshes}


def emulsion_needed(found, needs, settings) -> tuple[float, list]:
    """(litres that coating what is short would take on the smallest frames, how each emulsion's batches last with that)."""
    meshes = {str(n.mesh): n.mesh for n in needs}
    smallest = Frame.objects.order_by("outer_width_mm").first()
    if smallest is None:
        return 0.0, []
    wide, high = run_queries.coated_size_mm(smallest, settings)
    litres = 0.0
    for balance in found:
        formula, geometry = parse_formula(balance.formula, settings), meshes[balance.mesh].geometry(settings)
        litres += balance.short * wet_coat.screen_ml(formula, geometry, wide, high, settings) / 1000
    return litres, batch_queries.outlooks(settings, litres)
