"""The meshes among which a proof's slider moves, each with the coat that a formula leaves on it."""

from dataclasses import dataclass

from frimble.coatings.models import Emulsion
from frimble.coatings.thickness import queries as thickness_queries
from frimble.core.coating.formula import parse_formula
from frimble.screens.models import MeshType

_MOST = 40


@dataclass(frozen=True)
class OfferedMesh:
    """A mesh, and emulsion over it as predicted, whole µm."""

    pk: int
    label: str
    over_um: int


def offered(chosen: MeshType, formula: str, emulsion: Emulsion, settings) -> list[OfferedMesh]:
    """The shop's meshes from coarse to fine, the chosen one among them.

    Raises:
        InvalidInput: the formula does not parse.
    """
    parsed = parse_formula(formula, settings)
    there = {mesh.pk: mesh for mesh in MeshType.objects.filter(thermal=False)[:_MOST]} | {chosen.pk: chosen}
    from_coarse = sorted(there.values(), key=lambda mesh: (mesh.count_per_cm, -mesh.thread_um))
    return [OfferedMesh(mesh.pk, mesh.label, _over_um(mesh, parsed, emulsion, settings)) for mesh in from_coarse]


def _over_um(mesh: MeshType, formula, emulsion: Emulsion, settings) -> int:
    return max(0, round(thickness_queries.expected(mesh, formula, emulsion, settings).known))
