"""Which mesh a colour should have, by the chooser."""

from frimble.core.conclusions import InvalidInput
from frimble.core.mesh.choice import MeshRequest, choose
from frimble.core.mesh.practice import CUSTOMS
from frimble.films.models import Film
from frimble.screens.models import MeshType

# What a plate does, as people choose it.
ROLES = [(name, practice.words) for name, practice in CUSTOMS["role"].items()]


def suggested(film: Film | None, role: str, settings) -> tuple[MeshType, str]:
    """The mesh of the shop's own that serves best, and why.

    Args:
        film: whose ruling counts, None for none. role: a name of ROLES, empty where nobody says.

    Raises:
        InvalidInput: nothing is known to choose by, or none serves.
    """
    ruling = film.ruling_lpi if film else None
    if ruling is None and not role:
        raise InvalidInput("Choose the mesh, or say what the plate does: no ruling is known of its film.", "mesh")
    kinds = {str(kind): kind for kind in MeshType.objects.filter(thermal=False)}
    wanted = MeshRequest(settings["mesh.school"], ruling_lpi=ruling, role=role or None)
    best = choose([(name, kind.geometry(settings)) for name, kind in kinds.items()], wanted, settings)[0]
    if not best.serves:
        raise InvalidInput(f"No mesh here serves; {best.name} is nearest: {', '.join(best.reasons)}.", "mesh")
    return kinds[best.name], ", ".join(best.reasons)
