"""A wedge's patches on a scan: what they read, and how they lie turned."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from frimble.core.conclusions import InvalidInput
from frimble.core.film.scan.grid import Scan
from frimble.core.film.wedge.definition import Wedge

# Share of a patch's side that is measured: its rim is blurred by the lens and by a hand that places it.
_CORE = 0.5


def measure_patches(scan: Scan, wedge: Wedge, illumination: Callable[..., Any] | None = None) -> np.ndarray:
    """(n,) mean share of white over the core of each patch; `illumination(x_mm, y_mm)` evens the scanner's light.

    Raises:
        InvalidInput: a patch lies off the scan.
    """
    windows = windows_of(scan, wedge)
    if windows is None:
        raise InvalidInput("The wedge reaches beyond the scan. Check its corner and patch size.", "wedge")
    share = np.array([float(w.mean()) for w in windows])
    if illumination is None:
        return share
    return np.asarray(share / illumination(*wedge.patch_centres_mm().T))


def straighten(scan: Scan, wedge: Wedge) -> Wedge:
    """The same wedge turned as it lies: the placing whose patches are most even in themselves.

    Raises:
        InvalidInput: no placing lies on the scan.
    """
    best = _evenest(scan, wedge, np.arange(-5, 5.01, 1.0), samples=12)
    if best is None:
        width, height = scan.size_mm
        raise InvalidInput(
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
            misfit = unevenness(scan, tried, samples)
            # A turn must earn its keep: with the corner given, lying straight is the first belief.
            if misfit is not None and misfit * (1 + 0.02 * abs(angle)) < least:
                best, least = tried, misfit * (1 + 0.02 * abs(angle))
    return best


def _turned(wedge: Wedge, about: np.ndarray, angle_deg: float) -> np.ndarray:
    """Where the wedge's corner comes to lie when the whole sheet is turned about its middle."""
    turn = np.deg2rad(angle_deg)
    x, y = np.array([wedge.x_mm, wedge.y_mm]) - about
    return np.asarray(about + np.array([x * np.cos(turn) + y * np.sin(turn), -x * np.sin(turn) + y * np.cos(turn)]))


def unevenness(scan: Scan, wedge: Wedge, samples: int = 16) -> float | None:
    """Mean spread of log light inside the patches over what they span, or None off the scan."""
    windows = windows_of(scan, wedge, samples)
    if windows is None:
        return None
    logs = np.log10(np.maximum(np.stack(windows), 1e-5))
    span = np.ptp(logs.mean(axis=(1, 2)))
    return float(_spread(logs).mean()) / max(float(span), 1e-3)


def _spread(windows: np.ndarray) -> np.ndarray:
    """How far the four quarters of each window (n, rows, columns) differ in their means, (n,): noise averages out, a step
    between patches does not."""
    rows, columns = (n // 2 for n in windows.shape[1:])
    halves = windows[:, :rows], windows[:, rows:]
    quarters = [part.mean(axis=(1, 2)) for half in halves for part in (half[:, :, :columns], half[:, :, columns:])]
    return np.asarray(np.ptp(quarters, axis=0) + 0.1 * windows.std(axis=(1, 2)))


def windows_of(scan: Scan, wedge: Wedge, samples: int | None = None) -> list[np.ndarray] | None:
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
