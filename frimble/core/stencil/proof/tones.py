"""What a halftone's tones become: coverage on the film against coverage of the stencil's openings."""

from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from frimble.core.simulation.screen.standing import Mask

# Tones are read over cells of so many dots, in steps of a tenth.
_DOTS_A_CELL = 3
_BINS = np.linspace(0, 1, 11)
_FEWEST_CELLS = 4
# A cell of a tint has so many edges a dot and more: solid shapes and type have fewer.
_EDGES_A_DOT = 1.2


@dataclass(frozen=True)
class Tone:
    """Cells of about one tone: the share of black on the film, the share that is open in the stencil, how many cells."""

    film: float
    stencil: float
    cells: int


def tone_curve(black: npt.NDArray[np.bool_], open_: Mask, px_mm: float, ruling_lpi: float) -> list[Tone]:
    """Tones of the film's halftone and what they become, lightest first; none where no tint was found.

    Args:
        ruling_lpi: lines an inch of the halftone.
    """
    pitch = px_mm * 25.4 / ruling_lpi
    side = max(3, round(_DOTS_A_CELL * pitch))
    if min(black.shape) < side:
        return []
    edges = np.zeros(black.shape, np.float32)
    edges[:, 1:] += black[:, 1:] != black[:, :-1]
    edges[1:] += black[1:] != black[:-1]
    film, after, busy = (_cells(a, side) for a in (black.astype(np.float32), open_.astype(np.float32), edges))
    dots = (side / pitch) ** 2
    around = 4 * np.sqrt(np.clip(np.minimum(film, 1 - film), 0, 1)) * pitch
    tint = (film > 0.02) & (film < 0.98) & (busy * side**2 >= _EDGES_A_DOT / 2 * dots * np.maximum(around, 1))
    number = np.digitize(film[tint], _BINS[1:-1])
    return [
        Tone(float(film[tint][number == k].mean()), float(after[tint][number == k].mean()), int((number == k).sum()))
        for k in range(len(_BINS) - 1)
        if (number == k).sum() >= _FEWEST_CELLS
    ]


def _cells(values: npt.NDArray[np.float32], side: int) -> npt.NDArray[np.float32]:
    """The mean of each cell; a rest at the right and below is left out."""
    high, wide = (n // side for n in values.shape)
    return np.asarray(
        cv2.resize(values[: high * side, : wide * side], (wide, high), interpolation=cv2.INTER_AREA), np.float32
    )
