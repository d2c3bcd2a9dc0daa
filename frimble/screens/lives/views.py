"""How long meshes live in this shop, by mesh and frame, and what a use costs."""

from django.shortcuts import render

from frimble.core.mesh import life as mesh_life
from frimble.screens.lives import queries as life_queries
from frimble.screens.meshes.forms import CostForm
from frimble.screens.models import Frame, MeshInstallation, MeshType


def show_lives(request):
    """A life curve for all meshes and for each on each kind of frame, and the cost of a use at its median life."""
    form = CostForm(request.GET if "price" in request.GET else {"price": "18", "stretching": "12", "reclaim": "1.5"})
    costs = form.attempt(_checked)
    kinds = (
        MeshInstallation.objects.values_list("mesh_id", "frame__material")
        .distinct()
        .order_by("mesh__count_per_cm", "frame__material")
    )
    meshes, materials = MeshType.objects.in_bulk(), dict(Frame.Material.choices)
    rows = [{"mesh": "All meshes", "frame": "", "curve": life_queries.life_curve()}] if kinds else []
    for mesh_id, material in kinds:
        curve = life_queries.life_curve(mesh_id, material)
        cost = (
            mesh_life.cost_per_use(cycles=max(1, round(curve.median)), **_money(costs))
            if costs and curve.median
            else None
        )
        rows.append({"mesh": meshes[mesh_id], "frame": materials[material], "curve": curve, "cost": cost})
    rows.sort(key=lambda r: -(r["curve"].deaths if r["curve"] else 0))
    return render(request, "screens/lives/lives.html", {"rows": rows, "form": form}, status=422 if form.errors else 200)


def _checked(cleaned) -> dict:
    """The prices, once it is sure that a cost follows from them."""
    mesh_life.cost_per_use(cycles=1, **_money(cleaned))
    return cleaned


def _money(costs) -> dict:
    return {"mesh_price": costs["price"], "stretching": costs["stretching"], "reclaim": costs["reclaim"]}
