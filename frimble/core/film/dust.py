"""Dark marks on clear film: which are dust, which lines are too thin, which type is too small."""

import cv2
import numpy as np
from scipy.spatial import cKDTree

from frimble.core.film.findings import Finding, Limits, pixel_box
from frimble.core.film.holes import NEAR_LIMIT
from frimble.core.film.marks import MARK_MM, DarkMarks, Marks, diameter_mm, passed_light
from frimble.core.film.scan import Levels, Scan, grey_code

_ALONE_MM = 1.5
_LEAST_LINE_MM = 3.0
# Holes inside one thin shape beyond which it is a screen or a grain and not a drawing.
_MOST_MESHES = 6
_LONG_FOR_WIDTH = 8
_SAMPLED_LETTERS = 12


def specks(scan: Scan, levels: Levels, limits: Limits, dark: Marks, meant: np.ndarray, left_out) -> list[Finding]:
    """Lone small dark marks that no letter, row or pattern explains."""
    small = dark.longest * scan.pixel_mm <= MARK_MM
    lone = np.flatnonzero(small & ~meant & ~left_out(dark.centres))
    lone = lone[~_accompanied(dark, lone, scan)]
    lone = lone[~_punctuation(dark, lone, scan)]
    found = []
    for k in lone:
        x, y, width, height = (int(v) for v in dark.boxes[k])
        if not _clear_about(scan, levels, dark.boxes[k]):
            continue
        diameter = diameter_mm(passed_light(scan, levels, dark.boxes[k], black_is_ground=False))
        believable = diameter <= 2 * np.sqrt(dark.areas[k]) * scan.pixel_mm
        if believable and diameter >= NEAR_LIMIT * limits.pinhole_mm:
            found.append(Finding("speck", *pixel_box(x, y, x + width, y + height, scan.pixel_mm), diameter))
    return found


def _accompanied(dark: Marks, lone: np.ndarray, scan: Scan) -> np.ndarray:
    """Marks with two others or more close by: small lettering, dotted lines, texture."""
    if not len(lone):
        return np.zeros(0, bool)
    tree = cKDTree(dark.centres)
    near = tree.query_ball_point(dark.centres[lone], _ALONE_MM / scan.pixel_mm, return_length=True)
    return near > 2


def _punctuation(dark: Marks, lone: np.ndarray, scan: Scan) -> np.ndarray:
    """Marks beside a letter and about as thick as its strokes."""
    size = dark.longest * scan.pixel_mm
    fill = dark.areas / dark.boxes[:, 2:].prod(axis=1)
    tall = dark.boxes[:, 3] * scan.pixel_mm
    slim = dark.boxes[:, 2:].min(axis=1) < 0.16 * dark.boxes[:, 2:].max(axis=1)
    letters = np.flatnonzero((size > 0.7) & (size < 20) & (tall > 0.5) & (tall < 9) & (fill < 0.98) & ~slim)
    if not len(lone) or not len(letters):
        return np.zeros(len(lone), bool)
    lx, ly, lw, lh = dark.boxes[letters].T
    stroke = dark.areas[letters] / (lw + lh)
    flags = np.zeros(len(lone), bool)
    for n, k in enumerate(lone):
        x, y = dark.centres[k]
        wide = np.sqrt(dark.areas[k])
        beside = (x > lx - 2 * lh) & (x < lx + lw + 2 * lh) & (y > ly - 0.8 * lh) & (y < ly + 1.35 * lh)
        flags[n] = bool((beside & (wide > 0.45 * stroke) & (wide < 2.5 * stroke)).any())
    return flags


def _clear_about(scan, levels, box) -> bool:
    x, y, width, height = (int(v) for v in box)
    reach = max(4, round(0.2 / scan.pixel_mm))
    window, _, _ = scan.window(x - reach, y - reach, x + width + reach, y + height + reach)
    rim = np.concatenate([window[0], window[-1], window[:, 0], window[:, -1]])
    if float((rim > 0.6 * levels.clear).mean()) < 0.9:
        return False
    # Inside a reversed letter it is clear close by and black again beyond the stroke.
    wide = max(round(1.2 / scan.pixel_mm), 2 * max(width, height))
    window, _, _ = scan.window(x - wide, y - wide, x + width + wide, y + height + wide)
    return float((window > 0.6 * levels.clear).mean()) > 0.75


def thin_lines(
    grey: np.ndarray, scan: Scan, levels: Levels, limits: Limits, left_out, texture, gaps: bool
) -> list[Finding]:
    """Lines (or, with `gaps`, clear gaps between blacks) thinner than the limit and long enough to be lines.

    Args:
        grey: the scan's grey picture. left_out, texture: tests of centres (n, 2) in pixels.
    """
    shrink = max(1, int(0.09 / scan.pixel_mm))
    small = cv2.resize(grey, None, fx=1 / shrink, fy=1 / shrink, interpolation=cv2.INTER_AREA) if shrink > 1 else grey
    pixel = scan.pixel_mm * shrink
    side = max(3, round(2.2 * limits.line_mm / pixel) | 1)
    clear, black = grey_code(levels.clear), grey_code(levels.black)
    kernel = np.ones((side, side), np.uint8)
    if gaps:
        ground = cv2.morphologyEx(small, cv2.MORPH_OPEN, kernel)
        mask = cv2.compare(cv2.subtract(small, ground), 0.3 * (clear - black), cv2.CMP_GT)
        mask &= cv2.compare(ground, round(black + 0.25 * (clear - black)), cv2.CMP_LT)
    else:
        ground = cv2.morphologyEx(small, cv2.MORPH_CLOSE, kernel)
        mask = cv2.compare(cv2.subtract(ground, small), 0.15 * (clear - black), cv2.CMP_GT)
        mask &= cv2.compare(ground, round(0.85 * clear), cv2.CMP_GT)
    count, labels, stats, centres = cv2.connectedComponentsWithStats(mask, connectivity=8)
    stats, centres = stats[1:count], centres[1:count] * shrink
    long = np.hypot(stats[:, 2], stats[:, 3]) * pixel >= _LEAST_LINE_MM
    picked = np.flatnonzero(long & ~left_out(centres) & ~texture(centres))
    found = []
    for k in picked:
        x, y, width, height = (int(v) for v in stats[k, :4])
        shape = (labels[y : y + height, x : x + width] == k + 1).astype(np.uint8)
        finding = _thin_line(scan, levels, limits, shape, (x * shrink, y * shrink), shrink, gaps)
        if finding:
            found.append(finding)
    return found


def _thin_line(scan, levels, limits, shape, corner, shrink, gaps) -> Finding | None:
    """A drawn line when long for its width; its width is the light it stops over its length."""
    outlines, _ = cv2.findContours(np.pad(shape, 1), cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    if len(outlines) > _MOST_MESHES:
        return None
    length = sum(cv2.arcLength(o, True) for o in outlines) / 2 * scan.pixel_mm * shrink
    straight = cv2.minAreaRect(outlines[0])[1]
    longest = max(straight) * scan.pixel_mm * shrink
    if longest < _LEAST_LINE_MM:
        return None
    x, y = corner
    reach = max(4, round(0.15 / scan.pixel_mm))
    height, width = shape.shape[0] * shrink, shape.shape[1] * shrink
    window, left, top = scan.window(x - reach, y - reach, x + width + reach, y + height + reach)
    near = cv2.dilate(cv2.resize(shape, (width, height), interpolation=cv2.INTER_NEAREST), np.ones((3, 3), np.uint8))
    near = np.pad(
        near, ((y - top, window.shape[0] - height - (y - top)), (x - left, window.shape[1] - width - (x - left)))
    )
    near = cv2.dilate(near, np.ones((2 * reach - 1, 2 * reach - 1), np.uint8)).astype(bool)
    if gaps:
        share = (window - levels.black) / (levels.clear - levels.black)
    else:
        share = (levels.clear - window) / (levels.clear - levels.black)
    share = np.where(near, share, 0)
    thickness = float(share.sum()) * scan.pixel_mm**2 / length
    if thickness >= NEAR_LIMIT * limits.line_mm * 1.03 or length < _LONG_FOR_WIDTH * thickness:
        return None
    # Where a line ends at a shape the shape's own edge is in the window: a line is thin all along.
    depth = cv2.distanceTransform((share > 0.5).astype(np.uint8), cv2.DIST_L2, 3).max() * scan.pixel_mm
    if depth > limits.line_mm:
        return None
    return Finding(
        "thin_line", x * scan.pixel_mm, y * scan.pixel_mm, width * scan.pixel_mm, height * scan.pixel_mm, thickness
    )


def small_type(scan: Scan, limits: Limits, dark: DarkMarks, meant: np.ndarray, left_out) -> list[Finding]:
    """Words whose strokes are thinner than the limit: one finding for each run of letters."""
    size = dark.boxes[:, 2:] * scan.pixel_mm
    letter = dark.larger & (size[:, 1] > 0.6) & (size[:, 1] < 8) & (size[:, 0] < 10) & ~meant & ~left_out(dark.centres)
    picked = np.flatnonzero(letter)
    if len(picked) < 3:
        return []
    words = _words(dark.boxes[picked])
    found = []
    for members in words:
        if len(members) < 3:
            continue
        boxes = dark.boxes[picked[members]]
        stroke = float(np.median([_stroke_mm(scan, dark, k) for k in picked[members][:_SAMPLED_LETTERS]]))
        if stroke < NEAR_LIMIT * limits.line_mm:
            (x0, y0), (x1, y1) = boxes[:, :2].min(axis=0), (boxes[:, :2] + boxes[:, 2:]).max(axis=0)
            found.append(Finding("type", *pixel_box(x0, y0, x1, y1, scan.pixel_mm), stroke))
    return found


def _words(boxes: np.ndarray) -> list[np.ndarray]:
    """Letters grouped with the next on their line."""
    order = np.argsort(boxes[:, 0])
    words: list[list[int]] = []
    for k in order:
        x, y, _, height = boxes[k]
        for word in reversed(words[-60:]):
            px, py, pw, ph = boxes[word[-1]]
            tall = max(height, ph)
            level = min(y + height, py + ph) - max(y, py) > 0.4 * min(height, ph)
            if level and -0.5 * tall < x - (px + pw) < 1.2 * tall and min(height, ph) > 0.45 * tall:
                word.append(int(k))
                break
        else:
            words.append([int(k)])
    return [np.array(w) for w in words]


def _stroke_mm(scan: Scan, dark: DarkMarks, k: int) -> float:
    """Width of a letter's strokes: the median of twice the inner distance along its middle, mm."""
    inner = cv2.distanceTransform(np.pad(dark.outline(k), 1), cv2.DIST_L2, 5)
    ridge = (inner >= cv2.dilate(inner, np.ones((3, 3), np.uint8))) & (inner > 0)
    return float(np.median(2 * inner[ridge] - 1)) * scan.pixel_mm * dark.shrink if ridge.any() else 0.0
