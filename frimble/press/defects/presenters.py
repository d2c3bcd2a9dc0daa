"""The drawing of a print: what was tapped on it, and the stencil's faults that were mended or left."""

from collections.abc import Sequence
from dataclasses import dataclass
from urllib.parse import urlencode

from django.urls import reverse

from frimble.core.press.defects import PRINT_FAULTS, PrintFault
from frimble.press.defects.models import PrintDefect
from frimble.stencils.inspecting.photo.presenters import FindingRow, PhotoPart
from frimble.stencils.inspecting.photo.presenters import part as photo_part
from frimble.stencils.models import StencilPhoto

_LARGE_MM = 6.0


@dataclass(frozen=True)
class TappedRow:
    """A fault of the print with its circle on the drawing, px, where to look, and where its causes are weighed."""

    number: int
    label: str
    look: str
    place: str
    circle: tuple[float, float, float]
    url: str


@dataclass(frozen=True)
class MendedRow:
    """A fault of the stencil, what was done about it, and whether it shows; None where nobody said."""

    finding: FindingRow
    shows: bool | None


@dataclass(frozen=True)
class PrintPart:
    """The page's parts: the stencil's sheet, faults tapped on the print, and those of the stencil."""

    sheet: PhotoPart
    tapped: Sequence[TappedRow]
    mended: Sequence[MendedRow]


def part(photo: StencilPhoto, code: str) -> PrintPart:
    """What is drawn and asked."""
    defects = list(photo.print_defects.all())
    shows = {d.fault: d.shows for d in defects if d.fault is not None}
    sheet = photo_part(photo)
    tapped = [_row(k, d, sheet.px_mm, code) for k, d in enumerate((d for d in defects if d.kind), 1)]
    mended = [MendedRow(f, shows.get(f.index)) for f in sheet.findings if f.decided]
    return PrintPart(sheet, tapped, mended)


def _row(number: int, defect: PrintDefect, px_mm: float, code: str) -> TappedRow:
    card = PRINT_FAULTS[PrintFault(defect.kind)]
    wrong = reverse("stencils:diagnosis", args=[code])
    return TappedRow(
        number,
        card.label,
        card.look,
        f"{defect.x_mm:.0f}, {defect.y_mm:.0f} mm",
        (defect.x_mm * px_mm, defect.y_mm * px_mm, _LARGE_MM / 2 * px_mm),
        f"{wrong}?{urlencode({'symptoms': card.symptom})}" if card.symptom else "",
    )
