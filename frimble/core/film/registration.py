"""Comparing the separations of one job by their register marks: shift, turn and stretch before any screen is made."""

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from scipy.optimize import linear_sum_assignment

from frimble.core.conclusions import Conclusion, InvalidInput
from frimble.core.film.scan import comparing
from frimble.core.film.scan.grid import Levels, Scan, cells_of, grey_code, levels_of
from frimble.core.verdicts import FitVerdict

FEWEST_MARKS, _WANTED_MARKS = 2, 4
# Of the film's side that marks should span.
_FAR_APART = 0.5
# A register cross: two thin strokes of like length that cross in their middles.
_ARM_MM = (2.0, 20.0)
_SQUARE_WITHIN = 0.2
_MOST_INK = 0.35
_APART = 0.7
# Marks of two plates are the same mark when they lie this near each other.
_SAME_WITHIN_MM = 12.0


@dataclass(frozen=True)
class RegistrationFit:
    """How one plate lies against another.

    Attributes:
        shift_mm: of the middle of the marks, x to the right, y down. turn_deg: counter-clockwise positive.
        stretch: size over the reference's, less 1. worst_mm: farthest that any common mark lies off.
        left_mm: farthest that it still lies off when the plate is laid as well as it can be.
        marks: how many marks the two have in common.
    """

    shift_mm: tuple[float, float]
    turn_deg: float
    stretch: float
    worst_mm: float
    left_mm: float
    marks: int

    @property
    def stretch_percent(self) -> float:
        return self.stretch * 100


def marks_missing(marks: Sequence[Sequence[float]], size_mm: tuple[float, float]) -> str:
    """What register marks a film still wants, in words; empty when four at least lie far apart.

    Args:
        marks: x, y of each, mm. size_mm: of the film.
    """
    if len(marks) < _WANTED_MARKS:
        found = {0: "No register mark", 1: "One register mark"}.get(len(marks), f"{len(marks)} register marks")
        return (
            f"{found}: print four at least, in the corners and far apart, so that shift, turn and stretch can be told."
        )
    across, down = np.ptp(np.asarray(marks, float), axis=0)
    if across < _FAR_APART * size_mm[0] or down < _FAR_APART * size_mm[1]:
        return f"The register marks span {across:.0f} × {down:.0f} mm of the film: set them in its corners, far apart."
    return ""


def find_marks(scan: Scan) -> np.ndarray:
    """(n, 2) x, y in mm of the middles of every register cross on a scan.

    The middle is where the centre lines of the two arms cross, each fitted to the ink along it.
    """
    cells = cells_of(scan)
    levels = levels_of(scan, cells)
    grey = scan.grey()
    mask = comparing.compare(grey, round(grey_code(0.5 * levels.clear)), cv2.CMP_LT)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(mask, connectivity=8)
    centres = []
    for k in range(1, count):
        x, y, width, height, area = (int(v) for v in stats[k])
        long, short = max(width, height) * scan.pixel_mm, min(width, height) * scan.pixel_mm
        if not (_ARM_MM[0] <= short and long <= _ARM_MM[1] and long - short < _SQUARE_WITHIN * long):
            continue
        if area > _MOST_INK * width * height or not _alone(mask, stats[k]):
            continue
        centre = _cross_centre(scan, labels[y : y + height, x : x + width] == k, (x, y), levels)
        if centre is not None:
            centres.append(centre)
    return np.array(centres).reshape(-1, 2)


def _alone(mask: np.ndarray, box: np.ndarray) -> bool:
    """Whether nothing else is drawn close about: a plus sign stands among letters, a register mark apart."""
    x, y, width, height = (int(v) for v in box[:4])
    margin = round(_APART * max(width, height))
    about = mask[max(0, y - margin) : y + height + margin, max(0, x - margin) : x + width + margin]
    own = mask[y : y + height, x : x + width]
    return bool(np.count_nonzero(about) - np.count_nonzero(own) < 0.02 * np.count_nonzero(own))


def _cross_centre(scan: Scan, shape: np.ndarray, corner: tuple[int, int], levels: Levels) -> tuple[float, float] | None:
    """Middle of a cross in mm, or None when the shape is no cross: an arm each way, through the middle, and little else."""
    x, y = corner
    height, width = shape.shape
    window = scan.light(scan.codes[y : y + height, x : x + width])
    ink = np.where(cv2.dilate(shape.astype(np.uint8), np.ones((3, 3))).astype(bool), levels.clear - window, 0).clip(0)
    across = _arm(ink)
    down = _arm(ink.T)
    if across is None or down is None:
        return None
    # across: row = a + b·column; down: column = c + d·row.
    (a, b), (c, d) = across, down
    column = (c + d * a) / (1 - b * d)
    row = a + b * column
    if abs(column - width / 2) > 0.15 * width or abs(row - height / 2) > 0.15 * height:
        return None
    return (x + column + 0.5) * scan.pixel_mm, (y + row + 0.5) * scan.pixel_mm


def _arm(ink: np.ndarray) -> tuple[float, float] | None:
    """The arm along the columns as row = offset + slope · column, from the outer thirds where the other arm is not."""
    rows, columns = ink.shape
    picked = np.r_[1 : columns // 3, columns - columns // 3 : columns - 1]
    part = ink[:, picked]
    weight = part.sum(axis=0)
    if len(picked) < 6 or (weight < 0.3 * np.median(weight) + 1e-6).mean() > 0.1:
        return None
    middle = (part * np.arange(rows)[:, None]).sum(axis=0) / weight
    spread = np.sqrt((part * (np.arange(rows)[:, None] - middle) ** 2).sum(axis=0) / weight)
    if np.median(spread) > 0.12 * rows:
        return None
    slope, offset = np.polyfit(picked, middle, 1)
    return float(offset), float(slope)


def compare(reference: np.ndarray, other: np.ndarray) -> RegistrationFit:
    """How `other`'s marks lie against `reference`'s, both (n, 2) in mm.

    Raises:
        InvalidInput: fewer than two marks in common.

    Source: least-squares similarity of two point sets, S. Umeyama, IEEE PAMI 13 (1991).
    """
    mine, theirs = _paired(np.asarray(reference, float), np.asarray(other, float))
    if len(mine) < FEWEST_MARKS:
        raise InvalidInput(
            f"The two films have {len(mine)} register mark{'s' if len(mine) != 1 else ''} in common; "
            f"{FEWEST_MARKS} at least are wanted, in the same places on every separation.",
            "marks",
        )
    # Plane points as complex numbers: a similarity is one product and one sum.
    p, q = mine @ (1, 1j), theirs @ (1, 1j)
    middle_p, middle_q = p.mean(), q.mean()
    factor = np.vdot(p - middle_p, q - middle_q) / np.vdot(p - middle_p, p - middle_p)
    shift = middle_q - middle_p
    rigid = factor / abs(factor)
    left = np.abs((q - middle_q) - rigid * (p - middle_p)).max()
    return RegistrationFit(
        (float(shift.real), float(shift.imag)),
        float(-np.degrees(np.angle(factor))),
        float(abs(factor) - 1),
        float(np.abs(q - p).max()),
        float(left),
        len(mine),
    )


def _paired(reference: np.ndarray, other: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    if not len(reference) or not len(other):
        return reference[:0], other[:0]
    apart = np.hypot(*(reference[:, None] - other[None]).transpose(2, 0, 1))
    rows, columns = linear_sum_assignment(np.minimum(apart, 3 * _SAME_WITHIN_MM))
    same = apart[rows, columns] <= _SAME_WITHIN_MM
    return reference[rows[same]], other[columns[same]]


def judge(fit: RegistrationFit, line_mm: float) -> Conclusion:
    """Whether two plates will fit: what no laying can mend, against half the finest line, mm."""
    bar = line_mm / 2
    stretch = f"{abs(fit.stretch) * 100:.2f} % {'larger' if fit.stretch > 0 else 'smaller'}"
    laid = (
        f"Shifted {fit.shift_mm[0]:+.2f} mm across, {fit.shift_mm[1]:+.2f} mm down, turned {fit.turn_deg:+.2f}°, {stretch}, "
        f"by {fit.marks} marks."
    )
    if fit.left_mm <= bar:
        reason = (
            f"{laid} Laid as well as can be, the marks lie within {fit.left_mm:.2f} mm; {bar:.2f} mm is half the "
            "finest line."
        )
        return Conclusion(fit.left_mm, "mm", FitVerdict.FITS, reason, "measured here")
    reason = (
        f"{laid} However they are laid, a mark stays {fit.left_mm:.2f} mm off; {bar:.2f} mm is half the finest line. "
        "Print both again on one day from one sheet or roll: film shrinks and printers feed unevenly."
    )
    return Conclusion(
        fit.left_mm, "mm", FitVerdict.DOES_NOT_FIT, reason, "measured here", next_best_measurement="scan both again"
    )


def judge_stack(fit: RegistrationFit, line_mm: float) -> Conclusion:
    """Whether two films of one separation may be taped together to add their densities.

    What the one lies off the other grows every black and closes every gap by as much, at the edges in one density only.

    Source: geometry; two edges that do not meet.
    """
    bar = line_mm / 4
    apart = (
        f"Laid by {fit.marks} marks as well as can be, the two lie {fit.left_mm:.2f} mm off each other at the worst."
    )
    left = max(0.0, line_mm - fit.left_mm)
    grows = f"A line of {line_mm:.2f} mm becomes {line_mm + fit.left_mm:.2f} mm, a gap {left:.2f} mm."
    if fit.left_mm <= bar:
        reason = f"{apart} {grows} A quarter of the thinnest line, {bar:.2f} mm, is the most."
        return Conclusion(fit.left_mm, "mm", FitVerdict.STACKS, reason, "measured here")
    reason = (
        f"{apart} {grows} More than a quarter of the thinnest line, {bar:.2f} mm: print the pair again in one run, "
        "or one film at the densest setting."
    )
    return Conclusion(
        fit.left_mm, "mm", FitVerdict.DOES_NOT_STACK, reason, "measured here", next_best_measurement="scan both again"
    )


def compare_all(marks: Sequence[np.ndarray]) -> list[RegistrationFit]:
    """Every plate against the first.

    Raises:
        InvalidInput: fewer than two plates, or too few marks in common.
    """
    if len(marks) < 2:
        raise InvalidInput("Two separations at least are compared.", "marks")
    return [compare(marks[0], other) for other in marks[1:]]
