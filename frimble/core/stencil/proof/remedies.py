"""What would hold what a proof loses: another time, another mesh, another coat."""

from collections.abc import Iterable, Sequence

from frimble.core.mesh.geometry import MeshGeometry
from frimble.core.mesh.halftone import dot_floor_um
from frimble.core.numbers import counted
from frimble.core.stencil.proof.best_time import BestTime
from frimble.core.stencil.proof.kinds import ProofFinding, ProofKind
from frimble.core.units import show_seconds

# A time nearer than this to the best is as good.
_NEAR = 1.12


def remedies(
    findings: Sequence[ProofFinding],
    time_s: float,
    best: BestTime | None,
    meshes: Iterable[tuple[str, MeshGeometry]],
) -> list[str]:
    """A sentence for each change that would hold something that is lost now.

    Args:
        meshes: of the shop, by name.
    """
    of_kind = {kind: [f for f in findings if f.kind is kind] for kind in ProofKind}
    known = sorted(meshes, key=lambda pair: pair[1].count_per_cm)
    return [
        *_time(time_s, best),
        *_mesh_for_dots(of_kind[ProofKind.DOT_LOST], known),
        *_mesh_for_lines(of_kind[ProofKind.WASHES_AWAY], known),
        *_coat(of_kind[ProofKind.SAW_TOOTH]),
    ]


def _time(time_s: float, best: BestTime | None) -> list[str]:
    if best is None or best.low_s / _NEAR <= time_s <= best.high_s * _NEAR:
        return []
    longer = "longer" if best.time_s > time_s else "shorter"
    return [f"A {longer} time, {show_seconds(round(best.time_s, 1))}, loses least of this film."]


def _mesh_for_dots(lost: Sequence[ProofFinding], meshes: Sequence[tuple[str, MeshGeometry]]) -> list[str]:
    if not lost:
        return []
    smallest = min(f.value for f in lost)
    fits = [name for name, mesh in meshes if dot_floor_um(mesh.opening_um, mesh.thread_um) <= smallest]
    if fits:
        return [f"Dots from {smallest:.0f} µm hold from {fits[0]} on; or a coarser ruling."]
    return [f"No mesh here holds dots of {smallest:.0f} µm: take a coarser ruling."]


def _mesh_for_lines(gone: Sequence[ProofFinding], meshes: Sequence[tuple[str, MeshGeometry]]) -> list[str]:
    narrow = [f.value for f in gone if f.value > 0]
    if not narrow:
        return []
    least = min(narrow)
    fits = [name for name, mesh in meshes if mesh.opening_um <= least]
    places = counted(len(narrow), "place", "places")
    if fits:
        return [f"Stencil of {least:.0f} µm ({places} in all) finds threads to lie on from {fits[0]} on."]
    return [f"No mesh here carries stencil of {least:.0f} µm ({places} in all): make it broader."]


def _coat(rough: Sequence[ProofFinding]) -> list[str]:
    if not rough:
        return []
    return ["Another stroke on the print side, or a finer mesh, makes edges straight: see the coat planner for both."]
