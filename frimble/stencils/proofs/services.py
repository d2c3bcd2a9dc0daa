"""A whole film's proof: asked for, then worked out behind the page."""

import io
import logging

from django.core.files.base import ContentFile
from django.db import transaction
from django.utils import timezone
from django_tasks import task

from frimble.core.conclusions import InvalidInput, RuleViolation, require_between
from frimble.films.checks.pictures import unpacked
from frimble.films.models import ScanCheck
from frimble.people import settings as house_settings
from frimble.screens.models import MeshType
from frimble.stencils.models import StencilProof
from frimble.stencils.proofs.known import Combination, as_stored, from_stored, known_of

logger = logging.getLogger(__name__)

_MM_PER_INCH = 25.4
_PICTURE_SIDE, _BLACK_BELOW = 1600, 128
_LONGEST_S = 36_000


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
    """End those that a killed worker left half done, to be tried again by hand; how many there were.

    To be called before a worker starts, when nothing else can be working on them.
    """
    left = StencilProof.objects.filter(state=StencilProof.State.RUNNING)
    return left.update(state=StencilProof.State.FAILED, refusal="It was broken off before it came to an end.", doing="")


def try_again(proof: StencilProof) -> None:
    """Put one that broke off in the queue once more.

    Raises:
        RuleViolation: it has not failed.
    """
    with transaction.atomic():
        failed = StencilProof.objects.filter(pk=proof.pk, state=StencilProof.State.FAILED)
        if not failed.update(state=StencilProof.State.WAITING, share_done=0, doing="", refusal=""):
            raise RuleViolation("Only one that broke off is tried again.")
        transaction.on_commit(lambda: work_out.enqueue(proof.pk))


@task
def work_out(pk: int) -> None:
    """Work out one proof; the record says how far it is, and in the end what was found or why not."""
    proof = StencilProof.objects.select_related("scan", "mesh").get(pk=pk)
    if proof.state in StencilProof.ENDS:
        return
    try:
        _work_out(proof)
    except (InvalidInput, RuleViolation) as error:
        _end(pk, StencilProof.State.REFUSED, str(error))
    except Exception as error:  # whatever breaks it is told on its page, never left running
        logger.exception("proof=%s failed", pk)
        _end(pk, StencilProof.State.FAILED, f"It broke off: a fault of Frimble's ({type(error).__name__}). Try again.")


def _end(pk: int, state: str, why: str) -> None:
    StencilProof.objects.filter(pk=pk).update(state=state, refusal=why[:400], doing="")


def _tell(proof: StencilProof, share: float, doing: str) -> None:
    StencilProof.objects.filter(pk=proof.pk).update(state=StencilProof.State.RUNNING, share_done=share, doing=doing)


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
    _tell(proof, 0.05, "opening the film")
    black = np.load(unpacked(proof.scan)) < _BLACK_BELOW
    _tell(proof, 0.15, "light under the film")
    found = prove(black, dpi, mesh, known.light(proof.time_s), settings)
    _tell(proof, 0.5, "as fast and as slowly as it may cure")
    ends = {
        cures: opened_share(black, px_mm, known.light(proof.time_s, cures), mesh.opening_um)
        for cures in (Cures.FAST, Cures.SLOWLY)
    }
    _tell(proof, 0.75, "other times")
    best = best_time(black, px_mm, known, cloth_of(mesh, settings))
    ruling = proof.scan.film.ruling_lpi
    tones = tone_curve(black, found.open_, px_mm, ruling) if ruling else []
    others = [(str(m), m.geometry(settings)) for m in MeshType.objects.filter(thermal=False)]
    proof.result = {
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
    proof.state, proof.share_done, proof.doing = StencilProof.State.DONE, 1, ""
    proof.save()


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
