"""What is coated, how old it is, and which mesh runs short for the coming jobs."""

from collections import Counter

from django.utils import timezone

from frimble.coatings import dryroom, outcomes, pots, runs
from frimble.coatings.models import Emulsion
from frimble.core import coatedstock, lifecycle, wetcoat
from frimble.core.coating import parse_formula
from frimble.jobs.models import Job, ScreenNeed
from frimble.screens.models import Screen


def coming() -> list[ScreenNeed]:
    """Screens wanted by jobs not yet past their day on press."""
    needs = ScreenNeed.objects.select_related("job", "mesh").filter(job__press_on__gte=timezone.localdate())
    return list(needs.order_by("job__press_on"))


def stock(in_force, now) -> list[dict]:
    """Coated screens, oldest first, each with its formula."""
    rows = outcomes.coated_stock(in_force, now)
    coats = dryroom.latest_coats([r["screen"].meshing_id for r in rows])
    return [r | {"coat": coats.get(r["screen"].meshing_id)} for r in rows]


def balances(rows, today) -> list[coatedstock.Balance]:
    """Wanted against coated, for each mesh and coat the coming jobs name."""
    wants = [
        coatedstock.Want(str(n.job), (n.job.press_on - today).days, str(n.mesh), n.formula, n.number) for n in coming()
    ]
    coated = Counter((str(r["screen"].mesh), r["coat"].formula) for r in rows if r["coat"] and not r["late"])
    bare = Counter(str(s.mesh) for s in Screen.objects.for_lists().filter(state=lifecycle.State.BARE))
    return coatedstock.balance(wants, coated, bare)


def emulsion_needed(found, in_force) -> tuple[float, list]:
    """(litres that coating what is short would take, how each emulsion's pots last with that)."""
    meshes = {str(n.mesh): n.mesh for n in coming()}
    frame = Screen.objects.for_lists().order_by("frame__outer_width_mm").values_list("frame", flat=True).first()
    if frame is None:
        return 0.0, []
    wide, high = runs.coated_size_mm(Screen.objects.select_related("frame").get(pk=frame).frame, in_force)
    litres = 0.0
    for found_short in found:
        formula, geometry = parse_formula(found_short.formula, in_force), meshes[found_short.mesh].geometry(in_force)
        litres += found_short.short * wetcoat.screen_ml(formula, geometry, wide, high, in_force) / 1000
    return litres, [(e, pots.outlook(e, in_force, litres)) for e in Emulsion.objects.all()]


def add_need(job: Job, mesh, formula: str, number: int, in_force) -> ScreenNeed:
    """Write down that a job wants screens of a mesh and coat; the same again changes the number.

    Raises:
        OutOfRange: the formula does not parse.
    """
    text = str(parse_formula(formula, in_force))
    return ScreenNeed.objects.update_or_create(job=job, mesh=mesh, formula=text, defaults={"number": number})[0]
