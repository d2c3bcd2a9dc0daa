"""Proofs held against photos of the stencils that came of them."""

from collections.abc import Iterator

from frimble.core.stencil.proof.comparing import Held, Trust, compare, trust
from frimble.core.stencil.proof.kinds import ProofKind
from frimble.exposures.models import Exposure
from frimble.people.cached import CachedValue
from frimble.stencils.models import StencilPhoto, StencilProof

_MOST = 60
# The stencil had this proof's light if its time lies within so much of it.
_SAME_TIME = 1.15
_CLOSED = ("blocked", "scum")
CACHED = CachedValue("proof-trust", 3600)


def against_photos(proof: StencilProof) -> list[tuple[StencilPhoto, Held]]:
    """Each photo of a stencil made from this film on this mesh with about this time, and how the proof held there."""
    said = [_box(f) for f in proof.result["findings"] if f["kind"] == ProofKind.CLOSES]
    photos = (
        StencilPhoto.objects.that_tell()
        .filter(scan__film=proof.scan.film, installation__mesh=proof.mesh, cycle__isnull=False)
        .select_related("installation__frame")
    )
    return [
        (photo, compare(said, [_box(f) for f in photo.result["findings"] if f["kind"] in _CLOSED]))
        for photo in photos[:_MOST]
        if _same_light(photo, proof)
    ]


def trusted() -> Trust:
    """Over the newest proofs that a photo came after; kept until there is another proof or photo."""
    return CACHED.get(lambda: trust(list(_all_held())))


def _all_held() -> Iterator[Held]:
    done = StencilProof.objects.filter(state=StencilProof.State.DONE).select_related("scan__film", "mesh")
    for proof in done[:_MOST]:
        for _, held in against_photos(proof):
            yield held


def _box(finding: dict) -> tuple[float, float, float, float]:
    return finding["x_mm"], finding["y_mm"], finding["width_mm"], finding["height_mm"]


def _same_light(photo: StencilPhoto, proof: StencilProof) -> bool:
    lit = Exposure.objects.filter(event__cycle=photo.cycle, event__replaced_by=None, lamp=proof.lamp).last()
    return lit is not None and 1 / _SAME_TIME <= lit.given_s / proof.time_s <= _SAME_TIME
