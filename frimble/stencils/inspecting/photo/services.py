"""Inspecting a stencil by photo, and writing down what was done about its faults."""

import io

from django.core.files.base import ContentFile
from django.db import transaction

from frimble.core.conclusions import InvalidInput, RuleViolation, require_between
from frimble.core.lifecycle import State
from frimble.films.models import ScanCheck
from frimble.people import moments
from frimble.people import settings as house_settings
from frimble.screens.models import Cycle
from frimble.stencils.inspecting.photo.models import FindingDecision, StencilPhoto

# A stencil stands on the mesh from its wash to its reclaim.
STANDS = (State.WASHED, State.READY, State.FAILED, State.AT_PRESS, State.PRINTED, State.STRIPPED)
_NUMBERS = ("x_mm", "y_mm", "width_mm", "height_mm", "value")


def inspect(screen, person, *, photo, scan: ScanCheck, want_mm: float, pinhole_mm: float) -> StencilPhoto:
    """Compare a photo with a film's scan and keep both; a refusal is kept with its reason.

    Raises:
        RuleViolation: no stencil stands on the screen. InvalidInput: not a photo, or limits that cannot be.
    """
    # The image libraries load with the first photo, not with the first page.
    from frimble.core.exposure.photo.opening import open_photo
    from frimble.core.stencil.inspection.comparing import Limits
    from frimble.core.stencil.inspection.inspecting import inspect as compared

    if screen.state not in STANDS:
        raise RuleViolation("No finished stencil is on it: there is nothing to inspect.")
    for name, value in (("want_mm", want_mm), ("pinhole_mm", pinhole_mm)):
        require_between(value, 0.1, 5, "The limit, in mm,", name)
    settings = house_settings.current()
    most = settings["photo.most_megabytes"]
    if photo.size > most * 1e6:
        raise InvalidInput(f"The photo has {photo.size / 1e6:.0f} MB; {most:g} MB at most are taken.", "photo")
    data = photo.read()
    black, dpi = film_of(scan, settings)
    found = compared(open_photo(data, settings), black, dpi, Limits(want_mm, pinhole_mm))
    stored = StencilPhoto(
        installation=screen.installation,
        cycle=Cycle.objects.filter(installation=screen.installation_id).order_by("-number").first(),
        scan=scan,
        want_mm=want_mm,
        pinhole_mm=pinhole_mm,
        result=_plain(found),
        refused=found.refused[:300],
        at=moments.now(),
        by=person,
    )
    with transaction.atomic():
        stored.photo.save("photo", ContentFile(data), save=False)
        if found.straight is not None:
            stored.straight.save("straight", ContentFile(_jpeg(found.straight)), save=False)
        stored.save()
    return stored


def film_of(scan: ScanCheck, settings):
    """(h, w) bool, black of the film, and its dpi."""
    import numpy as np

    from frimble.core.film.scan.opening import open_scan

    with scan.scan.open() as file:
        film = open_scan(file.read(), scan.dpi, scan.encoding, settings)
    return film.codes < (np.iinfo(film.codes.dtype).max + 1) // 2, film.dpi


def _plain(found) -> dict:
    return {
        "side": found.side,
        "seen_share": round(found.seen_share, 4),
        "px_mm": found.px_mm,
        "findings": [
            {"kind": d.kind.value} | {n: round(float(getattr(d, n)), 3) for n in _NUMBERS} for d in found.findings
        ],
    }


def _jpeg(picture) -> bytes:
    from PIL import Image

    file = io.BytesIO()
    Image.fromarray(picture).save(file, "JPEG", quality=85)
    return file.getvalue()


def decide(photo: StencilPhoto, person, *, finding: int, what: str, reason: str = "") -> FindingDecision:
    """Write down what was done about a finding.

    Raises:
        InvalidInput: no such finding, or it is called no fault without a reason.
    """
    if not 0 <= finding < len(photo.result["findings"]):
        raise InvalidInput("That finding is not on this photo.")
    if what not in FindingDecision.What.values:
        raise InvalidInput("Say what was done about it.")
    if what == FindingDecision.What.NONE and not reason.strip():
        raise InvalidInput("Say why it is no fault.", "reason")
    return FindingDecision.objects.create(
        photo=photo, finding=finding, what=what, reason=reason.strip()[:200], at=moments.now(), by=person
    )
