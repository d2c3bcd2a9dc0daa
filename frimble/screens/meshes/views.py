"""The meshes of the shop and their geometry."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render

from frimble.core.mesh import choice as mesh_choice
from frimble.core.mesh import geometry as mesh_geometry
from frimble.core.mesh import halftone, moire
from frimble.core.numbers import read_numbers
from frimble.people import settings as house_settings
from frimble.people.permissions import leads
from frimble.screens.meshes import services as mesh_services
from frimble.screens.meshes.forms import ChooserForm, MeasuredForm, MeshForm, MoireForm
from frimble.screens.meshes.panels import deposit_words, mesh_panels
from frimble.screens.models import MeshType, Screen

_SCREENS_SHOWN = 48


def meshes(request):
    """Every mesh of the shop with its geometry."""
    settings = house_settings.current()
    kinds = [{"mesh": m, "geometry": m.geometry(settings)} for m in MeshType.objects.all()]
    return render(request, "screens/meshes/meshes.html", {"kinds": kinds})


@leads
def mesh_card(request, pk):
    """One mesh: its geometry, what it is good for, the screens that carry it; the lead enters what was measured."""
    kind = get_object_or_404(MeshType, pk=pk)
    start = {"fabric_thickness_um": kind.fabric_thickness_um, "measured_opening_um": kind.measured_opening_um}
    form = MeasuredForm(request.POST or None, initial=start, thread_assumed=kind.thread_assumed)
    if request.method == "POST" and form.attempt(lambda cleaned: mesh_services.measure(kind, **cleaned)):
        messages.success(request, f"{kind}: measured values kept.")
        return redirect("screens:mesh", pk)
    kind = get_object_or_404(MeshType, pk=pk)
    screens = Screen.objects.for_lists().filter(installation__mesh=kind)
    context = {
        "mesh": kind,
        "geometry": kind.geometry(house_settings.current()),
        "use": mesh_choice.use_of(kind.count_per_cm),
        "screens": screens[:_SCREENS_SHOWN],
        "more": max(0, screens.count() - _SCREENS_SHOWN),
        "form": form,
        "panels": mesh_panels(kind),
        "neighbours": _neighbours(kind),
        "floor_um": halftone.dot_floor_um(kind.geometry(house_settings.current()).opening_um, kind.thread_um),
    }
    return render(request, "screens/meshes/mesh.html", context, status=422 if form.errors else 200)


def _neighbours(kind) -> dict:
    """The next coarser and the next finer mesh of the shop."""
    others = MeshType.objects.filter(thermal=False)
    return {
        "coarser": others.filter(count_per_cm__lt=kind.count_per_cm).order_by("-count_per_cm", "thread_um").first(),
        "finer": others.filter(count_per_cm__gt=kind.count_per_cm).order_by("count_per_cm", "thread_um").first(),
    }


def choose(request):
    """Which mesh, from what is to be printed: ranked, with reasons, and what each school says."""
    settings = house_settings.current()
    form = ChooserForm(request.GET if "school" in request.GET else None, initial={"school": settings["mesh.school"]})
    choices, schools = [], ()
    if form.is_bound:
        answer = form.attempt(lambda cleaned: _choices(cleaned, settings))
        if answer:
            choices, schools = answer
    context = {
        "form": form,
        "choices": choices,
        "covers": deposit_words(choices[0][0].geometry.ink_volume_cm3_per_m2) if choices else [],
        "schools": schools,
        "asked_counts": _asked_counts(form, settings) if choices else None,
    }
    return render(request, "screens/meshes/choose_mesh.html", context, status=422 if form.errors else 200)


def _asked_counts(form, settings):
    """(least, house, most) mesh count per cm that the schools ask for this ruling, or None without a ruling."""
    ruling = form.cleaned_data.get("ruling_lpi")
    if ruling is None:
        return None
    keys = ("halftone.least_factor", "halftone.mesh_over_ruling", "halftone.most_factor")
    return [halftone.least_count_per_cm(ruling, settings[key], settings) for key in keys]


def _choices(cleaned, settings):
    """([(choice, MeshType or None)], each school's words with its first choice or None)."""
    kinds = {str(k): k for k in MeshType.objects.all()}
    thermal = {name for name, kind in kinds.items() if kind.thermal}
    if cleaned["owned"] == "owned":
        cloths = [(name, kind.geometry(settings)) for name, kind in kinds.items()]
    else:
        cloths = [
            (f"{cm:g}-{um:g} ({inch}/in)", mesh_geometry.geometry(cm, um, settings))
            for inch, cm, um in mesh_geometry.USUAL_MESHES
        ]
    asked = {k: v for k, v in cleaned.items() if k not in ("school", "owned")}
    wanted = mesh_choice.MeshRequest(cleaned["school"], **asked)
    choices = mesh_choice.choose(cloths, wanted, settings, thermal)
    schools = mesh_choice.by_school(cloths, wanted, settings, thermal)
    said = [(mesh_choice.SCHOOLS[school], first) for school, first in schools.items()]
    return [(choice, kinds.get(choice.name)) for choice in choices], said


def moire_card(request, pk):
    """A halftone on this mesh: the longest beat, every angle, and the overlay drawn to scale."""
    kind, settings = get_object_or_404(MeshType, pk=pk), house_settings.current()
    start = {"ruling_lpi": 45, "dot_angle": 22.5, "mesh_angle": 0}
    form = MoireForm(request.GET if "ruling_lpi" in request.GET else start)
    result = form.attempt(lambda cleaned: _moire(kind, cleaned, settings))
    context = {"mesh": kind, "form": form, "result": result}
    return render(request, "screens/meshes/moire.html", context, status=422 if form.errors else 200)


def _moire(kind, cleaned, settings):
    ruling_per_cm = 10_000 / halftone.dot_pitch_um(cleaned["ruling_lpi"], settings)
    grids = (kind.count_per_cm, ruling_per_cm)
    shape, scan = kind.geometry(settings), moire.angle_scan(*grids, cleaned["mesh_angle"], settings)
    return {
        "verdict": moire.judge(*grids, cleaned["dot_angle"], cleaned["mesh_angle"], settings),
        "scan": [(a, min(b.period_mm, 1e3)) for a, b in scan],
        "beat": moire.longest_beat(*grids, cleaned["dot_angle"], cleaned["mesh_angle"], settings),
        "calm": moire.best_angles(scan),
        "ruling_per_cm": ruling_per_cm,
        "threshold_mm": settings["moire.visible_above"] * 10 / ruling_per_cm,
        "dots": halftone.dot_range(shape.opening_um, shape.thread_um, cleaned["ruling_lpi"], settings),
        "dot_angle": cleaned["dot_angle"] % 90,
        "angles": (cleaned["dot_angle"], cleaned["mesh_angle"]),
        "plates": _plates(grids, cleaned, settings) if cleaned["plates"] else None,
    }


def _plates(grids, cleaned, settings):
    """(each plate against the mesh, each two against each other) for the angles typed."""
    alone, pairs = moire.judge_plates(
        *grids, read_numbers(cleaned["plates"], "plates"), cleaned["mesh_angle"], settings
    )
    return {"alone": alone, "pairs": pairs, "conflict": any(p.conflict for p in pairs)}


@leads
def add_mesh(request):
    """Add a mesh to the shop's list, typed as on its label."""
    form = MeshForm(request.POST or None, initial={"notation": request.GET.get("notation", "")})
    if request.method == "POST":
        kind = form.attempt(lambda cleaned: mesh_services.add(**cleaned))
        if kind:
            messages.success(request, f"{kind} added.")
            return redirect("screens:mesh", kind.pk)
    return render(request, "screens/meshes/add_mesh.html", {"form": form}, status=422 if form.errors else 200)
