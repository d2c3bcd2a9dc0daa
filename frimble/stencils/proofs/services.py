"""A whole film's proof: asked for, then worked out behind the page."""

import io
import logging

from django.core.files.base import ContentFile
from django.db import transaction
from django.utils import timezone

from frimble.core.conclusions import require_between
from frimble.films.checks.pictures import unpacked
from frimble.films.models import ScanCheck
from frimble.people import background
from frimble.people import settings as house_settings
from frimble.people.room_time import task
from frimble.screens.models import MeshType
from frimble.stencils.models import StencilProof
from frimble.stencils.proofs.known import Combination, as_stored, from_stored, known_of

logger = logging.getLogger(__name__)

_MM_PER_INCH = 25.4
_PICTURE_SIDE, _BLACK_BELOW = 1600, 128
_LONGEST_S = 36_000
_FAILURES = background.FailureWords(
    "The film needs more memory than is free: scan it at fewer dpi, or try again.",
    "It broke off: a fault of Frimble's ({fault}). Try again.",
    f"It was broken off {background.MOST_TRIES} times before it came to an end.",
)


def ask(person, settings, *, scan: ScanCheck, time_s: float | None = None, **combination) -> StencilProof:
    """A proof to be worked out.

    Args:
        time_s: None for the calibrated or predicted time. combination: as `known.Combination`.

    Raises:
        InvalidInput: a time that cannot be. RuleViolation: what it rests on is not known.
    """
    of = Combination(**combination)
    known, time_s = time_of(of, time_s, settings)
    with transaction.atomic():
        proof = StencilProof.objects.create(
            scan=scan, time_s=time_s, known=as_stored(known), at=timezone.now(), by=person, **combination
        )
        transaction.on_commit(lambda: work_out.enqueue(proof.pk))
    return proof


def time_of(of: Combination, time_s: float | None, settings):
    """What a combination rests on, and the time to show.

    Raises:
        InvalidInput: as `ask`. RuleViolation: as `known_of`.
    """
    known = known_of(of, settings)
    time_s = known.time_s if time_s is None else time_s
    require_between(time_s, 0.05, _LONGEST_S, "The time, in s,", "time_s")
    return known.constants, time_s


def take_up_left() -> int:
    """Put proofs that a killed worker left in the queue again; how many there were."""
    return background.take_up_left(StencilProof, work_out, _FAILURES)


def try_again(proof: StencilProof) -> None:
    """Put one that broke off in the queue once more.

    Raises:
        RuleViolation: it has not.
    """
    background.put_again(proof, work_out, "Only one that broke off is tried again.")


@task
def work_out(pk: int) -> None:
    """Work out one proof; the record says how far it is, and in the end what was found or why not."""
    proof = StencilProof.objects.select_related("scan", "mesh").get(pk=pk)
    background.carry_out(proof, _work_out, _FAILURES, logger, "opening the film")


def _work_out(proof: StencilProof) -> None:
    # The image libraries load with the first proof, not with the first page.
    import numpy as np

    from frimble.core.stencil.proof.best_time import best_time
    from frimble.core.stencil.proof.constants import Cures
    from frimble.core.stencil.proof.proofing import cloth_of, opened_share
    from frimble.core.stencil.proof.proofing import proof as prove
    from frimble.core.stencil.proof.remedies import remedies
    from frimble.core.stencil.proof.tones import tone_curve

    settings, known = house_settings.current(), from_stored(proof.known)
    dpi, mesh = proof.scan.result["dpi"], proof.mesh.geometry(settings)
    px_mm = dpi / _MM_PER_INCH
    black = np.load(unpacked(proof.scan)) < _BLACK_BELOW
    proof.tell(0.15, "light under the film")
    found = prove(black, dpi, mesh, known.light(proof.time_s), settings)
    proof.tell(0.5, "as fast and as slowly as it may cure")
    ends = {
        cures: opened_share(black, px_mm, known.light(proof.time_s, cures), mesh.opening_um)
        for cures in (Cures.FAST, Cures.SLOWLY)
    }
    proof.tell(0.75, "other times")
    best = best_time(black, px_mm, known, cloth_of(mesh, settings))
    ruling = proof.scan.film.ruling_lpi
    tones = tone_curve(black, found.open_, px_mm, ruling) if ruling else []
    others = [(str(m), m.geometry(settings)) for m in MeshType.objects.filter(thermal=False)]
    result = {
        "opened_share": found.opened_share,
        "opened_ends": [ends[Cures.FAST], ends[Cures.SLOWLY]],
        "findings": [_plain(f) for f in found.findings],
        "finest_open_um": _ends(known, proof.time_s, "finest_open_um"),
        "finest_standing_um": _ends(known, proof.time_s, "finest_held_um", mesh.opening_um),
        "best": {
            "time_s": best.time_s,
            "low_s": best.low_s,
            "high_s": best.high_s,
            "tried": [[t.time_s, t.closed, t.washed] for t in best.tried],
        },
        "remedies": remedies(found.findings, proof.time_s, best, others),
        "tones": [[t.film, t.stencil, t.cells] for t in tones],
        "size_mm": [black.shape[1] / px_mm, black.shape[0] / px_mm],
    }
    proof.picture.save("picture", ContentFile(_picture(black, found.open_)), save=False)
    proof.keep_result(result)


def _plain(finding) -> dict:
    return {
        "kind": finding.kind.value,
        "x_mm": finding.x_mm,
        "y_mm": finding.y_mm,
        "width_mm": finding.width_mm,
        "height_mm": finding.height_mm,
        "value": finding.value,
        "why": finding.why,
    }


def _ends(known, time_s: float, what: str, least: float = 0.0) -> list[float | None]:
    """Usually, and as fast and as slowly as it may cure."""
    from frimble.core.stencil.proof.constants import Cures

    widths = [getattr(known.light(time_s, cures), what)() for cures in (Cures.USUALLY, Cures.FAST, Cures.SLOWLY)]
    return [None if width is None else max(width, least) for width in widths]


def _picture(black, open_) -> bytes:
    """The whole stencil, small: codes of `parts.COLOURS` as its colours."""
    import cv2
    import numpy as np
    from PIL import Image

    from frimble.stencils.proofs.parts import COLOURS

    # Colours are chosen by what most of a pixel of the small picture is, with losses in front.
    scale = max(1.0, max(black.shape) / _PICTURE_SIDE)
    size = (max(1, round(black.shape[1] / scale)), max(1, round(black.shape[0] / scale)))

    def share(mask):
        return cv2.resize(mask.astype(np.uint8) * 200, size, interpolation=cv2.INTER_AREA) / 200

    opens, closed, washed = share(open_), share(black & (open_ == 0)), share(~black & (open_ == 1))
    codes = np.where(opens > 0.5, 0, 1)
    codes = np.where(closed > 0.3, 2, np.where(washed > 0.3, 3, codes))
    file = io.BytesIO()
    Image.fromarray(np.array(COLOURS, np.uint8)[codes]).save(file, "PNG")
    return file.getvalue()
