"""Lone dark marks on clear film: which are dust."""

import numpy as np
from scipy.spatial import cKDTree

from frimble.core.film.detection.celltest import CellTest
from frimble.core.film.detection.marks import SmallMarks, diameter_mm, passed_light
from frimble.core.film.findings import NEAR_LIMIT, Finding, Limits, pixel_box
from frimble.core.film.scan.grid import MARK_MM, Levels, Scan

_ALONE_MM = 1.5


def specks(
    scan: Scan, levels: Levels, limits: Limits, dark: SmallMarks, meant: np.ndarray, left_out: CellTest
) -> list[Finding]:
    """Lone small dark marks that no letter, row or pattern explains."""
    small = dark.longest * scan.pixel_mm <= MARK_MM
    lone = np.flatnonzero(small & ~meant & ~left_out(dark.centres))
    lone = lone[~_accompanied(dark, lone, scan)]
    lone = lone[~_punctuation(dark, lone, scan)]
    findings = []
    for k in lone:
        x, y, width, height = (int(v) for v in dark.boxes[k])
        if not _clear_about(scan, levels, dark.boxes[k]):
            continue
        diameter = diameter_mm(passed_light(scan, levels, dark.boxes[k], black_is_ground=False))
        believable = diameter <= 2 * np.sqrt(dark.areas[k]) * scan.pixel_mm
        if believable and diameter >= NEAR_LIMIT * limits.pinhole_mm:
            findings.append(Finding("speck", *pixel_box(x, y, x + width, y + height, scan.pixel_mm), diameter))
    return findings


def _accompanied(dark: SmallMarks, lone: np.ndarray, scan: Scan) -> np.ndarray:
    """Marks with two others or more close by: small lettering, dotted lines, texture."""
    if not len(lone):
        return np.zeros(0, bool)
    tree = cKDTree(dark.centres)
    near = tree.query_ball_point(dark.centres[lone], _ALONE_MM / scan.pixel_mm, return_length=True)
    return np.asarray(near > 2)


def _punctuation(dark: SmallMarks, lone: np.ndarray, scan: Scan) -> np.ndarray:
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


def _clear_about(scan: Scan, levels: Levels, box: np.ndarray) -> bool:
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
