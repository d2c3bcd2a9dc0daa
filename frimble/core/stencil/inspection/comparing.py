"""What differs between a stencil and its film: holes, lost stencil, closed openings, scum."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import cv2
import numpy as np

from frimble.core.stencil.inspection.kinds import FindingKind
from frimble.core.stencil.inspection.levelling import Levelled

# Edges may lie off by this without being a fault: light spreads a little in every stencil. mm.
_EDGE_MM = 0.16
# A place is open where so much of it is, and holds a hairline where this much of it is otherwise than all around.
OPEN, _HAIR = 0.5, 0.05
# So much of open mesh's light too much or too little is a difference, but for what the photo is noisy.
_DIFFERS, _NOISES, _SHUT = 0.22, 4.0, 0.5
# A pinhole is smaller than this, mm; what lies nearer to an opening than this belongs to its edge, mm.
_LARGEST_PINHOLE_MM, _OF_AN_EDGE_MM = 3.0, 0.3
# So near the film's rim nothing is judged; so near an opening its threads' pattern counts.
_RIM_MM, _BESIDE_MM = 0.6, 0.4
# Stencil that is gone at an edge is gone so deep, or it is the edge that lies off, mm.
_DEEP_MM = 0.3
# Between fine openings the stencil is gone where light reaches so much of its depth, at so many places near each other; its
# depth is looked for so far round, mm.
_THROUGH, _LEAST_PIECES, _CELL_MM = 0.85, 2, 0.4
# Pieces of one fault that lie so near are one, mm.
_ONE_MM = 1.6
# A film of scum lets at least so much through.
_LEAST_SCUM = 0.28
# Scum is looked for over this, and is at least so large.
_SCUM_SMOOTH_MM, _LEAST_SCUM_MM2 = 0.35, 1.0
# Light closes openings by so much on each side, mm.
_NARROWED_MM = 0.06
_SPREADS_MM = (0.05, 0.07, 0.09, 0.12, 0.15, 0.19, 0.24, 0.3, 0.37, 0.45)


@dataclass(frozen=True)
class Difference:
    """A place where the stencil is not what the film asks for: box in mm from the film's top left.

    Attributes:
        value: by its kind: size in mm, area in mm², share of the opening that is closed, light that passes.
    """

    kind: FindingKind
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    value: float


@dataclass(frozen=True)
class Limits:
    """Detail under `want_mm` is not judged; a hole under `pinhole_mm` across is none."""

    want_mm: float = 0.3
    pinhole_mm: float = 0.3


def sharpness_mm(share: np.ndarray, film_open: np.ndarray, px_mm: float) -> float:
    """How far edges run in the photo: sigma of the blur that makes the film look most like it, mm."""
    film = film_open.astype(np.float32)
    near = cv2.dilate(film, disc(0.5 * px_mm)) - cv2.erode(film, disc(0.5 * px_mm)) > 0.5
    at = near & np.isfinite(share)
    if int(at.sum()) < 500:
        return float("nan")
    seen, best, least = share[at], _SPREADS_MM[0], math.inf
    for spread in _SPREADS_MM:
        off = float(np.median(np.abs(cv2.GaussianBlur(film, (0, 0), spread * px_mm)[at] - seen)))
        # It falls up to the photo's own blur, and rises from there on.
        if off > least:
            break
        best, least = spread, off
    return best


def differences(
    level: Levelled, open_share: np.ndarray, px_mm: float, spread_mm: float, limits: Limits
) -> list[Difference]:
    """Everything that is a fault by its size, in reading order.

    Args:
        open_share: (h, w) of each place, how much of it is open on the film, 0..1; as large as the level's share.
        spread_mm: of the photo's edges.
    """
    film_open = open_share > OPEN
    judged = _judged(open_share, px_mm, limits) & np.isfinite(level.share)
    expected = cv2.GaussianBlur(film_open.astype(np.float32), (0, 0), spread_mm * px_mm)
    seen = np.clip(np.where(np.isfinite(level.share), level.share, expected), 0, 1).astype(np.float32)
    off = disc(_EDGE_MM * px_mm)
    view = _View(film_open, seen, expected, px_mm, spread_mm, limits)
    # Beside an opening its threads' pattern counts as well.
    beside = cv2.dilate(expected, disc(_BESIDE_MM * px_mm)) * level.open_noise
    light_bar = np.maximum(max(_DIFFERS, _NOISES * level.closed_noise), _NOISES * beside)
    light = np.where(judged, seen - cv2.dilate(expected, off), 0) > light_bar
    dark = np.where(judged, cv2.erode(expected, off) - seen, 0) > max(_SHUT, _NOISES * level.open_noise)
    found = [*_light_places(light, view), *_blocked_places(dark, view), *_scum_places(dark, judged, view)]
    return sorted(found, key=lambda d: (round(d.y_mm / 10), d.x_mm))


@dataclass(frozen=True)
class _View:
    """What is compared: the film, what is seen and what was to be expected, (h, w) each."""

    film: np.ndarray
    seen: np.ndarray
    expected: np.ndarray
    px_mm: float
    spread_mm: float
    limits: Limits


def disc(radius_px: float) -> np.ndarray:
    """A disc as a structuring element."""
    size = 2 * max(1, round(radius_px)) + 1
    return np.asarray(cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)))


def _judged(open_share: np.ndarray, px_mm: float, limits: Limits) -> np.ndarray:
    """Where the stencil is judged: not at detail finer than is wanted."""
    film = (open_share > OPEN).astype(np.uint8)
    wanted = disc(0.45 * limits.want_mm * px_mm)
    fine = (cv2.morphologyEx(film, cv2.MORPH_OPEN, wanted) != film) | (
        cv2.morphologyEx(film, cv2.MORPH_CLOSE, wanted) != film
    )
    # Corners are rounded by the disc: what is left of them is no detail.
    fine = cv2.morphologyEx(fine.astype(np.uint8), cv2.MORPH_OPEN, disc(0.06 * px_mm))
    # A hairline may lie between two rows of places, and be neither open nor closed in any.
    around = np.ones((3, 3), np.uint8)
    hair = (open_share > _HAIR) & (cv2.dilate(film, around) == 0)
    hair |= (open_share < 1 - _HAIR) & (cv2.erode(film, around) == 1)
    judged = cv2.dilate(fine | hair.astype(np.uint8), disc(0.2 * px_mm)) == 0
    # Where the film is cut off the stencil goes on as it likes.
    rim = round(_RIM_MM * px_mm)
    judged[:rim], judged[-rim:], judged[:, :rim], judged[:, -rim:] = False, False, False, False
    return np.asarray(judged)


def _light_places(light: np.ndarray, view: _View) -> Iterator[Difference]:
    """Light where the stencil should stand."""
    px_mm, limits = view.px_mm, view.limits
    number, labels, boxes, _ = cv2.connectedComponentsWithStats(light.astype(np.uint8), connectivity=8)
    away = cv2.distanceTransform((~view.film).astype(np.uint8), cv2.DIST_L2, 3) / px_mm
    shallow = np.zeros(light.shape, np.uint8)
    for k in range(1, number):
        x, y, w, h, _ = boxes[k]
        window = _window(x, y, w, h, 0.5 * px_mm, view.film.shape)
        core = labels[window] == k
        area = _excess_mm2(core, window, view)
        across = 2 * math.sqrt(area / math.pi)
        alone = float(away[window][core].min()) > _OF_AN_EDGE_MM
        box = x / px_mm, y / px_mm, w / px_mm, h / px_mm
        if alone and across < _LARGEST_PINHOLE_MM:
            if across >= 0.92 * limits.pinhole_mm:
                yield Difference(FindingKind.PINHOLE, *box, across)
        elif float(away[window][core].max()) < _DEEP_MM:
            shallow[window][core] = 1
        elif across >= 1.2 * limits.want_mm:
            yield Difference(FindingKind.BREAKDOWN, *box, area)
    yield from _lost_detail(shallow, away, view)


def _lost_detail(shallow: np.ndarray, away: np.ndarray, view: _View) -> Iterator[Difference]:
    """Stencil between fine openings that is gone through and through, not only at its edges: pieces near by are one."""
    deepest = cv2.dilate(away.astype(np.float32), disc(_CELL_MM * view.px_mm))
    through = (shallow > 0) & (away >= _THROUGH * deepest)
    for window, core in _groups(shallow > 0, view):
        pieces = cv2.connectedComponents((through[window] & core).astype(np.uint8), connectivity=8)[0] - 1
        area = _excess_mm2(core, window, view)
        if pieces >= _LEAST_PIECES and 2 * math.sqrt(area / math.pi) >= 1.2 * view.limits.want_mm:
            yield Difference(FindingKind.BREAKDOWN, *_box(core, window, view.px_mm), area)


def _excess_mm2(core: np.ndarray, window: tuple[slice, slice], view: _View) -> float:
    """Light too much in and round a place, as an area of open mesh: blur spreads a hole's light but keeps its sum."""
    mine = cv2.dilate(core.astype(np.uint8), disc(0.4 * view.px_mm)) > 0
    excess = np.clip(view.seen[window] - view.expected[window], 0, 1)
    return float(np.where(mine, excess, 0).sum()) / view.px_mm**2


def _groups(places: np.ndarray, view: _View) -> Iterator[tuple[tuple[slice, slice], np.ndarray]]:
    """(window, what is set in it) of each place; pieces that thin stencil parts are one."""
    set_ = places.astype(np.uint8)
    near = cv2.dilate(set_, disc(_ONE_MM / 2 * view.px_mm))
    number, labels, boxes, _ = cv2.connectedComponentsWithStats(near, connectivity=8)
    for k in range(1, number):
        x, y, w, h, _ = boxes[k]
        window = slice(y, y + h), slice(x, x + w)
        yield window, (labels[window] == k) & (set_[window] > 0)


def _blocked_places(dark: np.ndarray, view: _View) -> Iterator[Difference]:
    """No light where an opening should be."""
    _, openings = cv2.connectedComponents(view.film.astype(np.uint8), connectivity=8)
    sizes = np.bincount(openings.ravel())
    for window, core in _groups(dark, view):
        mine = cv2.dilate(core.astype(np.uint8), disc(0.4 * view.px_mm)) > 0
        lacking = np.clip(view.expected[window] - view.seen[window], 0, 1)
        closed = float(np.where(mine, lacking, 0).sum()) / view.px_mm**2
        if (
            2 * math.sqrt(closed / math.pi) < 1.2 * view.limits.want_mm
            or np.median(view.seen[window][core]) > _LEAST_SCUM
        ):
            continue
        touched = openings[window][mine]
        whole = float(sizes[np.unique(touched[touched > 0])].sum()) / view.px_mm**2
        share = min(1.0, closed / whole) if whole else 1.0
        yield Difference(FindingKind.BLOCKED, *_box(core, window, view.px_mm), share)


def _scum_places(dark: np.ndarray, judged: np.ndarray, view: _View) -> Iterator[Difference]:
    """Less light than through the same mesh elsewhere, over more than a speck: looked for with the threads smoothed away."""
    inner = (cv2.erode(view.film.astype(np.uint8), disc(_EDGE_MM * view.px_mm)) > 0) & judged
    shut = cv2.dilate((dark & (view.seen < _LEAST_SCUM)).astype(np.uint8), disc(0.5 * view.px_mm)) > 0
    weight = (inner & ~shut).astype(np.float32)
    sigma = _SCUM_SMOOTH_MM * view.px_mm
    # Fine openings pass less in any photo: each is held against what its edges, blurred and a little closed, would leave.
    closed = cv2.erode(view.film.astype(np.float32), disc(_NARROWED_MM * view.px_mm))
    usual = np.minimum(view.expected, cv2.GaussianBlur(closed, (0, 0), view.spread_mm * view.px_mm)) * weight
    light, known, there = (cv2.GaussianBlur(a, (0, 0), sigma) for a in (view.seen * weight, usual, weight))
    calm = np.where((there > 0.25) & (weight > 0), light / np.maximum(known, 1e-6), 1.0)
    off = np.abs(calm[weight > 0] - 1)
    if not off.size:
        return
    noise = max(1.4826 * float(np.median(off)), float(np.percentile(off, 94)) / 2)
    for window, core in _groups(calm < 1 - max(_DIFFERS, _NOISES * noise), view):
        if float(core.sum()) / view.px_mm**2 >= _LEAST_SCUM_MM2:
            passes = float(np.median(calm[window][core]))
            yield Difference(FindingKind.SCUM, *_box(core, window, view.px_mm), passes)


def _box(core: np.ndarray, window: tuple[slice, slice], px_mm: float) -> tuple[float, float, float, float]:
    """Left, top, width and height, mm, of what is set in a window."""
    rows, columns = np.nonzero(core)
    left, top = window[1].start + int(columns.min()), window[0].start + int(rows.min())
    wide, high = int(columns.max() - columns.min()) + 1, int(rows.max() - rows.min()) + 1
    return left / px_mm, top / px_mm, wide / px_mm, high / px_mm


def _window(x: int, y: int, w: int, h: int, margin_px: float, shape: tuple[int, ...]) -> tuple[slice, slice]:
    margin = round(margin_px)
    return (
        slice(max(0, y - margin), min(shape[0], y + h + margin)),
        slice(max(0, x - margin), min(shape[1], x + w + margin)),
    )
