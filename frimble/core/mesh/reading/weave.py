"""The lattice of a woven cloth in a photo: the two frequencies of its threads, from the spectrum of a tile."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import cv2
import numpy as np
from scipy import fft

# Slower changes than so many periods in a tile are light, not threads; faster than this, cycles a pixel, none are resolved.
_FEWEST_PERIODS, _FASTEST = 7, 0.47
# A peak stands out of the tile's middle power by so much; so many peaks are looked at.
_STANDS_OUT, _PEAKS = 60.0, 14
# The two thread systems cross within so many degrees of a right angle, and their counts within this ratio.
_SQUARE_DEG, _MOST_UNLIKE = 16.0, 1.28
# Where the sum and the difference of two waves are as strong as this beside them, they are the weave's over and under.
_OVER_AND_UNDER = 0.85
# No thread system has a wave twice as long with this share of its own strength.
_TWICE_AS_LONG = 0.5
# Print and other patterns have less of their change than this on any lattice, looked for so many bins beside it.
_MOSTLY, _BESIDE_BINS = 0.2, 3.0
WINDOW = 200


@dataclass(frozen=True)
class Weave:
    """The threads of a tile.

    Attributes:
        vectors: (2, 2) frequencies of the two systems as x, y, cycles a pixel; y down.
        contrast: amplitude of the weaker wave over the tile's mean light, in the window where it is clearest.
        clear_at: left and top of that window, px; it is `WINDOW` wide.
    """

    vectors: np.ndarray
    contrast: float
    clear_at: tuple[int, int] = (0, 0)


def weave_of(tile: np.ndarray) -> Weave | None:
    """The weave in a tile; None where there is none, or only one thread system.

    Args:
        tile: (n, n) float32 light, linear.
    """
    side = tile.shape[0]
    mean = float(tile.mean())
    if mean <= 0:
        return None
    # A box twice over is as smooth as is needed, and quick however wide.
    box = (side // 5, side // 5)
    even = tile - cv2.blur(cv2.blur(tile, box), box)
    windowed = even * cv2.createHanningWindow((side, side), cv2.CV_32F)
    power = np.abs(fft.fftshift(fft.fft2(windowed))) ** 2
    pair = _lattice(_peaks(windowed, power))
    if pair is None:
        return None
    vectors = np.array([p.at for p in pair])
    if _on_lattice(power, vectors) < _MOSTLY or _skips_every_other(tile - mean, vectors):
        return None
    strength, at = _clearest(even, vectors)
    return Weave(vectors, strength / mean, at)


def _clearest(even: np.ndarray, vectors: np.ndarray) -> tuple[float, tuple[int, int]]:
    """Amplitude of the weaker wave in the clearest window of a tile, and that window's left and top.

    A tilt blurs a wave over the whole tile, and a scale strip may lie over part of it.
    """
    hann = cv2.createHanningWindow((WINDOW, WINDOW), cv2.CV_32F)
    starts = [round(v) for v in np.linspace(0, even.shape[0] - WINDOW, 3)]
    strengths = {
        (x, y): min(abs(wave(even[y : y + WINDOW, x : x + WINDOW] * hann, v)) for v in vectors)
        for x in starts
        for y in starts
    }
    best = max(strengths, key=lambda at: strengths[at])
    return float(2 * strengths[best] / hann.sum()), best


def _on_lattice(power: np.ndarray, vectors: np.ndarray) -> float:
    """How much of the picture's change lies on the lattice and half way between, 0 as chance would have it, to 1."""
    side = power.shape[0]
    y, x = np.mgrid[0:side, 0:side] - side // 2
    at = np.stack([x, y], -1) / side @ np.linalg.inv(vectors)
    off = np.abs(at - np.round(2 * at) / 2).max(-1) * float(np.hypot(*vectors[0])) * side
    band = (np.hypot(at[..., 0], at[..., 1]) < 1.6) & (np.hypot(x, y) >= _FEWEST_PERIODS)
    near = band & (off < _BESIDE_BINS)
    chance = float(near.sum() / band.sum())
    return (float(power[near].sum() / power[band].sum()) - chance) / max(1 - chance, 1e-6)


def _skips_every_other(tile: np.ndarray, vectors: np.ndarray) -> bool:
    """Whether waves twice as long are about as strong: threads with bright middles, too few of them in the tile."""
    windowed = tile * cv2.createHanningWindow(tile.shape[::-1], cv2.CV_32F)
    return any(abs(wave(windowed, v / 2)) > _TWICE_AS_LONG * abs(wave(windowed, v)) for v in vectors)


@dataclass(frozen=True)
class _Peak:
    at: np.ndarray
    strength: float


def _peaks(windowed: np.ndarray, power: np.ndarray) -> list[_Peak]:
    """The strongest waves of the upper half plane, strongest first.

    Args:
        windowed: (n, n) the tile under its window. power: (n, n) of its spectrum, zero frequency in the middle.
    """
    side = power.shape[0]
    middle = side // 2
    highest = cv2.dilate(power, np.ones((5, 5), np.uint8)) == power
    y, x = np.mgrid[0:side, 0:side] - middle
    far = np.hypot(x, y)
    allowed = (far >= _FEWEST_PERIODS) & (far <= _FASTEST * side) & ((y > 0) | ((y == 0) & (x > 0)))
    floor = float(np.median(power[allowed]))
    rows, columns = np.nonzero(highest & allowed & (power > _STANDS_OUT * floor))
    order = np.argsort(-power[rows, columns])[:_PEAKS]
    places = [_between(power, rows[k], columns[k]) / side for k in order]
    # Between two bins a wave shows weaker in both: its strength is summed at its own frequency.
    return [_Peak(at, abs(wave(windowed, at))) for at in places]


def _between(power: np.ndarray, row: int, column: int) -> np.ndarray:
    """x, y of a peak in bins, between them by a parabola through the logarithms."""
    middle = power.shape[0] // 2

    def off(before: float, here: float, after: float) -> float:
        a, b, c = (np.log(max(v, 1e-30)) for v in (before, here, after))
        return float(np.clip(0.5 * (a - c) / min(a - 2 * b + c, -1e-9), -0.5, 0.5))

    side, here = power.shape[0], power[row, column]
    across = off(power[row, (column - 1) % side], here, power[row, (column + 1) % side])
    down = off(power[(row - 1) % side, column], here, power[(row + 1) % side, column])
    return np.array([column - middle + across, row - middle + down])


def _lattice(peaks: Sequence[_Peak]) -> tuple[_Peak, _Peak] | None:
    """The two waves of the threads among the peaks."""
    pairs = [(a, b) for a, b in combinations(peaks, 2) if _squarely(a.at, b.at)]
    if not pairs:
        return None
    a, b = max(pairs, key=lambda p: min(p[0].strength, p[1].strength) + 0.1 * (p[0].strength + p[1].strength))
    both = [_near(peaks, a.at + b.at), _near(peaks, a.at - b.at)]
    if both[0] and both[1] and min(p.strength for p in both if p) > _OVER_AND_UNDER * max(a.strength, b.strength):
        return both[0], both[1]
    return a, b


def _squarely(a: np.ndarray, b: np.ndarray) -> bool:
    """Whether two waves cross about at a right angle and are about as fine."""
    long, short = sorted((float(np.hypot(*a)), float(np.hypot(*b))), reverse=True)
    off = abs(float(a @ b)) / (long * short)
    return long <= _MOST_UNLIKE * short and off <= np.sin(np.radians(_SQUARE_DEG))


def _near(peaks: Sequence[_Peak], at: np.ndarray) -> _Peak | None:
    """The peak at a frequency or its opposite."""
    for peak in peaks:
        if min(np.hypot(*(peak.at - at)), np.hypot(*(peak.at + at))) < 0.02 * np.hypot(*at) + 0.002:
            return peak
    return None


def wave(values: np.ndarray, vector: np.ndarray) -> complex:
    """Sum of the values over a wave of this frequency, cycles a pixel: its strength, and its phase at the first pixel."""
    across = np.exp(-2j * np.pi * vector[0] * np.arange(values.shape[1]))
    down = np.exp(-2j * np.pi * vector[1] * np.arange(values.shape[0]))
    return complex(down @ values @ across)
