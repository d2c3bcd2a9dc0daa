"""What a photo says of a mesh, and the usual meshes it may be; no image library is wanted for either."""

import math
from dataclasses import dataclass

from frimble.core.mesh.geometry import USUAL_MESHES

# Counts within this of the one that was read are near; so many are named.
_NEAREST, _OFFERED = 0.06, 4


@dataclass(frozen=True)
class MeshReading:
    """What a photo says of a mesh.

    Attributes:
        refused: the reason where nothing can be said; "" else.
        count_per_cm, count_low, count_high: threads per cm and the 90 % interval.
        angle_deg: of one thread system to the photo's side, clockwise, 0..90.
        opening_um, thread_um: None where the photo does not resolve them.
        rests_on: what the scale and the count come from.
    """

    refused: str = ""
    count_per_cm: float | None = None
    count_low: float | None = None
    count_high: float | None = None
    angle_deg: float | None = None
    opening_um: float | None = None
    thread_um: float | None = None
    rests_on: str = ""


def nearest(reading: MeshReading) -> list[str]:
    """Usual meshes with a count as near as may be, nearest first; the thread decides between equals."""
    if reading.count_per_cm is None:
        return []
    count, thread = reading.count_per_cm, reading.thread_um

    def far(mesh: tuple[int, int, int]) -> float:
        by_thread = abs(math.log(mesh[2] / thread)) if thread else 0.0
        return abs(math.log(mesh[1] / count)) + 0.1 * by_thread

    near = [m for m in USUAL_MESHES if abs(m[1] / count - 1) <= _NEAREST]
    return [f"{cm}-{um}" for _, cm, um in sorted(near, key=far)[:_OFFERED]]
