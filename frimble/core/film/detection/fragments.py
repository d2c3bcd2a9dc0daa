"""Bright fragments in black, each as a straight stroke, and those that follow each other joined."""

from collections.abc import Sequence

import cv2
import numpy as np

from frimble.core.film.scan.grid import Levels, Scan

_GAP_MM = 2.5
# Pieces of one scratch from two tiles overlap by twice a mark, more on the slant.
_OVERLAP_MM = 3.4
_SAME_PX = 1.5
_ASIDE_MM = 0.2


class Fragment:
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


def fragment_in(scan: Scan, levels: Levels, box: np.ndarray, members: Sequence[int]) -> Fragment | None:
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
    stroke = Fragment(points, members, 0.0)
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


def joined(pieces: list[Fragment], scan: Scan) -> list[Fragment]:
    """Fragments that follow each other on one line, as one."""
    reaches = [reach / scan.pixel_mm for reach in (_GAP_MM, _OVERLAP_MM, _ASIDE_MM)]
    pieces = sorted(pieces, key=lambda p: -p.length)
    found: list[Fragment] = []
    while pieces:
        stroke = pieces.pop(0)
        grew = True
        while grew:
            grew = False
            for other in pieces:
                if _follows(stroke, other, *reaches):
                    total = stroke.length + other.length
                    width = (stroke.width_mm * stroke.length + other.width_mm * other.length) / total
                    stroke = Fragment(np.vstack([stroke.points, other.points]), stroke.members + other.members, width)
                    pieces.remove(other)
                    grew = True
                    break
        found.append(stroke)
    return found


def _follows(stroke: Fragment, other: Fragment, gap: float, overlap: float, off: float) -> bool:
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
