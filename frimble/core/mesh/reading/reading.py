"""Which mesh is this: the whole way from a close photo to a count with its interval, or a refusal with its reason."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import cv2
import numpy as np

from frimble.core.conclusions import Settings
from frimble.core.mesh.geometry import pitch_um
from frimble.core.mesh.reading.answer import MeshReading
from frimble.core.mesh.reading.cell import slits
from frimble.core.mesh.reading.strip import find_strip
from frimble.core.mesh.reading.weave import Weave, weave_of
from frimble.core.photo.light import linear
from frimble.core.statistics.normal import Z_90

# Sides of the tiles, px, the larger first: how many must be found, and how alike in fineness. A plane wants some more.
_TILES = (1024, 768, 512, 384, 256)
_LEAST_TILES, _AGREE, _LEAST_FOR_PLANE = 3, 0.075, 5
# Fewer pixels from thread to thread are not resolved; a weave fainter than this may be the threads beating with the pixels.
_LEAST_PITCH_PX, _LEAST_CONTRAST = 2.6, 0.06
# How far a scale that was typed, or printed, may be off, one standard deviation.
_SCALE_TYPED, _SCALE_PRINTED = 0.005, 0.004
# Systems that differ tell of a tilt, or of a cloth that is not square: this share of it stays open.
_UNLIKE = 0.25
# A slit and a thread finer than this many pixels are not measured.
_LEAST_SLIT_PX, _BURNT_OUT, _MOST_BURNT = 2.4, 0.985, 0.04
_FEWEST_PER_CM = 5.0
# A close photo may be cut down to the mesh; smaller ones hold too few threads.
LEAST_MEGAPIXELS = 0.2


def read_mesh(photo: np.ndarray, settings: Settings, pixels_per_mm: float | None = None) -> MeshReading:
    """Read a mesh.

    Args:
        photo: (h, w, 3) uint8 sRGB, close, bare mesh against light. pixels_per_mm: its scale; from the strip without.
    """
    # The green channel tells threads from openings best.
    light = linear(np.ascontiguousarray(photo[:, :, 1]))
    scale = find_strip(cv2.cvtColor(photo, cv2.COLOR_RGB2GRAY)) if pixels_per_mm is None else None
    places = _agreeing(light, scale is not None)
    if not places:
        return MeshReading(
            "No weave is found in it: focus on the threads, hold it against an even light, go nearer where they run into "
            "one another, farther where fewer than twenty are in view."
        )
    if pixels_per_mm is None and scale is None:
        return MeshReading(
            "The scale is not known: lay the printed scale strip on the mesh, or give the photo's pixels a mm."
        )
    if problem := _too_coarse(places):
        return MeshReading(problem)
    to_mm = scale.px_per_mm() if scale else np.eye(2) * (pixels_per_mm or 1.0)
    at = scale.middle_px if scale else (light.shape[1] / 2, light.shape[0] / 2)
    vectors, spread = _vectors_at(places, at)
    low, middle, high = _interval(_counts(vectors, to_mm), spread, _SCALE_PRINTED if scale else _SCALE_TYPED)
    if not _FEWEST_PER_CM <= middle <= settings["mesh.highest_per_cm"]:
        return MeshReading(
            f"{middle:.0f} threads per cm is no mesh for printing: check the scale that was given, or go nearer."
        )
    opening, thread = _opening(places, middle)
    basis = "the printed scale strip" if scale else "the scale that was given"
    rests_on = f"{len(places)} places of the photo and {basis}"
    return MeshReading("", middle, low, high, _angle(places), opening, thread, rests_on)


@dataclass(frozen=True)
class _Place:
    """A tile of the photo, its weave, and its middle, px."""

    tile: np.ndarray
    weave: Weave
    at: tuple[float, float]


def _agreeing(light: np.ndarray, covered: bool) -> list[_Place]:
    """Tiles whose weaves are alike; none where too few are. `covered`: a strip lies over some of them."""
    for side in _TILES:
        places = []
        starts = _starts(light, side)
        for x, y in starts:
            tile = light[y : y + side, x : x + side]
            if (weave := weave_of(tile)) is not None:
                places.append(_Place(tile, weave, (x + side / 2, y + side / 2)))
        if len(places) < _LEAST_TILES or (2 * len(places) < len(starts) and not covered):
            continue
        usual = float(np.median([_fineness(p.weave) for p in places]))
        alike = [p for p in places if abs(_fineness(p.weave) / usual - 1) <= _AGREE]
        if len(alike) >= max(_LEAST_TILES, 0.6 * len(places)):
            return [replace(p, weave=_turned_alike(p.weave, alike[0].weave)) for p in alike]
    return []


def _starts(light: np.ndarray, side: int) -> list[tuple[int, int]]:
    """Left and top of up to twenty tiles, spread over the photo."""
    high, wide = light.shape
    if min(high, wide) < side:
        return []
    across, down = (max(2, min(5, round(1.4 * n / side))) for n in (wide, high))
    return [
        (round(x), round(y)) for y in np.linspace(0, high - side, down) for x in np.linspace(0, wide - side, across)
    ]


def _fineness(weave: Weave) -> float:
    return math.sqrt(abs(float(np.linalg.det(weave.vectors))))


def _turned_alike(weave: Weave, like: Weave) -> Weave:
    """The weave with its systems in the order and the direction of another's."""
    first = np.abs(weave.vectors @ like.vectors[0])
    vectors = weave.vectors if first[0] >= first[1] else weave.vectors[::-1]
    signs = np.sign((vectors * like.vectors).sum(1))
    return replace(weave, vectors=vectors * signs[:, None])


def _too_coarse(places: Sequence[_Place]) -> str:
    """Why the threads are not resolved; "" where they are."""
    pitch_px = 1 / float(np.median([np.hypot(*v) for p in places for v in p.weave.vectors]))
    if pitch_px < _LEAST_PITCH_PX:
        coarse = f"{pitch_px:.1f} pixels from thread to thread"
        return f"Too coarse a photo: {coarse}. Go nearer, or use a loupe before the lens."
    if max(p.weave.contrast for p in places) < _LEAST_CONTRAST:
        return "Too coarse a photo: threads and openings run into one another. Go nearer, and focus on the threads."
    return ""


def _vectors_at(places: Sequence[_Place], at: tuple[float, float]) -> tuple[np.ndarray, float]:
    """(2, 2) frequencies at a place of the photo, and their relative standard error.

    A tilted camera sees threads finer with their distance: a plane through the tiles tells them where the scale holds.
    """
    off = np.array([p.at for p in places]) - at
    planes = len(places) >= _LEAST_FOR_PLANE and all(np.ptp(off, axis=0) > 0)
    terms = np.column_stack([np.ones(len(off)), off]) if planes else np.ones((len(off), 1))
    values = np.array([p.weave.vectors.ravel() for p in places])
    fit, *_ = np.linalg.lstsq(terms, values, rcond=None)
    away = np.linalg.norm(values - terms @ fit, axis=1)
    spread = float(np.median(away)) / float(np.linalg.norm(fit[0]))
    return fit[0].reshape(2, 2), spread / math.sqrt(len(places) - terms.shape[1] + 1)


def _counts(vectors: np.ndarray, px_per_mm: np.ndarray) -> tuple[float, float]:
    """Threads per cm of both systems."""
    first, second = (10 * float(np.hypot(*(px_per_mm.T @ v))) for v in vectors)
    return first, second


def _interval(counts: tuple[float, float], spread: float, scale_off: float) -> tuple[float, float, float]:
    """Low, middle and high of the count, 90 %."""
    unlike = _UNLIKE * abs(math.log(counts[0] / counts[1]))
    off = Z_90 * math.sqrt(scale_off**2 + spread**2 + unlike**2)
    middle = math.sqrt(counts[0] * counts[1])
    return middle * math.exp(-off), middle, middle * math.exp(off)


def _angle(places: Sequence[_Place]) -> float:
    """Of the threads to the photo's side, degrees, 0 to 90: the mean of fourfold angles."""
    fourfold = [np.exp(4j * math.atan2(v[1], v[0])) for p in places for v in p.weave.vectors]
    return math.degrees(float(np.angle(np.mean(fourfold)))) / 4 % 90


def _opening(places: Sequence[_Place], count_per_cm: float) -> tuple[float | None, float | None]:
    """Opening and thread, µm; None where edges run too far, or light has burnt out."""
    clearest = max(p.weave.contrast for p in places)
    places = [p for p in places if p.weave.contrast > clearest / 2]
    if float(np.mean([(p.tile > _BURNT_OUT).mean() for p in places])) > _MOST_BURNT:
        return None, None
    both = slits([p.tile for p in places], [p.weave for p in places])
    pitches = [1 / float(np.median([np.hypot(*p.weave.vectors[k]) for p in places])) for k in (0, 1)]
    if not all(s.resolved for s in both):
        return None, None
    if min(min(s.opening, 1 - s.opening) * p for s, p in zip(both, pitches, strict=True)) < _LEAST_SLIT_PX:
        return None, None
    share = math.sqrt(both[0].opening * both[1].opening)
    return share * pitch_um(count_per_cm), (1 - share) * pitch_um(count_per_cm)
