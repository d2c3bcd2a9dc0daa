"""When openings close: light creeps under the film's edge until the middle of an opening has had the gel dose.

A fresh skin is too thin to be seen, so the end is not read off the photo: the creeping is measured on openings of all
widths and all steps at once, and the dose in the middle of an opening follows from it.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy import special

from frimble.core.exposure.photo.curing import Cure
from frimble.core.exposure.target.geometry import PITCH_WIDTHS

_SPREADS = np.geomspace(6, 260, 64)
_GAINS = np.linspace(-30, 30, 13)
_GAIN_SD = 12.0
_POINTS = 40
_NOISE = 0.05
# What the picture of straight edges and even creeping leaves out, in ln of time.
_MODEL_SD = 0.15
_SEEN_SCUM = 0.12


@dataclass(frozen=True)
class Creep:
    """How far light creeps.

    Attributes:
        spreads_um, gains_um: (n,) sigma of the creeping and by how much openings are wider than drawn, µm; weights of each.
        leak: share of the light that the film's black lets through. misfit: root mean square, in shares of an opening.
    """

    spreads_um: np.ndarray
    gains_um: np.ndarray
    weights: np.ndarray
    leak: float
    misfit: float
    gel_s: float

    @property
    def spread_um(self) -> float:
        return float(self.weights @ self.spreads_um)

    def closes(self, opening_um: float) -> tuple[float, float]:
        """ln s at which an opening drawn so wide closes, and its standard deviation."""
        half = np.clip(opening_um + self.gains_um, 1, None) / 2
        creeping = special.erfc(half / (self.spreads_um * math.sqrt(2)))
        # Beyond any exposure it is all the same how far beyond.
        at = math.log(self.gel_s) - np.log(np.clip(creeping * (1 - self.leak) + self.leak, 1e-4, None))
        mean = float(self.weights @ at)
        return mean, math.hypot(float(np.sqrt(self.weights @ (at - mean) ** 2)), _MODEL_SD)


def find_creep(
    times_s: Sequence[float] | np.ndarray,
    open_share: np.ndarray,
    widths_um: Sequence[float],
    scum: np.ndarray,
    cure: Cure,
) -> Creep | None:
    """The creeping that explains how open the openings of every width are on every cured step; None where none is cured.

    Args:
        open_share: (steps, widths), 1 where as open as drawn. scum: (steps,) density where the film was black.
    """
    times, shares = np.asarray(times_s, float), np.asarray(open_share, float)
    leak = _leak(times, scum, cure)
    used = (np.log(times) > cure.ln_full - 0.15)[:, None] & np.isfinite(shares)
    if not used.any():
        return None
    spread, gain = (v.ravel() for v in np.meshgrid(_SPREADS, _GAINS, indexing="ij"))
    score, squares = -((gain / _GAIN_SD) ** 2) / 2, np.zeros(len(spread))
    for k, width in enumerate(widths_um):
        at = used[:, k]
        if at.any():
            off = _expected(times[at], width, spread, gain, leak, cure) - shares[at, k]
            # Long tails: a patch with dirt on it must not pull the rest.
            score -= 2 * np.log1p((off / _NOISE) ** 2 / 4).sum(1)
            squares += (off**2).sum(1)
    weight = np.exp(score - score.max())
    weight /= weight.sum()
    misfit = math.sqrt(float(squares[np.argmax(weight)]) / used.sum())
    keep = weight > 1e-6
    return Creep(spread[keep], gain[keep], weight[keep] / weight[keep].sum(), leak, misfit, cure.gel_s)


def _leak(times: np.ndarray, scum: np.ndarray, cure: Cure) -> float:
    """Share of the light that comes through the black, from the scum it left; 0 while none is seen."""
    share = np.asarray(scum, float) / cure.full_density
    seen = (share > _SEEN_SCUM) & (share < 0.95)
    if not seen.any():
        return 0.0
    return float(np.median(np.exp(share[seen] * cure.ln_ratio) * cure.gel_s / times[seen]))


def _expected(
    times: np.ndarray, width_um: float, spread: np.ndarray, gain: np.ndarray, leak: float, cure: Cure
) -> np.ndarray:
    """(n, steps) of how open a field of openings looks, 1 as drawn, for each spread and gain."""
    pitch = PITCH_WIDTHS * width_um
    x = (np.arange(_POINTS) + 0.5) / _POINTS * pitch / 2
    half = np.clip(width_um + gain, 1, None)[:, None] / 2
    dark = np.zeros((len(spread), _POINTS))
    for n in (-1, 0, 1):
        off = x - n * pitch
        dark += special.ndtr((off + half) / spread[:, None]) - special.ndtr((off - half) / spread[:, None])
    light = (1 - np.clip(dark, 0, 1)) * (1 - leak) + leak
    dose = np.log(np.clip(light, 1e-6, None))[:, None, :] + np.log(times / cure.gel_s)[None, :, None]
    cured = np.clip(dose / cure.ln_ratio, 0, 1)
    solid = 10**-cure.full_density
    seen = (np.exp(-math.log(10) * cure.full_density * cured).mean(-1) - solid) / (1 - solid)
    return np.asarray(seen * PITCH_WIDTHS)
