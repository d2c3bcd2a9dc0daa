"""The step-test film as shapes in film pixels: black or clear boxes, dots, rings and words, drawn one over the other."""

from collections.abc import Iterator
from dataclasses import dataclass

import cv2
import numpy as np

from frimble.core.exposure.target.geometry import (
    PITCH_WIDTHS,
    SCALE_BAR_MM,
    Fiducial,
    Rectangle,
    Target,
    TargetPatch,
    dot_pitch_px,
    dot_pixels,
)
from frimble.core.units import MM_PER_POINT

DICTIONARY = cv2.aruco.DICT_5X5_250
_CELLS = 7
_TYPE_PT = (4, 6, 8)
_RING_WIDTHS_UM = (127, 212, 339)


@dataclass(frozen=True)
class Rect:
    """A filled box, film pixels."""

    x: int
    y: int
    width: int
    height: int
    black: bool


@dataclass(frozen=True)
class Disc:
    """A filled circle, film pixels."""

    x: float
    y: float
    radius: float
    black: bool


@dataclass(frozen=True)
class Words:
    """A line of black type: its baseline's start, film pixels, and the height of its capitals, film pixels."""

    x: float
    y: float
    height: float
    text: str


Shape = Rect | Disc | Words


def shapes_of(target: Target) -> Iterator[Shape]:
    """Everything on the film in the order it is drawn; the sheet is clear where nothing is drawn."""
    px = 1 / target.pixel_mm
    for fiducial in target.fiducials:
        yield from _fiducial(fiducial, px)
    for patch in target.patches:
        yield from _DRAWN[patch.kind](patch, px)
    yield from _scale_bar(target, px)
    yield from _writing(target, px)


def _rect(box: Fiducial | Rectangle | TargetPatch, px: float, black: bool = True) -> Rect:
    return Rect(round(box.x_mm * px), round(box.y_mm * px), round(box.width_mm * px), round(box.height_mm * px), black)


def marker(number: int) -> np.ndarray:
    """(7, 7) bool of a fiducial, True where the stencil stands: its border and the dark cells of its pattern."""
    dictionary = cv2.aruco.getPredefinedDictionary(DICTIONARY)
    return np.asarray(cv2.aruco.generateImageMarker(dictionary, number, _CELLS) == 0)


def _fiducial(fiducial: Fiducial, px: float) -> Iterator[Shape]:
    """Its square and a quiet rim around it are black film; its pattern is clear."""
    outer = _rect(fiducial, px)
    rim = round(1.2 * px)
    yield Rect(outer.x - rim, outer.y - rim, outer.width + 2 * rim, outer.height + 2 * rim, True)
    edges = [round(k * outer.width / _CELLS) for k in range(_CELLS + 1)]
    for row, cells in enumerate(marker(fiducial.number)):
        for column, standing in enumerate(cells):
            if standing:
                yield Rect(
                    outer.x + edges[column],
                    outer.y + edges[row],
                    edges[column + 1] - edges[column],
                    edges[row + 1] - edges[row],
                    False,
                )


def _open(patch: TargetPatch, px: float) -> Iterator[Shape]:
    yield _rect(patch, px)


def _solid(patch: TargetPatch, px: float) -> Iterator[Shape]:
    return iter(())


def _openings(patch: TargetPatch, px: float) -> Iterator[Shape]:
    yield from _ruled(_rect(patch, px), round(patch.width_um / 1000 * px), True)


def _lines(patch: TargetPatch, px: float) -> Iterator[Shape]:
    ground = _rect(patch, px)
    yield ground
    yield from _ruled(ground, round(patch.width_um / 1000 * px), False)


def _ruled(box: Rect, width: int, black: bool) -> Iterator[Shape]:
    """As many whole lines as the box holds, upright, one to `PITCH_WIDTHS` widths."""
    pitch = PITCH_WIDTHS * width
    for k in range(box.width // pitch):
        yield Rect(box.x + k * pitch + width, box.y, width, box.height, black)


def _dots(patch: TargetPatch, px: float) -> Iterator[Shape]:
    """Round dots on a square grid of whole pixels: black on clear below half, clear on black above."""
    box, pitch = _rect(patch, px), dot_pitch_px(1 / px)
    radius, _ = dot_pixels(min(patch.tint, 1 - patch.tint), pitch)
    if patch.tint > 0.5:
        yield box
    for row in range(box.height // pitch):
        for column in range(box.width // pitch):
            yield Disc(box.x + (column + 0.5) * pitch, box.y + (row + 0.5) * pitch, radius, patch.tint < 0.5)


def _type(patch: TargetPatch, px: float) -> Iterator[Shape]:
    box, y = _rect(patch, px), 0.0
    for points in _TYPE_PT:
        height = points * MM_PER_POINT * 0.7 * px
        y += height * 1.45
        yield Words(
            box.x + 0.3 * px, box.y + y, height, f"{points} pt" if box.width < 20 * px else f"Rag nips {points} pt"
        )


def _ring(patch: TargetPatch, px: float) -> Iterator[Shape]:
    """Rings inside one another, openings in every direction at once."""
    box = _rect(patch, px)
    x, y = box.x + box.width / 2, box.y + box.height / 2
    radius = min(box.width, box.height) / 2
    for um in _RING_WIDTHS_UM:
        width = round(um / 1000 * px)
        yield Disc(x, y, radius, True)
        yield Disc(x, y, radius - width, False)
        radius -= 4 * width
        if radius < 4 * width:
            return


def _number(patch: TargetPatch, px: float) -> Iterator[Shape]:
    box = _rect(patch, px)
    yield Words(box.x + 0.5 * px, box.y + box.height - 0.8 * px, box.height * 0.7, str(patch.step))


_DRAWN = {
    "open": _open, "solid": _solid, "openings": _openings, "lines": _lines, "dots": _dots, "type": _type, "ring": _ring,
    "number": _number,
}  # fmt: skip


_WRITE = ("date", "mesh", "coat", "emulsion", "lamp")


def _writing(target: Target, px: float) -> Iterator[Shape]:
    """Lines to write on at both ends, with an opaque pen."""
    right = target.steps[-1].x_mm + target.steps[-1].width_mm
    for x in (1.5, right + 1.5):
        for k, word in enumerate(_WRITE):
            y = 22 + 12 * k
            yield Words(x * px, (y - 6) * px, 1.6 * px, word)
            yield Rect(round(x * px), round(y * px), round(13 * px), round(0.15 * px), True)


def _scale_bar(target: Target, px: float) -> Iterator[Shape]:
    """The bar with its ends and what it must measure."""
    bar = _rect(target.scale_bar, px)
    yield bar
    for x in (bar.x, bar.x + bar.width):
        yield Rect(x - round(0.1 * px), bar.y - round(0.8 * px), round(0.2 * px), round(1.6 * px), True)
    words = f"{len(target.steps)} steps, {target.dpi} dpi. Printed true when this bar measures {SCALE_BAR_MM:g} mm."
    yield Words(bar.x, bar.y - 1.3 * px, 1.6 * px, words)
