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
from frimble.stencils.inspecting.photo.models import FindingDecision, StencilPhoto, TappedFault
from frimble.ui.photos import require_size

# A stencil stands on the mesh from its wash to its reclaim.
STANDS = (State.WASHED, State.READY, State.FAILED, State.AT_PRESS, State.PRINTED, State.STRIPPED)
# Pixels a mm that a film is drawn with to be tapped on, and the largest place and size typed.
DRAWN_PX_MM, _MOST_MM = 6.0, 2000
_NUMBERS = ("x_mm", "y_mm", "width_mm", "height_mm", "value")


def inspect(screen, person, *, photo, scan: ScanCheck, want_mm: float, pinhole_mm: float) -> StencilPhoto:
    """Compare a photo with a film's scan and keep both; a refusal is kept with its reason.

    Raises:
        RuleViolation: no stencil stands on the screen. InvalidInput: not a photo, or limits that cannot be.
    """
    # The image libraries load with the first photo, not with the first page.
    from frimble.core.photo.opening import open_photo
    from frimble.core.stencil.inspection.comparing import Limits
    from frimble.core.stencil.inspection.inspecting import inspect as compared

    _require_stencil(screen)
    for name, value in (("want_mm", want_mm), ("pinhole_mm", pinhole_mm)):
        require_between(value, 0.1, 5, "The limit, in mm,", name)
    settings = house_settings.current()
    require_size(photo, settings)
    data = photo.read()
    black, dpi = film_of(scan, settings)
    found = compared(open_photo(data, settings), black, dpi, Limits(want_mm, pinhole_mm))
    stored = _sheet(screen, person, scan, want_mm, pinhole_mm, _plain(found), found.refused[:300])
    with transaction.atomic():
        stored.photo.save("photo", ContentFile(data), save=False)
        if found.straight is not None:
            stored.straight.save("straight", ContentFile(_jpeg(found.straight)), save=False)
        stored.save()
    return stored


def by_eye(screen, person, *, scan: ScanCheck) -> StencilPhoto:
    """The film's own drawing to tap faults on, without any photo.

    Raises:
        RuleViolation: no stencil stands on the screen.
    """
    import cv2
    import numpy as np

    _require_stencil(screen)
    black, dpi = film_of(scan, house_settings.current())
    size = tuple(max(1, round(n * DRAWN_PX_MM * 25.4 / dpi)) for n in black.shape[::-1])
    drawn = cv2.resize(np.where(black, 230, 40).astype(np.uint8), size, interpolation=cv2.INTER_AREA)
    result = {"side": "squeegee", "seen_share": 0.0, "px_mm": DRAWN_PX_MM, "findings": []}
    sheet = _sheet(screen, person, scan, 0.3, 0.3, result, "")
    with transaction.atomic():
        sheet.straight.save("straight", ContentFile(_jpeg(drawn)), save=False)
        sheet.save()
    return sheet


def tap(photo: StencilPhoto, person, *, kind: str, x_mm: float, y_mm: float, size_mm: float) -> TappedFault:
    """A fault seen by eye.

    Raises:
        InvalidInput: a place beyond the film, or a size that cannot be.
    """
    for name, value, most in (("x_mm", x_mm, _MOST_MM), ("y_mm", y_mm, _MOST_MM)):
        require_between(value, 0, most, "The place, in mm,", name)
    require_between(size_mm, 0.05, _MOST_MM, "Its size, in mm,", "size_mm")
    return TappedFault.objects.create(
        photo=photo, kind=kind, x_mm=x_mm, y_mm=y_mm, size_mm=size_mm, at=moments.now(), by=person
    )


def _require_stencil(screen) -> None:
    if screen.state not in STANDS:
        raise RuleViolation("No finished stencil is on it: there is nothing to inspect.")


def _sheet(screen, person, scan, want_mm, pinhole_mm, result, refused) -> StencilPhoto:
    """Not stored yet."""
    return StencilPhoto(
        installation=screen.installation,
        cycle=Cycle.objects.filter(installation=screen.installation_id).order_by("-number").first(),
        scan=scan,
        want_mm=want_mm,
        pinhole_mm=pinhole_mm,
        result=result,
        refused=refused,
        at=moments.now(),
        by=person,
    )


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
    if not 0 <= finding < photo.number_of_faults:
        raise InvalidInput("That finding is not on this photo.")
    if what not in FindingDecision.What.values:
        raise InvalidInput("Say what was done about it.")
    if what == FindingDecision.What.NONE and not reason.strip():
        raise InvalidInput("Say why it is no fault.", "reason")
    return FindingDecision.objects.create(
        photo=photo, finding=finding, what=what, reason=reason.strip()[:200], at=moments.now(), by=person
    )
