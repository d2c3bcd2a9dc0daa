"""From light to density: the curve of a wedge, or of the scanner's coding alone."""

from dataclasses import dataclass

import numpy as np

from frimble.core.conclusions import InvalidInput
from frimble.core.film.scan.grid import Scan
from frimble.core.film.wedge.definition import Wedge

_ERROR_WANTED = 0.05
# A patch of a wedge is known within this share of its light.
_RELATIVE = 0.02
_TABLE_STEP = 0.0005


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

    def of(self, light: float | np.ndarray) -> np.ndarray:
        """Density for shares of white of any shape; never above the curve's last point."""
        return np.asarray(np.interp(-np.log10(np.maximum(light, 1e-9)), -np.log10(self.light), self.density))

    def over(self, light: np.ndarray) -> np.ndarray:
        """As `of`, float32, to 0.0005 of a density, for every cell of a sheet: looked up in a table of even steps."""
        first, last = -np.log10(self.light[0]), -np.log10(self.light[-1])
        steps = np.arange(int((last - first) / _TABLE_STEP) + 2)
        table = np.interp(first + steps * _TABLE_STEP, -np.log10(self.light), self.density).astype(np.float32)
        place = (-np.log10(np.maximum(light, 1e-9)) - first) / _TABLE_STEP + 0.5
        return np.asarray(table[np.clip(place, 0, steps[-1]).astype(np.int32)])

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

    Light is gain × 10^−D + flare, fitted with each patch weighted by how well its light is known: within a share of itself,
    and within what the file's rounding hides; what the fit leaves is laid on linearly between patches, so that the curve
    goes through them. Where patches no longer tell their steps the curve ends; beyond it is only "at least".

    Args:
        share: (n,) mean share of white of each patch, evened for the scanner's illumination. noise: black's sigma, codes.

    Raises:
        InvalidInput: the patches do not darken as their densities rise: there is no such wedge here.
    """
    order = np.argsort(wedge.densities)
    densities, light = np.array(wedge.densities)[order], np.maximum(np.asarray(share, float)[order], 1e-6)
    _must_darken(scan, densities, light, wedge)
    gain, flare = _gain_and_flare(densities, light, np.array([_rounding(scan, noise, v) for v in light]))
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
    # Stray light at the black is not that at the wedge: beyond the last patch the fit was up to 0.14 off.
    ceiling = min(ceiling, float(densities[usable][-1]))
    return Curve(grid, np.maximum.accumulate(model + shift), ceiling, wedge)


def _must_darken(scan: Scan, densities: np.ndarray, light: np.ndarray, wedge: Wedge) -> None:
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


def _deep(light: np.ndarray, at: int) -> bool:
    """Whether the curve has come down to its floor there, where flare and noise hide steps."""
    return bool(light[at] < 3 * light.min() and light[at] < 0.02 * light[0])


def _gain_and_flare(densities: np.ndarray, light: np.ndarray, rounding: np.ndarray) -> tuple[float, float]:
    """Gain and flare of light = gain × 10^−D + flare by weighted least squares; flare is never negative, nor more than
    the darkest patch lets through.

    Args:
        rounding: (n,) what the file's whole codes hide of each patch's light.
    """
    passed = 10**-densities
    doubt = np.maximum(_RELATIVE * light, rounding)
    terms = np.column_stack([passed, np.ones_like(passed)]) / doubt[:, None]
    (gain, flare), *_ = np.linalg.lstsq(terms, light / doubt, rcond=None)
    if flare < 0 or gain <= 0 or flare > light.min() + rounding.max():
        return float(np.exp(np.mean(np.log(light[:3] / passed[:3])))), 0.0
    return float(gain), float(flare)


def _light_error(scan: Scan, noise: float, flare: float) -> float:
    """How far a mean of many pixels may be off, share of white: rounding (less when noise dithers it) and flare."""
    return _rounding(scan, noise, flare) + 0.01 * flare


def _rounding(scan: Scan, noise: float, light: float) -> float:
    """What whole codes hide of a light, share of white: less when noise dithers it. Never nothing."""
    hidden = 0.29 if noise < 0.3 else 0.05
    at = scan.code(max(light, 1e-9)) + 0.5
    return float(scan.light(at + hidden) - scan.light(at))
