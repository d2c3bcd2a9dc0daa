"""Close photos of mesh by other laws than the simulation's: uneven spacing, threads that gather light, sharpening.

`python -m bench.other.meshes [photos]`: how far counts and threads lie off, how often intervals hold, what is refused.
"""

import math
import sys
from dataclasses import dataclass

import cv2
import numpy as np

from frimble.core.mesh.geometry import USUAL_MESHES
from frimble.core.mesh.reading.reading import read_mesh
from frimble.core.settings import HouseSettings

_PHOTOS, _SEED = 40, 71_000


@dataclass(frozen=True)
class Close:
    """What was photographed, and how."""

    count_per_cm: float
    thread_um: float
    px_mm: float
    turn_deg: float
    photo: np.ndarray


def make(rng: np.random.Generator, meshes, px_mm: tuple[float, float] = (25.0, 95.0)) -> Close:
    """One photo, 1800 by 1350 px.

    Args:
        meshes: (per inch, per cm, µm) to draw from. px_mm: least and greatest scale.
    """
    _, count, thread = meshes[rng.integers(len(meshes))]
    scale, turn = float(rng.uniform(*px_mm)), float(rng.uniform(0, 90))
    light = _cloth(rng, count / 10, thread / 1000, scale, turn)
    return Close(count, thread, scale, turn, _photographed(rng, light, scale))


def _cloth(rng, per_mm: float, thread_mm: float, scale: float, turn_deg: float) -> np.ndarray:
    """Light through round threads that lie a little uneven, brighter along their middle, darker where they cross."""
    high, wide, finer = 1350, 1800, 2
    y, x = np.mgrid[0 : high * finer, 0 : wide * finer].astype(np.float32)
    turn, skew = math.radians(turn_deg), math.radians(rng.normal(0, 0.5))
    reach = math.hypot(wide, high) / scale
    light = np.ones_like(x)
    passes, gathers = rng.uniform(0.08, 0.5), rng.uniform(0, 0.35)
    for way in (turn, turn + math.pi / 2 + skew):
        at = (x * math.cos(way) + y * math.sin(way)) / (finer * scale) + reach
        number = round(2.5 * reach * per_mm)
        middles = np.cumsum(1 / per_mm * (1 + rng.normal(0, 0.03, number)))
        middles *= number / per_mm / middles[-1]
        nearest = np.clip(np.round(at * per_mm).astype(int) - 1, 0, number - 1)
        off = np.min([np.abs(at - middles[np.clip(nearest + k, 0, number - 1)]) for k in (-1, 0, 1)], 0)
        depth = np.clip(off / (thread_mm / 2), 0, 1)
        through = np.where(
            depth < 1, passes * (1 - 0.5 * depth**2) + gathers * np.exp(-((depth / 0.2) ** 2)) * passes, 1
        )
        light *= through.astype(np.float32)
    return cv2.resize(light, (wide, high), interpolation=cv2.INTER_AREA)


def _photographed(rng, light: np.ndarray, scale: float) -> np.ndarray:
    """Defocus, room light, dust, a colour filter in front of each pixel, noise, sharpening, tone curve, JPEG."""
    high, wide = light.shape
    radius = rng.uniform(0.4, 1.8)
    size = 2 * math.ceil(radius) + 1
    y, x = np.mgrid[0:size, 0:size] - size // 2
    disc = np.clip(radius + 0.5 - np.hypot(x, y), 0, 1).astype(np.float32)
    seen = cv2.filter2D(light, -1, disc / disc.sum())
    ys, xs = np.mgrid[0:high, 0:wide]
    lamp = 1 - rng.uniform(0, 0.5) * np.hypot(xs / wide - rng.uniform(0.2, 0.8), ys / high - rng.uniform(0.2, 0.8))
    seen = seen * lamp + rng.uniform(0, 0.06)
    for _ in range(rng.integers(0, 6)):
        cv2.circle(seen, (int(rng.integers(wide)), int(rng.integers(high))), int(rng.uniform(4, 30)), 0.1, -1)
    seen = seen * rng.uniform(0.7, 1.15)
    tint = np.array([1, rng.uniform(0.85, 1), rng.uniform(0.6, 1)])
    filters = np.zeros((high, wide), int)
    filters[0::2, 1::2] = filters[1::2, 0::2] = 1
    filters[1::2, 1::2] = 2
    raw = seen * tint[filters]
    raw = np.clip(raw + rng.normal(0, 0.006, raw.shape) * np.sqrt(np.maximum(raw, 0.01)) * 2, 0, 1)
    colour = cv2.cvtColor((raw * 65535).astype(np.uint16), cv2.COLOR_BayerRG2BGR).astype(np.float32) / 65535
    sharp = colour + rng.uniform(0, 0.9) * (colour - cv2.GaussianBlur(colour, (0, 0), 1.2))
    toned = np.clip(sharp, 0, 1) ** (1 / rng.uniform(1.9, 2.5))
    _, data = cv2.imencode(
        ".jpg", (toned * 255).astype(np.uint8), [cv2.IMWRITE_JPEG_QUALITY, int(rng.integers(70, 96))]
    )
    return np.ascontiguousarray(cv2.imdecode(data, cv2.IMREAD_COLOR)[:, :, ::-1])


def main(photos: int) -> None:
    """Print the figures."""
    off, threads, held, refused = [], [], 0, 0
    for k in range(photos):
        made = make(np.random.default_rng(_SEED + k), USUAL_MESHES)
        reading = read_mesh(made.photo, HouseSettings(), made.px_mm)
        if reading.refused:
            refused += 1
            continue
        off.append(abs(reading.count_per_cm / made.count_per_cm - 1))
        held += reading.count_low <= made.count_per_cm <= reading.count_high
        if reading.thread_um:
            threads.append(abs(reading.thread_um / made.thread_um - 1))
    read = photos - refused
    print(f"{photos} photos, {refused} refused; count within 2 %: {sum(o <= 0.02 for o in off)} of {read}")
    print(f"farthest off {max(off):.2%}; interval holds {held} of {read}")
    print(f"thread measured on {len(threads)}: median {np.median(threads):.1%} off, farthest {max(threads):.0%}")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else _PHOTOS)
