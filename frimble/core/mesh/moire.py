"""Moiré of mesh and halftone: both grids as frequency vectors, their beats as differences of low-order sums.

Source: Amidror, The Theory of the Moiré Phenomenon (2000), ch. 2, the spectrum of superposed gratings.
"""

import cmath
import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

import numpy as np

from frimble.core.conclusions import Conclusion, InvalidInput, Settings, require_between, require_positive
from frimble.core.verdicts import MoireVerdict

_MOST_PLATES = 8
# Degrees within which two plates count as lying at one angle.
_SAME_ANGLE = 0.05
# Two grids that differ by less coincide.
_NO_BEAT_PER_CM = 1e-9


@dataclass(frozen=True)
class Beat:
    """One beat of the two grids.

    Attributes:
        period_mm: distance from band to band, infinite when the two coincide.
        order: larger of the two grids' orders; lower is stronger.
        mesh, dots: harmonics taken of each grid, along its two axes.
    """

    period_mm: float
    order: int
    mesh: tuple[int, int]
    dots: tuple[int, int]


def beats(
    count_per_cm: float, ruling_per_cm: float, dot_angle_deg: float, mesh_angle_deg: float, settings: Settings
) -> list[Beat]:
    """Every beat up to the house's order, longest first.

    Args:
        count_per_cm: threads per cm. ruling_per_cm: dot rows per cm.
        dot_angle_deg, mesh_angle_deg: of one axis of each grid, degrees from the frame's side.

    Raises:
        InvalidInput: a frequency is not positive or an angle is not a number.
    """
    each = _periods(count_per_cm, ruling_per_cm, [dot_angle_deg], mesh_angle_deg, settings)
    return [each.beat(0, m, d) for m, d in zip(*_longest_first(each.mm[0], each.orders), strict=True)]


def longest_beat(
    count_per_cm: float, ruling_per_cm: float, dot_angle_deg: float, mesh_angle_deg: float, settings: Settings
) -> Beat:
    """The first of `beats`, without making the others."""
    return _longest(_periods(count_per_cm, ruling_per_cm, [dot_angle_deg], mesh_angle_deg, settings))[0]


@dataclass(frozen=True)
class _Periods:
    """Periods in mm by dot angle, mesh harmonic and dot harmonic, (A, M, D); orders by the last two, (M, D)."""

    mm: np.ndarray
    orders: np.ndarray
    mesh: list[tuple[int, int]]
    dots: list[tuple[int, int]]

    def beat(self, angle: int, m: int, d: int) -> Beat:
        return Beat(float(self.mm[angle, m, d]), int(self.orders[m, d]), self.mesh[m], self.dots[d])


def _periods(
    count_per_cm: float,
    ruling_per_cm: float,
    dot_angles_deg: Sequence[float],
    mesh_angle_deg: float,
    settings: Settings,
) -> _Periods:
    require_positive(count_per_cm, "Mesh count", "count")
    require_positive(ruling_per_cm, "Ruling", "ruling_lpi")
    for angle in dot_angles_deg:
        require_between(angle, -360, 360, "The angle, in degrees,", "dot_angle")
    require_between(mesh_angle_deg, -360, 360, "The angle, in degrees,", "mesh_angle")
    most = int(settings["moire.orders"])
    dots, mesh = _harmonics(most, twins=True), _harmonics(most, twins=False)
    turned = np.array([dots.vectors(ruling_per_cm, angle) for angle in dot_angles_deg])
    apart = np.abs(mesh.vectors(count_per_cm, mesh_angle_deg)[None, :, None] - turned[:, None, :])
    periods = np.full(apart.shape, math.inf)
    np.divide(10, apart, out=periods, where=apart >= _NO_BEAT_PER_CM)
    return _Periods(periods, np.maximum(mesh.orders[:, None], dots.orders[None, :]), mesh.pairs, dots.pairs)


def _longest(each: _Periods) -> list[Beat]:
    """The longest beat of each dot angle, of equal ones the lowest order."""
    flat = each.mm.reshape(len(each.mm), -1)
    orders = np.where(flat == flat.max(axis=1, keepdims=True), each.orders.ravel(), np.iinfo(int).max)
    mesh, dots = np.unravel_index(orders.argmin(axis=1), each.orders.shape)
    return [each.beat(a, m, d) for a, (m, d) in enumerate(zip(mesh, dots, strict=True))]


def _longest_first(periods: np.ndarray, orders: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """(mesh harmonics, dot harmonics) by their places, the longest beat first, of equal ones the lowest order."""
    mesh, dots = np.unravel_index(np.lexsort((orders.ravel(), -periods.ravel())), periods.shape)
    return mesh, dots


def longest_visible(
    count_per_cm: float, ruling_per_cm: float, dot_angle_deg: float, mesh_angle_deg: float, settings: Settings
) -> Beat | None:
    """The longest beat that shows, or None: all are shorter than a few dot pitches."""
    threshold = settings["moire.visible_above"] * 10 / ruling_per_cm
    longest = longest_beat(count_per_cm, ruling_per_cm, dot_angle_deg, mesh_angle_deg, settings)
    return longest if longest.period_mm > threshold else None


def judge(
    count_per_cm: float, ruling_per_cm: float, dot_angle_deg: float, mesh_angle_deg: float, settings: Settings
) -> Conclusion:
    """Whether moiré is to be expected, with the beat that would show and the angles that avoid it."""
    longest = longest_beat(count_per_cm, ruling_per_cm, dot_angle_deg, mesh_angle_deg, settings)
    threshold = settings["moire.visible_above"] * 10 / ruling_per_cm
    ratio = count_per_cm / ruling_per_cm
    rests = "computed from both grids"
    if longest.period_mm <= threshold:
        reason = (
            f"The longest beat up to order {settings['moire.orders']:g} is {longest.period_mm:.2f} mm, under "
            f"{threshold:.2f} mm: it looks like the dots themselves. The mesh is {ratio:.1f} × the ruling."
        )
        return Conclusion(longest.period_mm, "mm", MoireVerdict.NO_BEAT, reason, rests)
    calm = best_angles(angle_scan(count_per_cm, ruling_per_cm, mesh_angle_deg, settings))
    size = "without end" if math.isinf(longest.period_mm) else f"{longest.period_mm:.1f} mm wide"
    reason = (
        f"Bands {size} of order {longest.order} are to be expected: the mesh is {ratio:.1f} × the ruling. "
        f"Calmer dot angles: {', '.join(f'{a:g}°' for a in calm)}."
    )
    return Conclusion(longest.period_mm, "mm", MoireVerdict.BEATS, reason, rests, next_best_measurement="a test print")


def angle_scan(
    count_per_cm: float, ruling_per_cm: float, mesh_angle_deg: float, settings: Settings, step_deg: float = 1
) -> list[tuple[float, Beat]]:
    """(dot angle, longest beat) for dot angles from 0° up to 90°, where a square dot grid repeats."""
    if not 0 < step_deg <= 45:
        raise InvalidInput("The step is between 0 and 45 degrees.", "step_deg")
    angles = [k * step_deg for k in range(int(90 / step_deg) + 1)]
    longest = _longest(_periods(count_per_cm, ruling_per_cm, angles, mesh_angle_deg, settings))
    return list(zip(angles, longest, strict=True))


def best_angles(scan: Sequence[tuple[float, Beat]], wanted: int = 3) -> list[float]:
    """Dot angles of a scan, degrees, whose longest beat is shortest; neighbours within 10° count once."""
    chosen: list[float] = []
    for angle, _ in sorted(scan, key=lambda s: s[1].period_mm):
        if all(abs(angle - other) > 10 for other in chosen):
            chosen.append(angle)
        if len(chosen) == wanted:
            break
    return sorted(chosen)


@dataclass(frozen=True)
class _Harmonics:
    """Harmonics (k, l) of a square grid: as pairs, as complex numbers in units of the grid's frequency, and their orders."""

    pairs: list[tuple[int, int]]
    units: np.ndarray
    orders: np.ndarray

    def vectors(self, frequency: float, angle_deg: float) -> np.ndarray:
        """The frequency vector of each as a complex number, per cm."""
        return self.units * cmath.rect(frequency, math.radians(angle_deg))


@cache
def _harmonics(most: int, twins: bool) -> _Harmonics:
    """Harmonics up to an order; of each beat there is a twin with all signs turned, wanted of one grid alone."""
    each = range(-most, most + 1)
    pairs = [(k, l_) for k in each for l_ in each if 0 < abs(k) + abs(l_) <= most and (twins or (k, l_) > (0, 0))]
    k, l_ = np.array(pairs).T
    return _Harmonics(pairs, k + 1j * l_, np.abs(k) + np.abs(l_))


@dataclass(frozen=True)
class PlatePair:
    """Two plates of one job: their dot angles, the period of their beat in mm, and whether it shows."""

    angles: tuple[float, float]
    period_mm: float
    conflict: bool


def judge_plates(
    count_per_cm: float,
    ruling_per_cm: float,
    dot_angles_deg: Sequence[float],
    mesh_angle_deg: float,
    settings: Settings,
) -> tuple[list[tuple[float, Conclusion]], list[PlatePair]]:
    """Every plate against the mesh, and every two plates against each other.

    Plates at one and the same angle lie dot on dot and do not beat: the usual way of simulated process.

    Raises:
        InvalidInput: no angle, more than eight, or an absurd grid.
    """
    if not 1 <= len(dot_angles_deg) <= _MOST_PLATES:
        raise InvalidInput(f"Give one to {_MOST_PLATES} dot angles, one for each plate.", "plates")
    alone = [(angle, judge(count_per_cm, ruling_per_cm, angle, mesh_angle_deg, settings)) for angle in dot_angles_deg]
    threshold = settings["moire.visible_above"] * 10 / ruling_per_cm
    pairs = []
    for one, other in itertools.combinations(dot_angles_deg, 2):
        apart = abs((one - other + 45) % 90 - 45)
        # The two lowest beats of equal grids at an angle: both axes turn by it.
        period = math.inf if apart < _SAME_ANGLE else 10 / (2 * ruling_per_cm * math.sin(math.radians(apart / 2)))
        pairs.append(PlatePair((one, other), period, apart >= _SAME_ANGLE and period > threshold))
    return alone, pairs
