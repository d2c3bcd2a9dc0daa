"""What the page of a mesh reading shows: the answer, its interval among the shop's meshes, and what to do with it."""

from collections.abc import Sequence
from dataclasses import dataclass

from frimble.core.mesh.reading.answer import MeshReading, nearest
from frimble.screens.models import MeshType

_LIKE = 0.06
_SHOWN = 4


@dataclass(frozen=True)
class ReadingPart:
    """An answer: meshes of the shop that it may be, nearest first, and usual ones that are not on the shop's list."""

    reading: MeshReading
    ours: Sequence[MeshType]
    others: Sequence[str]
    counts: Sequence[float]
    sure: bool

    @property
    def named(self) -> str:
        """The likeliest mesh of the shop, after the count."""
        if not self.ours:
            return ""
        return f": {self.ours[0].label}" + ("" if self.sure else ", most likely")

    @property
    def unit(self) -> str:
        """Of opening and thread, where they were measured."""
        return "µm" if self.reading.opening_um else ""


def part(reading: MeshReading) -> ReadingPart:
    """The shop's meshes with a count near it; `sure` where the interval leaves one count only."""
    meshes = list(MeshType.objects.filter(thermal=False))
    count = reading.count_per_cm
    near = sorted((m for m in meshes if abs(m.count_per_cm / count - 1) <= _LIKE), key=lambda m: _far(m, reading))
    listed = {(m.count_per_cm, m.thread_um) for m in meshes}
    others = [n for n in nearest(reading) if tuple(float(v) for v in n.split("-")) not in listed]
    within = {m.count_per_cm for m in near if reading.count_low <= m.count_per_cm <= reading.count_high}
    counts = sorted({m.count_per_cm for m in meshes})
    return ReadingPart(reading, near[:_SHOWN], others, counts, len(within) == 1)


def _far(mesh: MeshType, reading: MeshReading) -> tuple[float, float]:
    by_thread = abs(mesh.thread_um - reading.thread_um) if reading.thread_um else 0.0
    return round(abs(mesh.count_per_cm / reading.count_per_cm - 1), 2), by_thread
