"""A mesh added to the shop's list, and what was measured on one."""

from frimble.core.conclusions import InvalidInput
from frimble.core.mesh import geometry as mesh_geometry
from frimble.people import settings as house_settings
from frimble.screens.models import MeshType


def add(notation: str, colour: str, fabric_thickness_um: float | None) -> MeshType:
    """A new mesh from its notation; a count without thread is taken with the usual thread, to be confirmed later.

    Raises:
        InvalidInput: the notation cannot be read or means two things, or the mesh is on the list.
    """
    settings = house_settings.current()
    spec = mesh_geometry.parse_mesh(notation, settings)
    if isinstance(spec, mesh_geometry.Ambiguous):
        raise InvalidInput(f"{spec.question} Write it with its unit, such as {spec.choices[0]}.", "notation")
    thread = spec.thread_um or mesh_geometry.assumed_thread_um(spec.count_per_cm)
    mesh_geometry.geometry(spec.count_per_cm, thread, settings, fabric_thickness_um)
    mesh, made = MeshType.objects.get_or_create(
        count_per_cm=spec.count_per_cm,
        thread_um=thread,
        colour=spec.colour or colour,
        thermal=False,
        defaults={"fabric_thickness_um": fabric_thickness_um, "thread_assumed": spec.thread_um is None},
    )
    if not made:
        raise InvalidInput(f"{mesh} is on the list already.", "notation")
    return mesh


def measure(
    mesh: MeshType, *, fabric_thickness_um: float | None, measured_opening_um: float | None, thread_um=None
) -> MeshType:
    """Keep measured values, µm, once the core has found them possible.

    Raises:
        InvalidInput: values that no fabric can have together.
    """
    mesh.fabric_thickness_um = fabric_thickness_um
    mesh.measured_opening_um = measured_opening_um
    if mesh.thread_assumed and thread_um:
        mesh.thread_um, mesh.thread_assumed = thread_um, False
    mesh.geometry(house_settings.current())
    mesh.save()
    return mesh
