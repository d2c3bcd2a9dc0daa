"""Inspecting a stencil by photo behind the page, and writing down what was done about its faults."""

import io
import logging

from django.core.files.base import ContentFile
from django.db import transaction

from frimble.core.conclusions import InvalidInput, RuleViolation, require_between
from frimble.core.lifecycle import State
from frimble.films.models import ScanCheck
from frimble.people import background, moments
from frimble.people import settings as house_settings
from frimble.people.room_time import task
from frimble.screens.models import Cycle
from frimble.stencils.inspecting.photo.models import FindingDecision, StencilPhoto, TappedFault
from frimble.ui.photos import require_size

logger = logging.getLogger(__name__)

_FAILURES = background.FailureWords(
    "The photo and its film need more memory than is free: send it smaller, or try again.",
    "It broke off: a fault of Frimble's ({fault}). Try again, or mark what you see by eye.",
    f"It was broken off {background.MOST_TRIES} times before it came to an end: mark what you see by eye.",
)
# A stencil stands on the mesh from its wash to its reclaim.
STANDS = (State.WASHED, State.READY, State.FAILED, State.AT_PRESS, State.PRINTED, State.STRIPPED)
# Pixels a mm that a film is drawn with to be tapped on, and the largest place and size typed.
DRAWN_PX_MM, _MOST_MM = 6.0, 2000
_NUMBERS = ("x_mm", "y_mm", "width_mm", "height_mm", "value")


def send(screen, person, *, photo, scan: ScanCheck, want_mm: float, pinhole_mm: float) -> StencilPhoto:
    """Keep a photo, to be held against a film's scan behind the page.

    Raises:
        RuleViolation: no stencil stands on the screen. InvalidInput: not a photo, or limits that cannot be.
    """
    # The image libraries load with the first photo, not with the first page.
    from frimble.core.photo.opening import open_photo

    _require_stencil(screen)
    for name, value in (("want_mm", want_mm), ("pinhole_mm", pinhole_mm)):
        require_between(value, 0.1, 5, "The limit, in mm,", name)
    settings = house_settings.current()
    require_size(photo, settings)
    data = photo.read()
    # What cannot be opened is told beside its field, not later.
    open_photo(data, settings)
    stored = _sheet(screen, person, scan, want_mm, pinhole_mm)
    with transaction.atomic():
        stored.photo.save("photo", ContentFile(data), save=False)
        stored.save()
        transaction.on_commit(lambda: compare.enqueue(stored.pk))
    return stored


def take_up_left() -> int:
    """Put photos that a killed worker left in the queue again; how many there were."""
    return background.take_up_left(StencilPhoto, compare, _FAILURES)


def try_again(photo: StencilPhoto) -> None:
    """Put one that broke off in the queue once more.

    Raises:
        RuleViolation: it has not.
    """
    background.put_again(photo, compare, "Only one that broke off is tried again.")


@task
def compare(pk: int) -> None:
    """Hold one photo against its film; the record says in the end what was found or why not."""
    photo = StencilPhoto.objects.select_related("scan").get(pk=pk)
    background.carry_out(photo, _compare, _FAILURES, logger, "opening photo and film")


def _compare(stored: StencilPhoto) -> None:
    from frimble.core.photo.opening import open_photo
    from frimble.core.stencil.inspection.comparing import Limits
    from frimble.core.stencil.inspection.inspecting import inspect

    settings = house_settings.current()
    with stored.photo.open() as file:
        photo = open_photo(file.read(), settings)
    black, dpi = film_of(stored.scan, settings)
    stored.tell(0.3, "finding the film in the photo")
    found = inspect(photo, black, dpi, Limits(stored.want_mm, stored.pinhole_mm))
    stored.refused = found.refused[:300]
    if found.straight is not None:
        stored.straight.save("straight", ContentFile(_jpeg(found.straight)), save=False)
    stored.keep_result(_plain(found))


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
    sheet = _sheet(screen, person, scan, 0.3, 0.3)
    with transaction.atomic():
        sheet.straight.save("straight", ContentFile(_jpeg(drawn)), save=False)
        sheet.keep_result(result)
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


def _sheet(screen, person, scan, want_mm, pinhole_mm) -> StencilPhoto:
    """Not stored yet."""
    return StencilPhoto(
        installation=screen.installation,
        cycle=Cycle.objects.filter(installation=screen.installation_id).order_by("-number").first(),
        scan=scan,
        want_mm=want_mm,
        pinhole_mm=pinhole_mm,
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
