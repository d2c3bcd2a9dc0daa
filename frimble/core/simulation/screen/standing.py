"""What stands after the wash: light under a film's raster, what gels, and what of it holds."""

from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from frimble.core.simulation.screen.light import Exposure
from frimble.core.simulation.screen.raster import spread_under

Mask = npt.NDArray[np.uint8]

# Rows worked on at a time: the light of a whole sheet would take four bytes a pixel.
_ROWS = 1500
# Light reaches so many standard deviations.
_REACH = 4.0


@dataclass(frozen=True)
class Standing:
    """A stencil as it stands, (h, w) masks of 0 and 1.

    Attributes:
        open_: where light and ink pass. gelled: where the surface gelled, before the wash. held: of that, what hardened
            down to the threads.
    """

    open_: Mask
    gelled: Mask
    held: Mask


def stencil(black: npt.NDArray[np.bool_], px_mm: float, light: Exposure, support_um: float) -> Standing:
    """The stencil that a film gives; what lies beyond the film is clear.

    Args:
        black: (h, w), True where the film is black. px_mm: pixels a mm.
        support_um: a line narrower than this finds no thread to lie on and breaks away.
    """
    gelled, held = _hardened(black, px_mm, light)
    stands = _supported(gelled, held, round(support_um / 1000 * px_mm))
    return Standing((1 - stands).astype(np.uint8), gelled, held)


def _hardened(black: npt.NDArray[np.bool_], px_mm: float, light: Exposure) -> tuple[Mask, Mask]:
    reach = int(np.ceil(_REACH * light.spread_um / 1000 * px_mm)) + 1
    high = black.shape[0]
    gelled, held = np.empty(black.shape, np.uint8), np.empty(black.shape, np.uint8)
    for top in range(0, high, _ROWS):
        begin, end = max(0, top - reach), min(high, top + _ROWS + reach)
        through = np.where(black[begin:end], np.float32(light.leak), np.float32(1))
        around = cv2.copyMakeBorder(through, reach, reach, reach, reach, cv2.BORDER_CONSTANT, value=1.0)
        padded = np.asarray(around, np.float32)
        # Strips inside the sheet bring their own neighbours along.
        above, below = reach + top - begin, min(top + _ROWS, high) - top
        if begin > 0:
            padded[:reach] = padded[reach]
        spread = spread_under(padded, px_mm, light.spread_um)
        part = spread[above : above + below, reach : reach + black.shape[1]]
        gelled[top : top + below] = part >= light.gel_share
        held[top : top + below] = part >= light.hold_share
    return gelled, held


def _supported(gelled: Mask, held: Mask, support_px: int) -> Mask:
    """Of what gelled, the pieces that hold on the threads somewhere, without what is too narrow to lie on any."""
    whole: Mask = np.pad(gelled, 1, constant_values=1)
    if support_px > 1:
        disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (support_px, support_px))
        edge = cv2.copyMakeBorder(whole, support_px, support_px, support_px, support_px, cv2.BORDER_REPLICATE)
        broad = cv2.morphologyEx(edge, cv2.MORPH_OPEN, disc)[support_px:-support_px, support_px:-support_px]
        # A piece keeps its outline: what is broad somewhere carries its corners along.
        whole = np.asarray(cv2.bitwise_and(whole, cv2.dilate(np.ascontiguousarray(broad), disc)), np.uint8)
    number, pieces = cv2.connectedComponents(whole, connectivity=8, ltype=cv2.CV_32S)
    holds = np.zeros(number, bool)
    holds[np.unique(pieces[1:-1, 1:-1][(held > 0) & (whole[1:-1, 1:-1] > 0)])] = True
    # The coat around the film stands where clear film does.
    holds[pieces[0, 0]] |= bool(held.any()) or not gelled.size
    holds[0] = False
    return np.ascontiguousarray(holds[pieces][1:-1, 1:-1]).astype(np.uint8)
