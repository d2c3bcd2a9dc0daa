"""Bright marks in the black: which are pinholes, which scratches, and which were meant."""

from collections.abc import Sequence

import cv2
import numpy as np

from frimble.core.film.detection.celltest import CellTest
from frimble.core.film.detection.marks import DarkMarks, SmallMarks, dark_about, diameter_mm, passed_light
from frimble.core.film.findings import Finding, Limits, pixel_box
from frimble.core.film.scan.grid import MARK_MM, Levels, Scan

# A hole within this share of a limit is taken as at it: the measure itself is a few per cent off.
NEAR_LIMIT = 0.88
_LARGEST_PINHOLE_MM = 0.9
_LEAST_FRAGMENT_MM = 0.5
_LEAST_SCRATCH_MM = 1.6
_LONG_SCRATCH_MM = 6.0
_LONG_FOR_WIDTH = 5
_WIDEST_SCRATCH_MM = 0.5
_GAP_MM = 2.5
# A spot so far past its end may be another fault.
_BEYOND_MM = 0.6
# Pieces of one scratch from two tiles overlap by twice a mark, more on the slant.
_OVERLAP_MM = 3.4
_LARGEST_LETTER_MM = 25.0
_SAME_PX = 1.5
# Feet and heads of letters on one line differ by less than this share of a stem.
_OFF_LEVEL = 0.2
# Dots and stops lie within this share of a letter's longer side about it.
_NEAR_LETTER = 0.7
# Those of a larger letter are no pinholes by their size.
_LARGEST_DOTTED_MM = 8.0


def holes_and_scratches(
    scan: Scan,
    levels: Levels,
    limits: Limits,
    bright: SmallMarks,
    meant: np.ndarray,
    dark: DarkMarks,
    left_out: CellTest,
) -> list[Finding]:
    """Findings among bright marks.

    Args:
        bright: every bright mark; `meant` (n,) True where it belongs to a pattern. dark: dark marks with labels.
        left_out: test of centres (n, 2) in pixels for places not to look at, such as the wedge.
    """
    free = ~meant & ~left_out(bright.centres)
    strokes = free & _elongated(bright, scan)
    strokes[strokes] = ~_in_letters(bright, np.flatnonzero(strokes), dark, scan)
    scratches, used = _scratches(scan, levels, limits, bright, np.flatnonzero(strokes), np.flatnonzero(free))
    spots = np.flatnonzero(free & ~used & (bright.longest * scan.pixel_mm <= MARK_MM))
    spots = spots[~_in_letters(bright, spots, dark, scan)]
    spots = spots[~_punctuation(bright, spots, used, scan)]
    pinholes = [f for k in spots if (f := _pinhole(scan, levels, limits, bright.boxes[k]))]
    return pinholes + scratches


def _elongated(marks: SmallMarks, scan: Scan) -> np.ndarray:
    """Marks long for their area: three times as long as wide or more."""
    length = np.hypot(marks.boxes[:, 2], marks.boxes[:, 3])
    return np.asarray((length * scan.pixel_mm >= _LEAST_FRAGMENT_MM) & (marks.areas < 0.3 * length**2))


def _in_letters(bright: SmallMarks, spots: np.ndarray, dark: DarkMarks, scan: Scan) -> np.ndarray:
    """Holes that are large for the dark shape they lie in: the counters of letters and figures."""
    flags = np.zeros(len(spots), bool)
    if not len(spots):
        return flags
    boxes, size = bright.boxes[spots], np.sqrt(bright.areas[spots])
    x0, y0 = boxes[:, 0], boxes[:, 1]
    x1, y1 = x0 + boxes[:, 2], y0 + boxes[:, 3]
    middle_x, middle_y = bright.centres[spots].round().astype(int).T
    for column, row in ((x0 - 2, middle_y), (x1 + 1, middle_y), (middle_x, y0 - 2), (middle_x, y1 + 1)):
        within = dark.shape_at(column, row)
        left, top, width, height = dark.boxes[np.maximum(within, 0)].T
        encloses = (left < x0) & (left + width > x1) & (top < y0) & (top + height > y1)
        longest = np.maximum(width, height)
        around = np.where(longest * scan.pixel_mm < _LARGEST_LETTER_MM, np.sqrt(width * height.astype(float)), longest)
        flags |= (within >= 0) & encloses & (size > 0.1 * around)
    return flags


def _punctuation(bright: SmallMarks, spots: np.ndarray, scratched: np.ndarray, scan: Scan) -> np.ndarray:
    """Spots beside reversed letters and as thick as their strokes: dots on i and j, full stops. A scratch is no letter."""
    filled = bright.areas > 0.12 * bright.boxes[:, 2:].prod(axis=1)
    size = bright.longest * scan.pixel_mm
    letters = np.flatnonzero((size > 0.8) & (size < _LARGEST_DOTTED_MM) & filled & ~scratched)
    if not len(spots) or not len(letters):
        return np.zeros(len(spots), bool)
    corner, box = bright.boxes[letters, :2], bright.boxes[letters, 2:]
    stroke = bright.areas[letters] / box.sum(axis=1)
    # Whichever way the words run.
    reach = _NEAR_LETTER * box.max(axis=1, keepdims=True)
    places = bright.centres[spots][:, None]
    beside = ((places > corner - reach) & (places < corner + box + reach)).all(axis=2)
    size = np.sqrt(bright.areas[spots])[:, None]
    return np.asarray((beside & (size > 0.5 * stroke) & (size < 2.5 * stroke)).any(axis=1))


def _pinhole(scan: Scan, levels: Levels, limits: Limits, box: np.ndarray) -> Finding | None:
    """A pinhole when black surrounds it on most sides and it is wide enough to count."""
    if dark_about(scan, levels, box, 0.08, 0.14) < 0.85 or dark_about(scan, levels, box, 0.1, 0.3) < 0.66:
        return None
    diameter = diameter_mm(passed_light(scan, levels, box, black_is_ground=True))
    if not NEAR_LIMIT * limits.pinhole_mm <= diameter <= _LARGEST_PINHOLE_MM:
        return None
    # More light than so small an opening can pass comes from a clear part beside it.
    if diameter > 1.5 * max(box[2:]) * scan.pixel_mm + 2 * scan.pixel_mm:
        return None
    wide = max(0.5, diameter)
    if dark_about(scan, levels, box, 0.1, wide) < 0.55:
        return None
    x, y, width, height = (int(v) for v in box)
    return Finding("pinhole", *pixel_box(x, y, x + width, y + height, scan.pixel_mm), diameter)


class _Stroke:
    """A bright fragment as a straight stroke: ends (2, 2) in pixels, width in mm."""

    def __init__(self, points: np.ndarray, members: Sequence[int], width_mm: float):
        self.members = list(members)
        self.width_mm = width_mm
        centre = points.mean(axis=0)
        along = np.linalg.svd(points - centre, full_matrices=False)[2][0]
        reach = (points - centre) @ along
        self.ends = centre + np.outer([reach.min(), reach.max()], along)
        self.along = along
        self.points = points
        off = (points - centre) @ np.array([-along[1], along[0]])
        self.bow = float(off.std())

    @property
    def length(self) -> float:
        return float(np.hypot(*(self.ends[1] - self.ends[0])))


def _scratches(
    scan: Scan, levels: Levels, limits: Limits, bright: SmallMarks, strokes: np.ndarray, free: np.ndarray
) -> tuple[list[Finding], np.ndarray]:
    """(scratch and thin-gap findings, flags of the marks they take up)."""
    used = np.zeros(len(bright.areas), bool)
    pieces = [s for k in strokes if (s := _piece(scan, levels, bright.boxes[k], [k]))]
    pieces = [p for p in pieces if p.width_mm <= _WIDEST_SCRATCH_MM]
    joined = _join(pieces, *(reach / scan.pixel_mm for reach in (_GAP_MM, _OVERLAP_MM, 0.2)))
    findings = []
    letters = _letter_like(bright, scan)
    siblings = _siblings(joined)
    whole = np.arange(len(bright.areas))
    for stroke in joined:
        whole[stroke.members] = stroke.members[0]
    for stroke, alike in zip(joined, siblings, strict=True):
        length = stroke.length * scan.pixel_mm
        stubby = length < max(_LEAST_SCRATCH_MM, _LONG_FOR_WIDTH * stroke.width_mm)
        if stubby or (length < _LONG_SCRATCH_MM and _among_letters(stroke, bright, letters, whole)):
            continue
        straight = stroke.bow * scan.pixel_mm < 0.1 * length
        wide = stroke.width_mm >= (NEAR_LIMIT if alike else 1) * limits.line_mm
        if wide and straight:
            continue  # a reversed line wide enough to hold
        _absorb(stroke, bright, free, scan, used)
        (x0, y0), (x1, y1) = stroke.points.min(axis=0), stroke.points.max(axis=0) + 1
        kind = "thin_line" if alike else "scratch"
        findings.append(Finding(kind, *pixel_box(x0, y0, x1, y1, scan.pixel_mm), stroke.width_mm))
        used[stroke.members] = True
    return findings, used


def _piece(scan: Scan, levels: Levels, box: np.ndarray, members: Sequence[int]) -> _Stroke | None:
    """The fragment in a box, when black lies on both sides of it."""
    x, y, width, height = (int(v) for v in box)
    pad = max(3, round(0.2 / scan.pixel_mm))
    codes, left, top = scan.window_codes(x - pad, y - pad, x + width + pad, y + height + pad)
    # Whole numbers are sorted by their digits, several times faster than they are parted.
    rising = np.sort(codes, axis=None, kind="stable")
    ground, peak = (float(scan.light(rising[k])) for k in (codes.size // 5, -1))
    if ground > 0.3 * levels.clear or _foot_of_a_shape(scan, codes, ground + 0.4 * (peak - ground)):
        return None
    share = (scan.light(codes) - ground) / max(levels.clear - ground, 1e-3)
    rows, columns = np.nonzero(share > max(0.04, 0.25 * float(share.max())))
    if len(rows) < 4 or not _in_black(share, scan):
        return None
    points = np.column_stack([columns + left, rows + top]).astype(float)
    stroke = _Stroke(points, members, 0.0)
    if stroke.length < 3 * np.sqrt(len(points) / max(stroke.length, 1)):
        return None
    stroke.width_mm = float(np.clip(share, 0, None).sum()) / max(stroke.length, 1) * scan.pixel_mm
    return stroke


def _foot_of_a_shape(scan: Scan, codes: np.ndarray, bar: float) -> bool:
    """Whether much of a window's rim lets through more light than `bar`: what is bright in it belongs to a larger shape."""
    rim = np.concatenate([codes[0], codes[-1], codes[:, 0], codes[:, -1]])
    return bool(np.count_nonzero(scan.light(rim) > bar) > 0.25 * len(rim))


def _in_black(share: np.ndarray, scan: Scan) -> bool:
    """Whether what is bright in a window has black all along both sides."""
    peak = float(share.max())
    shape = (share > max(0.04, 0.25 * peak)).astype(np.uint8)
    reach = max(2, round(0.1 / scan.pixel_mm))
    padded = np.pad(shape, reach + 1)
    near = cv2.dilate(padded, np.ones((2 * reach - 1, 2 * reach - 1), np.uint8))
    far = cv2.dilate(padded, np.ones((2 * reach + 1, 2 * reach + 1), np.uint8))
    inside = (far > near)[reach + 1 : -reach - 1, reach + 1 : -reach - 1]
    return bool(inside.sum() > 0 and (share[inside] < 0.5 * peak).mean() > 0.9)


def _join(pieces: list[_Stroke], gap: float, overlap: float, off: float) -> list[_Stroke]:
    """Fragments that follow each other on one line, as one stroke."""
    pieces = sorted(pieces, key=lambda p: -p.length)
    joined: list[_Stroke] = []
    while pieces:
        stroke = pieces.pop(0)
        grew = True
        while grew:
            grew = False
            for other in pieces:
                if _follows(stroke, other, gap, overlap, off):
                    total = stroke.length + other.length
                    width = (stroke.width_mm * stroke.length + other.width_mm * other.length) / total
                    stroke = _Stroke(np.vstack([stroke.points, other.points]), stroke.members + other.members, width)
                    pieces.remove(other)
                    grew = True
                    break
        joined.append(stroke)
    return joined


def _follows(stroke: _Stroke, other: _Stroke, gap: float, overlap: float, off: float) -> bool:
    distance = np.hypot(*(stroke.ends[:, None] - other.ends[None]).transpose(2, 0, 1))
    apart = distance.min()
    nearest = other.ends[np.unravel_index(distance.argmin(), distance.shape)[1]]
    along = (nearest - stroke.ends[0]) @ stroke.along
    if apart > (overlap if 0 < along < stroke.length else gap):
        return False
    first, last = np.sort((other.ends - stroke.ends[0]) @ stroke.along)
    beyond = other.length - max(0.0, min(last, stroke.length) - max(first, 0.0))
    if beyond < 0.5 * other.length:
        # The same scratch again, from another tile; what lies beside it, as a letter's next stem does, goes nowhere.
        return bool(np.hypot(*(stroke.points[:, None] - other.ends).transpose(2, 0, 1)).min() < _SAME_PX)
    side = np.array([-stroke.along[1], stroke.along[0]])
    away = np.abs((other.ends - stroke.points.mean(axis=0)) @ side)
    # What goes on may turn a little.
    slack = off + 3 * stroke.bow + 0.12 * (apart + beyond)
    return bool((away < slack).all())


def _siblings(strokes: list[_Stroke]) -> list[bool]:
    """Whether a stroke has two parallels of its length and width beside it: lines that were drawn."""
    flags = []
    for s in strokes:
        alike = sum(
            1
            for o in strokes
            if o is not s
            and abs(float(o.along @ s.along)) > 0.9995
            and abs(o.length - s.length) < 0.05 * s.length
            and abs(o.width_mm - s.width_mm) < 0.35 * max(o.width_mm, s.width_mm)
        )
        flags.append(alike >= 2)
    return flags


def _letter_like(bright: SmallMarks, scan: Scan) -> np.ndarray:
    size = bright.longest * scan.pixel_mm
    return np.flatnonzero((size > 0.5) & (size < 8))


def _among_letters(stroke: _Stroke, bright: SmallMarks, letters: np.ndarray, whole: np.ndarray) -> bool:
    """Whether two bright marks or more of like height stand on one line beside the stroke: it is a letter's stem.

    Args:
        letters: numbers of the marks that may be letters. whole: for each mark the first of those joined with it.
    """
    centre = stroke.points.mean(axis=0)
    boxes = bright.boxes[letters]
    middle, half = boxes[:, :2] + boxes[:, 2:] / 2, boxes[:, 2:] / 2
    size = np.hypot(boxes[:, 2], boxes[:, 3])
    near = np.hypot(*(middle - centre).T) < 2.0 * stroke.length
    alike = (size > 0.3 * stroke.length) & (size < 2.5 * stroke.length)
    own = np.isin(letters, stroke.members)
    side = np.array([-stroke.along[1], stroke.along[0]])
    beside = np.abs((middle - centre) @ side) > 0.2 * stroke.length
    # Letters share their foot or their head; the pieces of another scratch lie anywhere.
    upright = np.eye(2)[np.abs(stroke.along).argmax()]
    level = _in_line(stroke, middle, half, stroke.along) | _in_line(stroke, middle, half, upright)  # or slanted
    return len(np.unique(whole[letters[near & alike & beside & level & ~own]])) >= 2


def _in_line(stroke: _Stroke, middle: np.ndarray, half: np.ndarray, way: np.ndarray) -> np.ndarray:
    """Boxes (n,) whose lower or upper end, going that way, is level with the stroke's."""
    first, last = np.sort(stroke.ends @ way)
    place, reach = middle @ way, half @ np.abs(way)
    off = np.minimum(np.abs(place - reach - first), np.abs(place + reach - last))
    return np.asarray(off < _OFF_LEVEL * stroke.length)


def _absorb(stroke: _Stroke, bright: SmallMarks, free: np.ndarray, scan: Scan, used: np.ndarray) -> None:
    """Spots along a broken scratch, straight or bowed, belong to it."""
    side = np.array([-stroke.along[1], stroke.along[0]])

    def placed(points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        way = points - stroke.ends[0]
        return way @ stroke.along, way @ side

    own_along, own_aside = placed(stroke.points)
    step = np.rint(own_along - own_along.min()).astype(int)
    number = np.bincount(step)
    middle = np.bincount(step, own_aside)[number > 0] / number[number > 0]
    steps = np.flatnonzero(number) + own_along.min()
    spread = float((own_aside - np.interp(own_along, steps, middle)).std())
    along, aside = placed(bright.centres[free])
    off = np.abs(aside - np.interp(along, steps, middle))
    reach = _BEYOND_MM / scan.pixel_mm
    on = (off < 0.12 / scan.pixel_mm + 2 * spread) & (along > -reach) & (along < stroke.length + reach)
    used[free[on]] = True
