"""From light to density: the curve of a wedge, or of the scanner's coding alone."""

from dataclasses import dataclass

import numpy as np

from frimble.core.conclusions import InvalidInput
from frimble.core.film.scan.grid import Scan
from frimble.core.film.wedge.definition import Wedge

_ERROR_WANTED = 0.05
# A fitted curve is believed this far beyond the densest patch.
_BEYOND = 0.3


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
        InvalidInput: the patches do not darken as their densities rise: there is no such wedge here.
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


def _must_darken(scan, densities, light, wedge) -> None:
    # Only steps the file can hold count: deep patches of a linear 8-bit scan are all code 0 or 1.
    held = light[:-1] > float(scan.light(2.0))
    wrong = np.flatnonzero(held & (light[1:] > light[:-1] * 0.97) & (np.diff(densities) > 0.1))
    span = np.log10(light[0] / light[-1])
    if len(wrong) > 0 and not _deep(light, wrong[0]):
        patch = int(wrong[0]) + 2
        raise InvalidInput(
            f"There is no such wedge at {wedge.x_mm:g}, {wedge.y_mm:g} mm: patch {patch} is no darker than the one before. "
            "Place it again, or check its densities.",
            "wedge",
        )
    if span < 0.5 * min(densities[-1] - densities[0], 2.0):
        raise InvalidInput(
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
