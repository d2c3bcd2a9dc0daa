"""Lettering whose strokes are too thin to hold, or that is set too small."""

import cv2
import numpy as np

from frimble.core.film.detection.celltest import CellTest
from frimble.core.film.detection.marks import DarkMarks
from frimble.core.film.findings import NEAR_LIMIT, Finding, Limits, pixel_box
from frimble.core.film.scan.grid import Scan
from frimble.core.units import MM_PER_POINT

_FEWEST_LETTERS = 3
_FEWEST_FOR_SIZE = 4
_SAMPLED_LETTERS = 12
# So many letters of one area, as a share of it, spell no word.
_FEWEST_ALIKE, _ALIKE = 5, 0.1
# Heights over the type size. From memory: capitals and ascenders 0.7 to 0.8 em, small letters 0.48 to 0.58 em; where only
# one height is met it may be either.
_TALL_EM = 0.75
_ONE_HEIGHT_EM = 0.6
# Heights that far apart in one word are capitals or ascenders beside small letters.
_TWO_HEIGHTS = 0.85
_TOLD_PT = 0.95
_BESIDE = np.ones((3, 3), np.uint8)


def small_type(scan: Scan, limits: Limits, dark: DarkMarks, meant: np.ndarray, left_out: CellTest) -> list[Finding]:
    """Words whose strokes are thinner than the limit, or that are set below the trade's floor: one finding for each."""
    size = dark.boxes[:, 2:] * scan.pixel_mm
    letter = dark.larger & (size[:, 1] > 0.6) & (size[:, 1] < 8) & (size[:, 0] < 10) & ~meant & ~left_out(dark.centres)
    picked = np.flatnonzero(letter)
    if len(picked) < _FEWEST_LETTERS:
        return []
    words = (picked[members] for members in _words(dark.boxes[picked]) if len(members) >= _FEWEST_LETTERS)
    return [f for word in words if (f := _judged(scan, limits, dark, word))]


def _judged(scan: Scan, limits: Limits, dark: DarkMarks, word: np.ndarray) -> Finding | None:
    boxes, areas = dark.boxes[word], dark.areas[word]
    if len(word) >= _FEWEST_ALIKE and areas.std() < _ALIKE * areas.mean():
        return None  # a row of one shape
    (x0, y0), (x1, y1) = boxes[:, :2].min(axis=0), (boxes[:, :2] + boxes[:, 2:]).max(axis=0)
    box = pixel_box(x0, y0, x1, y1, scan.pixel_mm)
    stroke = float(np.median([_stroke_mm(scan, dark, k) for k in word[:_SAMPLED_LETTERS]]))
    if stroke < NEAR_LIMIT * limits.line_mm:
        return Finding("type", *box, stroke)
    size = _size_pt(boxes[:, 3] * scan.pixel_mm)
    small = size < _TOLD_PT * limits.sans_pt and len(word) >= _FEWEST_FOR_SIZE
    return Finding("type_size", *box, size) if small else None


def _size_pt(heights_mm: np.ndarray) -> float:
    """Type size, points, of a word by its letters' heights, to a fifth."""
    tall, short = np.quantile(heights_mm, 0.9), np.quantile(heights_mm, 0.2)
    em = _TALL_EM if short < _TWO_HEIGHTS * tall else _ONE_HEIGHT_EM
    return float(tall / em / MM_PER_POINT)


def _words(boxes: np.ndarray) -> list[np.ndarray]:
    """Letters grouped with the next on their line."""
    order = np.argsort(boxes[:, 0]).tolist()
    plain = boxes.tolist()  # numpy's numbers are slow one by one
    words: list[list[int]] = []
    for k in order:
        x, y, _, height = plain[k]
        for word in reversed(words[-60:]):
            px, py, pw, ph = plain[word[-1]]
            tall = max(height, ph)
            level = min(y + height, py + ph) - max(y, py) > 0.4 * min(height, ph)
            if level and -0.5 * tall < x - (px + pw) < 1.2 * tall and min(height, ph) > 0.45 * tall:
                word.append(k)
                break
        else:
            words.append([k])
    return [np.array(w) for w in words]


def _stroke_mm(scan: Scan, dark: DarkMarks, k: int) -> float:
    """Width of a letter's strokes: the median of twice the inner distance along its middle, mm."""
    inner = cv2.distanceTransform(dark.outline(k, rim=1), cv2.DIST_L2, 5)
    ridge = inner[(inner >= cv2.dilate(inner, _BESIDE)) & (inner > 0)]
    return float(np.median(2 * ridge - 1)) * scan.pixel_mm * dark.shrink if ridge.size else 0.0
