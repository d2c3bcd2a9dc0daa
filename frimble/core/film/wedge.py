"""A reference wedge in the scan: where it lies, what its patches read, and the curve from light to density."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import cv2
import numpy as np

from frimble.core.conclusion import OutOfRange
from frimble.core.film.scan import Cells, Levels, Scan

FEWEST_PATCHES = 3
MOST_PATCHES = 41
# Share of a patch's side that is measured: its rim is blurred by the lens and by a hand that places it.
_CORE = 0.5
_ERROR_WANTED = 0.05
# A fitted curve is believed this far beyond the densest patch.
_BEYOND = 0.3


@dataclass(frozen=True)
class Wedge:
    """A step wedge: first patch's corner in mm from the scan's top left, patch side, densities, turn in degrees."""

    x_mm: float
    y_mm: float
    patch_mm: float
    densities: tuple[float, ...]
    angle_deg: float = 0.0

    def patch_centres_mm(self) -> np.ndarray:
        """(n, 2) x, y of the middle of each patch; y grows downward, a positive turn lifts the right end."""
        along = (np.arange(len(self.densities)) + 0.5) * self.patch_mm
        turn = np.deg2rad(self.angle_deg)
        half = self.patch_mm / 2
        x = self.x_mm + along * np.cos(turn) + half * np.sin(turn)
        y = self.y_mm - along * np.sin(turn) + half * np.cos(turn)
        return np.column_stack([x, y])

    def box_mm(self) -> tuple[float, float, float, float]:
        """(x, y, width, height) of everything the wedge covers."""
        centres, reach = self.patch_centres_mm(), 0.75 * self.patch_mm
        (x0, y0), (x1, y1) = centres.min(axis=0) - reach, centres.max(axis=0) + reach
        return x0, y0, x1 - x0, y1 - y0


def checked_wedge(x_mm: float, y_mm: float, patch_mm: float, densities: Sequence[float]) -> Wedge:
    """A wedge whose numbers can be believed.

    Raises:
        OutOfRange: too few patches, a density below 0 or above 6, or densities that neither rise nor fall.
    """
    given = tuple(float(d) for d in densities)
    if not FEWEST_PATCHES <= len(given) <= MOST_PATCHES:
        raise OutOfRange(f"A wedge has {FEWEST_PATCHES} to {MOST_PATCHES} patches; {len(given)} were given.", "wedge")
    for value in given:
        if not 0 <= value <= 6:
            raise OutOfRange(f"A patch density of {value:g} is not between 0 and 6.", "wedge")
    steps = np.diff(given)
    if not ((steps > 0).all() or (steps < 0).all()):
        raise OutOfRange("The wedge's densities must rise, or fall, from patch to patch.", "wedge")
    if not 1 <= patch_mm <= 100:
        raise OutOfRange(f"A patch of {patch_mm:g} mm is not between 1 and 100 mm.", "wedge")
    if min(x_mm, y_mm) < 0:
        raise OutOfRange("The wedge's corner must lie on the scan.", "wedge")
    return Wedge(x_mm, y_mm, patch_mm, given)


def parse_wedge(text: str) -> Wedge:
    """Read `X_MM,Y_MM,PATCH_MM,D1/D2/…`.

    Raises:
        OutOfRange: not of that form, or a wedge that cannot be.
    """
    parts = text.split(",")
    try:
        if len(parts) != 4:
            raise ValueError
        x, y, patch = (float(p) for p in parts[:3])
        densities = [float(d) for d in parts[3].split("/")]
    except ValueError:
        raise OutOfRange(
            f"“{text}” is not a wedge. Write X_MM,Y_MM,PATCH_MM,D1/D2/…, such as 10,250,8,0.05/0.35/0.65.", "wedge"
        ) from None
    return checked_wedge(x, y, patch, densities)


def wedge_or_densities(text: str) -> tuple[Wedge | None, tuple[float, ...] | None]:
    """A placed wedge as `parse_wedge` reads it, or densities alone, `D1/D2/…`, of a wedge to be found; both None when empty.

    Raises:
        OutOfRange: neither of the two.
    """
    if not text.strip():
        return None, None
    if "," in text:
        return parse_wedge(text), None
    return None, parse_wedge(f"0,0,10,{text}").densities


def straighten(scan: Scan, wedge: Wedge) -> Wedge:
    """The same wedge turned as it lies: the placing whose patches are most even in themselves.

    Raises:
        OutOfRange: no placing lies on the scan.
    """
    best = _evenest(scan, wedge, np.arange(-5, 5.01, 1.0), samples=12)
    if best is None:
        width, height = scan.size_mm
        raise OutOfRange(
            f"The wedge would reach beyond the scan, which measures {width:.0f} × {height:.0f} mm. "
            "Check its corner and patch size.",
            "wedge",
        )
    return _evenest(scan, wedge, best.angle_deg + np.arange(-0.75, 0.76, 0.25), samples=40) or best


def _evenest(scan: Scan, wedge: Wedge, angles: np.ndarray, samples: int) -> Wedge | None:
    """The best of some turns, each about the wedge's own corner and about the sheet's middle; None when all lie off."""
    about = np.array(scan.size_mm) / 2
    best, least = None, np.inf
    for angle in angles:
        for corner in (np.array([wedge.x_mm, wedge.y_mm]), _turned(wedge, about, angle)):
            tried = replace(wedge, x_mm=corner[0], y_mm=corner[1], angle_deg=float(angle))
            unevenness = _unevenness(scan, tried, samples)
            # A turn must earn its keep: with the corner given, lying straight is the first belief.
            if unevenness is not None and unevenness * (1 + 0.02 * abs(angle)) < least:
                best, least = tried, unevenness * (1 + 0.02 * abs(angle))
    return best


def _turned(wedge: Wedge, about: np.ndarray, angle_deg: float) -> np.ndarray:
    """Where the wedge's corner comes to lie when the whole sheet is turned about its middle."""
    turn = np.deg2rad(angle_deg)
    x, y = np.array([wedge.x_mm, wedge.y_mm]) - about
    return about + np.array([x * np.cos(turn) + y * np.sin(turn), -x * np.sin(turn) + y * np.cos(turn)])


def _unevenness(scan: Scan, wedge: Wedge, samples: int = 16) -> float | None:
    """Mean spread of log light inside the patches over what they span, or None off the scan."""
    windows = _windows(scan, wedge, samples)
    if windows is None:
        return None
    logs = [np.log10(np.maximum(w, 1e-5)) for w in windows]
    span = np.ptp([v.mean() for v in logs])
    return float(np.mean([_spread(v) for v in logs])) / max(span, 1e-3)


def _spread(values: np.ndarray) -> float:
    """How far the four quarters of a window differ in their means: noise averages out, a step between patches does not."""
    rows, columns = (n // 2 for n in values.shape)
    quarters = [
        part.mean() for half in (values[:rows], values[rows:]) for part in (half[:, :columns], half[:, columns:])
    ]
    return float(max(quarters) - min(quarters)) + 0.1 * float(values.std())


def _windows(scan: Scan, wedge: Wedge, samples: int | None = None) -> list[np.ndarray] | None:
    """Share of white over the core of each patch, thinned to some samples a side; None when one lies off the scan."""
    half = max(2, round(wedge.patch_mm * _CORE / 2 / scan.pixel_mm))
    step = max(1, 2 * half // samples) if samples else 1
    rows, columns = scan.codes.shape
    windows = []
    for x, y in wedge.patch_centres_mm() / scan.pixel_mm:
        c, r = round(x), round(y)
        if c - half < 0 or r - half < 0 or c + half > columns or r + half > rows:
            return None
        windows.append(scan.light(scan.codes[r - half : r + half : step, c - half : c + half : step]))
    return windows


@dataclass(frozen=True)
class Curve:
    """From share of white to density.

    Attributes:
        light, density: points of the curve, light falling, density rising.
        ceiling: densest value that can be told from a denser one; beyond it only "at least" is honest.
        wedge: the wedge it rests on, or None for the scanner's own coding.
    """

    light: np.ndarray
    density: np.ndarray
    ceiling: float
    wedge: Wedge | None = None

    def of(self, light) -> np.ndarray:
        """Density for shares of white of any shape; never above the curve's last point."""
        return np.interp(-np.log10(np.maximum(light, 1e-9)), -np.log10(self.light), self.density)

    def light_at(self, density: float) -> float:
        """Share of white that reads as this density."""
        return float(10 ** np.interp(density, self.density, np.log10(self.light)))


def coding_curve(scan: Scan) -> Curve:
    """The curve of the coding alone: density against the white the file can hold. Flare is not known to it."""
    ceiling = -np.log10(float(scan.light(1.25)))
    light = np.logspace(0, -6, 241)
    return Curve(light, -np.log10(light), ceiling)


def wedge_curve(scan: Scan, wedge: Wedge, share: np.ndarray, noise: float) -> Curve:
    """A monotone curve through a wedge's patches.

    Light is gain × 10^−D + flare, fitted with equal relative weight; what the fit leaves is laid on linearly between
    patches, so that the curve goes through them.

    Args:
        share: (n,) mean share of white of each patch, evened for the scanner's illumination. noise: black's sigma, codes.

    Raises:
        OutOfRange: the patches do not darken as their densities rise: there is no such wedge here.
    """
    order = np.argsort(wedge.densities)
    densities, light = np.array(wedge.densities)[order], np.maximum(np.asarray(share, float)[order], 1e-6)
    _must_darken(scan, densities, light, wedge)
    gain, flare = _gain_and_flare(densities, light)
    seen = np.maximum.accumulate(light[::-1])[::-1]
    # Steps lost in the noise at the dark end tell nothing.
    error = _light_error(scan, noise, flare)
    usable = np.r_[True, -np.diff(seen) > 2 * error] & (light - flare > error)
    usable = np.cumprod(usable).astype(bool)
    grid = np.logspace(np.log10(max(seen[0], 1e-4) * 1.5), np.log10(max(flare + error / 4, 1e-7)), 1200)
    model = -np.log10(np.maximum(grid - flare, 1e-9) / gain)
    left = densities[usable] + np.log10(np.maximum(seen[usable] - flare, 1e-9) / gain)
    shift = np.interp(-np.log10(grid), -np.log10(seen[usable]), left)
    ceiling = -np.log10(error / (_ERROR_WANTED * np.log(10)) / gain)
    ceiling = min(ceiling, float(densities[usable][-1]) + _BEYOND)
    return Curve(grid, np.maximum.accumulate(model + shift), ceiling, wedge)


def measure_patches(scan: Scan, wedge: Wedge, illumination=None) -> np.ndarray:
    """(n,) mean share of white over the core of each patch; `illumination(x_mm, y_mm)` evens the scanner's light.

    Raises:
        OutOfRange: a patch lies off the scan.
    """
    windows = _windows(scan, wedge)
    if windows is None:
        raise OutOfRange("The wedge reaches beyond the scan. Check its corner and patch size.", "wedge")
    share = np.array([float(w.mean()) for w in windows])
    if illumination is None:
        return share
    return share / illumination(*wedge.patch_centres_mm().T)


def _must_darken(scan, densities, light, wedge) -> None:
    # Only steps the file can hold count: deep patches of a linear 8-bit scan are all code 0 or 1.
    held = light[:-1] > float(scan.light(2.0))
    wrong = np.flatnonzero(held & (light[1:] > light[:-1] * 0.97) & (np.diff(densities) > 0.1))
    span = np.log10(light[0] / light[-1])
    if len(wrong) > 0 and not _deep(light, wrong[0]):
        patch = int(wrong[0]) + 2
        raise OutOfRange(
            f"There is no such wedge at {wedge.x_mm:g}, {wedge.y_mm:g} mm: patch {patch} is no darker than the one before. "
            "Place it again, or check its densities.",
            "wedge",
        )
    if span < 0.5 * min(densities[-1] - densities[0], 2.0):
        raise OutOfRange(
            f"There is no such wedge at {wedge.x_mm:g}, {wedge.y_mm:g} mm: its patches differ by {span:.2f} where "
            f"{densities[-1] - densities[0]:.2f} is claimed.",
            "wedge",
        )


def _deep(light, at) -> bool:
    """Whether the curve has come down to its floor there, where flare and noise hide steps."""
    return light[at] < 3 * light.min() and light[at] < 0.02 * light[0]


def _gain_and_flare(densities, light) -> tuple[float, float]:
    """Gain and flare of light = gain × 10^−D + flare by least squares of relative error; flare is never negative."""
    passed = 10**-densities
    terms = np.column_stack([passed, np.ones_like(passed)]) / light[:, None]
    (gain, flare), *_ = np.linalg.lstsq(terms, np.ones_like(light), rcond=None)
    if flare < 0 or gain <= 0:
        return float(np.exp(np.mean(np.log(light[:3] / passed[:3])))), 0.0
    return float(gain), float(flare)


def _light_error(scan: Scan, noise: float, flare: float) -> float:
    """How far a mean of many pixels may be off, share of white: rounding (less when noise dithers it) and flare."""
    rounding = 0.29 if noise < 0.3 else 0.05
    at = scan.code(max(flare, 1e-9)) + 0.5
    return float(scan.light(at + rounding) - scan.light(at)) + 0.01 * flare


def find_wedge(scan: Scan, cells: Cells, levels: Levels, densities: Sequence[float]) -> Wedge | None:
    """A wedge of these densities somewhere on the scan, or None.

    Looks for a row of even squares, clear to black or black to clear, along rows and columns of cells: the first patch
    that is neither clear nor black starts it. Only wedges that lie along the scan's width are looked for.
    """
    light = cells.light / levels.clear
    grey = ((light < 0.8) & (light > 0.03) & (_evenness(scan, cells) < 0.12)).astype(np.uint8)
    grey = cv2.morphologyEx(grey, cv2.MORPH_OPEN, np.ones((5, 5), np.uint8))
    count, _, boxes, _ = cv2.connectedComponentsWithStats(cv2.dilate(grey, np.ones((3, 9), np.uint8)))
    best = None
    for x, y, width, height, area in boxes[1:count]:
        if width < 2.5 * height or area < 0.5 * width * height or height < 6:
            continue
        found = _fit_steps(scan, cells, (x, y, width, height), densities)
        if found and (best is None or found[0] < best[0]):
            best = found
    return best[1] if best else None


def _evenness(scan, cells):
    low, high = scan.light(cells.low), scan.light(cells.high)
    return (high - low) / np.maximum(high, 1e-6) * (high > 0.02)


def _fit_steps(scan, cells, box, densities):
    """The placing inside a grey strip whose patch means fall most like the densities: (misfit, wedge) or None."""
    x, y, _, height = (v * cells.step_mm for v in box)
    given = np.array(densities)
    tried = []
    for patch in np.linspace(height * 0.7, height * 1.35, 27):
        for start in np.arange(max(0, x - 2.5 * patch), x + 1.5 * patch, patch / 10):
            placed = Wedge(float(start), float(max(0, y + height / 2 - patch / 2)), float(patch), tuple(given))
            unevenness = _unevenness(scan, placed)
            if unevenness is not None:
                tried.append((unevenness, placed))
    if not tried:
        return None
    # One patch further along is as even in itself: the fall of its densities tells which is the first.
    bar = 1.6 * min(t[0] for t in tried) + 0.005
    fits = [(_correlation(scan, placed, given), placed) for unevenness, placed in tried if unevenness <= bar]
    best, placed = max(fits, key=lambda f: f[0])
    return (1 - best, placed) if best > 0.97 else None


def _correlation(scan, wedge, given) -> float:
    seen = np.log10(np.maximum(measure_patches(scan, wedge), 1e-5))
    return abs(float(np.corrcoef(-seen, given)[0, 1])) if np.ptp(seen) > 0 else 0.0
