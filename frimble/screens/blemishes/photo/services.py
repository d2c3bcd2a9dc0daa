"""A photo of a bare mesh looked through, and what it shows drawn onto the screen's marks."""

import io
from dataclasses import dataclass

from django.db import transaction

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.core.lifecycle import State
from frimble.people import settings as house_settings
from frimble.screens.blemishes import queries
from frimble.screens.blemishes import services as blemish_services
from frimble.screens.blemishes.photo.forms import SQUEEGEE
from frimble.screens.models import Blemish, Screen
from frimble.ui.photos import require_size

# No coat is on the mesh in these.
_BARE = (State.BARE, State.DEGREASED)
# Shown of the photo beside a mark: the place and so much round it, mm.
_ROUND_MM = 40.0


@dataclass(frozen=True)
class Outcome:
    """Marks made, places that were on the map already, and whether the mesh may be coated."""

    made: list[Blemish]
    known: int
    passed: bool


def inspect(screen: Screen, person, *, photo, side: str) -> Outcome:
    """Find what is left on a bare mesh and mark it.

    Raises:
        RuleViolation: a coat or a stencil is on the mesh. InvalidInput: not a photo, or one that says nothing.
    """
    from frimble.core.mesh.inspection.inspecting import inspect_mesh
    from frimble.core.photo.opening import open_photo

    if screen.state not in _BARE:
        raise RuleViolation("The mesh is not bare: a photo shows its stencil. Inspect it after the reclaim.")
    settings = house_settings.current()
    require_size(photo, settings)
    inner = screen.frame.inside_mm(settings)
    found = inspect_mesh(open_photo(photo.read(), settings), inner)
    if found.refused:
        raise InvalidInput(found.refused, "photo")
    with transaction.atomic():
        made = [_mark(screen, person, f, found.upright, inner, side) for f in found.findings]
    new = [m for m in made if m is not None]
    return Outcome(new, len(made) - len(new), found.passed)


def _mark(screen: Screen, person, finding, upright, inner: tuple[float, float], side: str) -> Blemish | None:
    """The mark of a finding; None where one of its kind lies there already."""
    from frimble.core.mesh.inspection.kinds import FAULTS

    frame = screen.frame
    kind = FAULTS[finding.kind].mark
    from_left = inner[0] - finding.x - finding.width if side == SQUEEGEE else finding.x
    x = from_left + (frame.outer_width_mm - inner[0]) / 2
    y = finding.y + (frame.outer_height_mm - inner[1]) / 2
    box = {"x_mm": x, "y_mm": y, "width_mm": max(finding.width, 0.2), "height_mm": max(finding.height, 0.2)}
    if any(_meet(b, box) for b in queries.standing(screen.installation).filter(kind=kind)):
        return None
    cut = _cut(upright, finding, inner)
    return blemish_services.note_blemish(screen, person, kind=kind, photo=cut, **box)


def _meet(mark: Blemish, box: dict) -> bool:
    return (
        mark.x_mm < box["x_mm"] + box["width_mm"]
        and box["x_mm"] < mark.x_mm + mark.width_mm
        and mark.y_mm < box["y_mm"] + box["height_mm"]
        and box["y_mm"] < mark.y_mm + mark.height_mm
    )


def _cut(upright, finding, inner: tuple[float, float]) -> io.BytesIO:
    """The part of the photo round a finding, as a JPEG."""
    from PIL import Image

    px_mm = upright.shape[1] / inner[0]
    left, top = finding.x - _ROUND_MM, finding.y - _ROUND_MM
    right, bottom = finding.x + finding.width + _ROUND_MM, finding.y + finding.height + _ROUND_MM
    box = tuple(round(v * px_mm) for v in (max(left, 0), max(top, 0), right, bottom))
    file = io.BytesIO()
    Image.fromarray(upright).crop((box[0], box[1], min(box[2], upright.shape[1]), min(box[3], upright.shape[0]))).save(
        file, "JPEG", quality=88
    )
    file.seek(0)
    return file
