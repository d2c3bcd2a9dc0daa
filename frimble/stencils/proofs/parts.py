"""A part of a film as it will stand: worked out at once, drawn at full detail."""

from dataclasses import dataclass

from frimble.core.simulation.screen.light import Exposure
from frimble.films.checks.pictures import unpacked
from frimble.films.models import ScanCheck

_MM_PER_INCH = 25.4
_SHOWN_PX = 620
# Light from so far beyond the part counts in it, mm.
_AROUND_MM = 0.8
_BLACK_BELOW = 128
# Where most edges are is looked for in points so far apart, mm.
_COARSE_MM = 0.1
# Open, stencil, closed though black, open though clear: in daylight and in grey.
COLOURS = ((250, 248, 240), (127, 168, 152), (178, 58, 20), (232, 190, 60))
_GREYS = (250, 120, 10, 200)


@dataclass(frozen=True)
class Part:
    """A square of the film: codes of COLOURS, (h, w), and how much of its black opens."""

    codes: object
    opened_share: float | None


def part_of(check: ScanCheck, x_mm: float, y_mm: float, side_mm: float, light: Exposure, opening_um: float) -> Part:
    """The square around a place, mm from the film's top left."""
    import numpy as np

    from frimble.core.simulation.screen.standing import stencil

    px_mm = check.result["dpi"] / _MM_PER_INCH
    black, edge = _black(check, x_mm, y_mm, side_mm, px_mm)
    open_ = stencil(black, px_mm, light, opening_um).open_
    inside = slice(edge, -edge or None)
    black, open_ = black[inside, inside], open_[inside, inside]
    codes = np.where(black, np.where(open_ == 1, 0, 2), np.where(open_ == 1, 3, 1)).astype(np.uint8)
    opened = float((codes == 0).sum() / black.sum()) if black.any() else None
    return Part(codes, opened)


def busiest_place(check: ScanCheck, side_mm: float) -> tuple[float, float]:
    """The middle of the square of the film with most edges in it, mm: what a proof shows first."""
    import numpy as np

    from frimble.core.stencil.proof.best_time import busiest

    px_mm = check.result["dpi"] / _MM_PER_INCH
    coarser = max(1, round(px_mm * _COARSE_MM))
    black = np.load(unpacked(check), mmap_mode="r")[::coarser, ::coarser] < _BLACK_BELOW
    side = max(2, round(side_mm * px_mm / coarser))
    top, left = (busiest(black, side) or [(0, 0)])[0]
    return tuple((at + side / 2) * coarser / px_mm for at in (left, top))


def _black(check, x_mm, y_mm, side_mm, px_mm):
    """The film's black around a place with a border as wide as light reaches; clear beyond the sheet."""
    import numpy as np

    grey = np.load(unpacked(check), mmap_mode="r")
    edge = round(_AROUND_MM * px_mm)
    half = max(2, round(side_mm / 2 * px_mm)) + edge
    row, column = round(y_mm * px_mm), round(x_mm * px_mm)
    black = np.zeros((2 * half, 2 * half), bool)
    top, left = max(0, row - half), max(0, column - half)
    seen = grey[top : max(0, row + half), left : max(0, column + half)]
    down, across = top - (row - half), left - (column - half)
    black[down : down + seen.shape[0], across : across + seen.shape[1]] = seen < _BLACK_BELOW
    return black, edge


def picture(part: Part, dark: bool) -> bytes:
    """The part as a PNG, in amber where live emulsion lies about."""
    import numpy as np
    from PIL import Image

    from frimble.ui.roomlight import png

    colours = [(g, g, g) for g in _GREYS] if dark else COLOURS
    image = Image.fromarray(np.array(colours, np.uint8)[part.codes])
    return png(image.resize((_SHOWN_PX, _SHOWN_PX), Image.Resampling.NEAREST), dark)
