"""Simulated photos of step tests, for tests and benches: each from a seed, with the truth beside it."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache
from typing import Any

import numpy as np

from frimble.core.exposure.target import geometry, writers
from frimble.core.settings import HouseSettings
from frimble.core.simulation.photo import COLOURS, HiddenStencil, PhoneCamera, photograph, stencil_light

DPI = 600
# Seeds from here on were never looked at while the reader was being made.
UNTOUCHED = 50_000


@dataclass(frozen=True)
class Shot:
    """A photo with what is true of it."""

    data: bytes
    target: geometry.Target
    times_s: tuple[float, ...]
    coat: HiddenStencil

    @property
    def window_s(self) -> tuple[float, float]:
        """True window for an opening of 150 µm, s."""
        return self.coat.full_cure_s, self.coat.closes_s(150)


@cache
def film(steps: int) -> tuple[geometry.Target, np.ndarray]:
    target = geometry.design(steps, DPI, HouseSettings())
    return target, writers.raster(target)


def edges_mm(target: geometry.Target) -> list[float]:
    return [s.x_mm for s in target.steps] + [target.steps[-1].x_mm + target.steps[-1].width_mm]


def shoot(
    seed: int,
    coat: dict[str, Any] | None = None,
    camera: dict[str, Any] | None = None,
    first: float | None = None,
    ratio: float | None = None,
    steps: int = 9,
    washed: float = 0.0,
) -> Shot:
    """A photo within what the reader must stand: tilt to 12°, turn to ±8° or upside down, uneven light to ±8 %, JPEG, noise.

    Args:
        coat, camera: set these of their attributes. first: first step's time over full cure. ratio: from step to step.
        washed: share of each strip well short of cure that washed away, from one side.
    """
    rng = np.random.default_rng(seed)
    hidden = HiddenStencil(
        rng.uniform(3, 40),
        rng.uniform(3.5, 6.5),
        rng.uniform(30, 60),
        rng.uniform(1.5, 3.5),
        rng.uniform(0, 0.08),
        rng.uniform(0, 0.2),
        tuple(np.array(list(COLOURS.values())[rng.integers(len(COLOURS))]) * rng.uniform(0.6, 1.3)),
    )
    phone = PhoneCamera(
        tilt_deg=tuple(rng.uniform(-8.5, 8.5, 2)),
        turn_deg=rng.uniform(-8, 8) + 180 * (rng.random() < 0.2),
        mirrored=bool(rng.random() < 0.25),
        uneven=0.08 * math.sqrt(rng.random()),
        distortion=rng.uniform(-0.03, 0.05),
        blur_px=rng.uniform(0.6, 1.7),
        sharpen=rng.choice([0, 0, 0.5, 1.0]),
        noise=rng.uniform(0.003, 0.012),
        quality=int(rng.integers(75, 96)),
        fills=rng.uniform(0.75, 0.88),
        level=rng.uniform(0.45, 0.8),
    )
    hidden, phone = replace(hidden, **(coat or {})), replace(phone, **(camera or {}))
    ratio = ratio or float(rng.choice([1.2, 1.26, 1.3, 1.35]))
    first = first or ratio ** -float(rng.uniform(2, 3.2))
    times = tuple(hidden.full_cure_s * first * ratio**k for k in range(steps))
    if "threads_per_cm" not in (coat or {}):
        hidden = replace(hidden, threads_per_cm=float(rng.choice([0, 32, 43, 77])))
    target, drawn = film(steps)
    lit = stencil_light(drawn, DPI, edges_mm(target), times, hidden)
    _wash_away(lit, target, times, hidden, washed)
    return Shot(photograph(lit, phone, seed), target, times, hidden)


def _wash_away(
    lit: np.ndarray, target: geometry.Target, times_s: Sequence[float], coat: HiddenStencil, share: float
) -> None:
    """Open the mesh over a part of every strip that got less than nine tenths of full cure."""
    rows, edges = round(lit.shape[0] * share), [round(e / 25.4 * DPI) for e in edges_mm(target)]
    for k, time in enumerate(times_s):
        if rows and time < 0.9 * coat.full_cure_s:
            lit[:rows, edges[k] : edges[k + 1]] = lit[:, edges[k] : edges[k + 1]].max()
