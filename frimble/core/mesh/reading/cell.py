"""Opening and thread of a weave: many cells laid over one another, and a slit fitted to what light they pass."""

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from scipy.optimize import least_squares

from frimble.core.mesh.reading.weave import WINDOW, Weave, wave

_BINS = 60
# The profile is taken through the middle of the openings: this far to either side, of a pitch.
_BESIDE = 0.12
# Edges that run wider than this, of a pitch, leave no flat middle to see; a worse fit than this is no slit.
_MOST_SPREAD, _WORST_FIT = 0.17, 0.09


@dataclass(frozen=True)
class Slit:
    """What one thread system leaves open, as shares of its pitch."""

    opening: float
    spread: float
    misfit: float

    @property
    def resolved(self) -> bool:
        return self.spread <= min(_MOST_SPREAD, 0.55 * self.opening) and self.misfit <= _WORST_FIT


def slits(tiles: Sequence[np.ndarray], weaves: Sequence[Weave]) -> tuple[Slit, Slit]:
    """The slits of both thread systems over several tiles of one photo."""
    return _slit_of(tiles, weaves, 0), _slit_of(tiles, weaves, 1)


def _slit_of(tiles: Sequence[np.ndarray], weaves: Sequence[Weave], system: int) -> Slit:
    profiles = [_profile(t, w, system) for t, w in zip(tiles, weaves, strict=True)]
    return _fitted(np.nanmedian(np.array(profiles), axis=0))


def _profile(tile: np.ndarray, weave: Weave, system: int) -> np.ndarray:
    """(bins,) light across one thread system, 0 at the middle of an opening, over its mean."""
    left, top = weave.clear_at
    tile = tile[top : top + WINDOW, left : left + WINDOW]
    window = cv2.createHanningWindow(tile.shape, cv2.CV_32F)
    y, x = np.mgrid[0:WINDOW, 0:WINDOW]
    phases = [np.angle(wave((tile - tile.mean()) * window, v)) for v in weave.vectors]
    places = [x * v[0] + y * v[1] + p / (2 * np.pi) for v, p in zip(weave.vectors, phases, strict=True)]
    across, along = (places[k] - np.round(places[k]) for k in (system, 1 - system))
    kept = np.abs(along) < _BESIDE
    bins = np.floor((across[kept] + 0.5) * _BINS).astype(int) % _BINS
    number = np.bincount(bins, minlength=_BINS)
    light = np.bincount(bins, tile[kept], _BINS)
    with np.errstate(invalid="ignore", divide="ignore"):
        profile = light / number
    return np.asarray(profile / np.nanmean(profile))


def _fitted(profile: np.ndarray) -> Slit:
    """A slit with soft edges through a profile: base, height, opening and spread."""
    at = (np.arange(_BINS) + 0.5) / _BINS - 0.5
    waves = np.arange(1, 9)
    cosines = np.cos(2 * np.pi * np.outer(at, waves))

    def model(opening: float, spread: float) -> np.ndarray:
        strengths = 2 * np.sin(np.pi * waves * opening) / (np.pi * waves) * np.exp(-2 * (np.pi * spread * waves) ** 2)
        return np.asarray(opening + cosines @ strengths)

    def off(values: np.ndarray) -> np.ndarray:
        base, height, opening, spread = values
        return np.asarray(base + height * model(opening, spread) - profile)

    low, high = float(profile.min()), float(profile.max())
    best = min(
        (
            least_squares(off, (low, high - low, start, 0.08), bounds=([-1, 0, 0.08, 0.005], [3, 9, 0.94, 0.4]))
            for start in (0.35, 0.6)
        ),
        key=lambda fit: fit.cost,
    )
    misfit = float(np.sqrt(np.mean(best.fun**2))) / max(high - low, 1e-6)
    return Slit(float(best.x[2]), float(best.x[3]), misfit)
