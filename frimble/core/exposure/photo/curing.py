"""Full cure from how dense the stencil is on each step.

What is not cured through washes off from behind, so the stencil's density rises with the logarithm of time until the coat
is cured through, and no further: the knee is full cure.

Source: Jacobs, Rapid Prototyping & Manufacturing (1992), working curve C = Dp ln(E / Ec), up to the coat's thickness.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from frimble.core.conclusions import Settings
from frimble.core.statistics.normal import Z_90

_GRID_STEP = 0.005
_RATIOS = np.log(np.geomspace(2.2, 12, 31))
_RATIO_SD = 0.3
# A thinner stencil than this share of the thickest may have come off as a whole, and tells nothing of its cure.
_LEAST_SHARE = 0.3
# Densities are no better known than this share, whatever their copies say: coats differ from place to place.
_FLOOR = 0.02
_SLOPE_AFTER = 0.04


@dataclass(frozen=True)
class Cure:
    """Where the stencil is cured through.

    Attributes:
        ln_full: ln s, best estimate; sd: of it. ln_ratio: ln of full cure over gel. full_density: of the cured stencil.
        below, above: probability that full cure lies before the first step, after the last.
        noise: of one density.
    """

    ln_full: float
    sd: float
    ln_ratio: float
    full_density: float
    below: float
    above: float
    noise: float

    @property
    def full_s(self) -> float:
        return math.exp(self.ln_full)

    @property
    def gel_s(self) -> float:
        return math.exp(self.ln_full - self.ln_ratio)

    def range_s(self, reach: float = Z_90) -> tuple[float, float]:
        """Between which it lies, nine times out of ten."""
        return math.exp(self.ln_full - reach * self.sd), math.exp(self.ln_full + reach * self.sd)


def find_cure(
    times_s: np.ndarray | Sequence[float], density: np.ndarray, differs: np.ndarray, settings: Settings
) -> Cure | None:
    """The knee of density against ln time; None when fewer than three steps hold a stencil.

    Args:
        times_s, density, differs: (steps,) s, density, and by how much copies on one step differ; NaN where not measured.
    """
    times, density = np.asarray(times_s, float), np.asarray(density, float)
    thickest = np.nanmax(density)
    held = np.isfinite(density) & (density > _LEAST_SHARE * thickest)
    if held.sum() < 3:
        return None
    x, y = np.log(times[held]), density[held]
    noise = max(_FLOOR * thickest, float(np.nanmedian(np.asarray(differs)[held])) / 1.7, 0.004)
    # The knee may lie well outside of what was tested; there the data say only that.
    knees = np.arange(x[0] - 1.2, x[-1] + 1.2, _GRID_STEP)
    fit = _fit(x, y, knees, noise, math.log(settings["exposure.cure_over_gel"]))
    return _summed(fit, knees, np.log(times), noise)


def _fit(
    x: np.ndarray, y: np.ndarray, knees: np.ndarray, noise: float, ratio_prior: float
) -> tuple[np.ndarray, np.ndarray]:
    """(knees, ratios) log posterior, and the cured density of each, with the small slope after the knee summed out."""
    short = np.clip(knees[:, None, None] - x, 0, None) / _RATIOS[:, None]
    shape = np.clip(1 - short, 0, 1)
    late = np.clip(x - knees[:, None, None], 0, None) + 0 * shape
    # Two linear unknowns, cured density and the slope after it, solved in closed form; the slope is held near none.
    top = float(y.max())
    a11, a12 = (shape * shape).sum(-1) + 1e-9, (shape * late).sum(-1)
    a22 = (late * late).sum(-1) + (noise / (_SLOPE_AFTER * top)) ** 2
    b1, b2 = (shape * y).sum(-1), (late * y).sum(-1)
    det = a11 * a22 - a12 * a12
    full, slope = (a22 * b1 - a12 * b2) / det, (a11 * b2 - a12 * b1) / det
    off = y - full[..., None] * shape - slope[..., None] * late
    misfit = (off**2).sum(-1) + (slope * noise / (_SLOPE_AFTER * top)) ** 2
    # A stencil denser than any that was seen is believed only a little: it would lie beyond the last step.
    beyond = np.clip(full / top - 1.05, 0, None) / 0.3
    score = -misfit / 2 / noise**2 - ((_RATIOS - ratio_prior) / _RATIO_SD) ** 2 / 2 - beyond**2 / 2
    return score, full


def _summed(fit: tuple[np.ndarray, np.ndarray], knees: np.ndarray, x_all: np.ndarray, noise: float) -> Cure:
    score, full = fit
    weight = np.exp(score - score.max())
    weight /= weight.sum()
    by_knee, by_ratio = weight.sum(1), weight.sum(0)
    mean = float(by_knee @ knees)
    sd = float(np.sqrt(by_knee @ (knees - mean) ** 2))
    below, above = float(by_knee[knees < x_all[0]].sum()), float(by_knee[knees > x_all[-1]].sum())
    return Cure(mean, max(sd, 0.01), float(by_ratio @ _RATIOS), float((weight * full).sum()), below, above, noise)
