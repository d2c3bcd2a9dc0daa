"""The meshes of the shop and their geometry."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render

from frimble.core import mesh
from frimble.core.conclusion import OutOfRange
from frimble.people import standards
from frimble.people.permissions import leads
from frimble.screens.forms import (
    MeshForm,
)
from frimble.screens.models import MeshKind, Screen


def meshes(request):
    """Every mesh of the shop with its geometry."""
    in_force = standards.current()
    kinds = [{"mesh": m, "geometry": m.geometry(in_force)} for m in MeshKind.objects.all()]
    return render(request, "screens/meshes.html", {"kinds": kinds})


def mesh_card(request, pk):
    """One mesh: its geometry and the screens that carry it."""
    kind = get_object_or_404(MeshKind, pk=pk)
    screens = Screen.objects.for_lists().filter(meshing__mesh=kind)
    context = {"mesh": kind, "geometry": kind.geometry(standards.current()), "screens": screens}
    return render(request, "screens/mesh.html", context)


@leads
def add_mesh(request):
    """Add a mesh to the shop's list, typed as on its label."""
    form = MeshForm(request.POST or None)
    if request.method == "POST":
        kind = form.attempt(_add_mesh)
        if kind:
            messages.success(request, f"{kind} added.")
            return redirect("screens:mesh", kind.pk)
    return render(request, "screens/add_mesh.html", {"form": form}, status=422 if form.errors else 200)


def _add_mesh(cleaned):
    in_force = standards.current()
    spec = mesh.parse_mesh(cleaned["notation"], in_force)
    if isinstance(spec, mesh.Ambiguous):
        raise OutOfRange(f"{spec.question} Write it with its unit, such as {spec.choices[0]}.", "notation")
    if spec.thread_um is None:
        raise OutOfRange("Give the thread diameter too, such as 43-80: opening and ink volume need it.", "notation")
    thickness = cleaned["fabric_thickness_um"]
    mesh.geometry(spec.count_per_cm, spec.thread_um, in_force, thickness)
    kind, made = MeshKind.objects.get_or_create(
        count_per_cm=spec.count_per_cm,
        thread_um=spec.thread_um,
        colour=spec.colour or cleaned["colour"],
        thermal=False,
        defaults={"fabric_thickness_um": thickness},
    )
    if not made:
        raise OutOfRange(f"{kind} is on the list already.", "notation")
    return kind
