"""Photos of step tests by other laws: a lamp that is a disc with a halo, a coat that bleaches, a ragged wash, a panel of
lights, a lens of two terms with vignetting, another tone curve.
"""

from dataclasses import dataclass

import cv2
import numpy as np
from scipy import special

from frimble.core.exposure.photo.reading import read_photo
from frimble.core.exposure.target import geometry
from frimble.core.testing.step_photos import edges_mm, film

_PHOTOS, _UNEVEN, _SEED, _DPI = 20, 8, 96_000, 600
_PX_UM = 25_400 / _DPI
_DETAIL_UM, _STEPS = 150, 9
_SIZE = (4032, 3024)


@dataclass(frozen=True)
class Coat:
    """A coat under a lamp: all that its window follows from.

    Attributes:
        gel_s: to its gel under clear film. ratio: full cure over gel. bends: power by which cure runs behind the logarithm.
        disc_um: radius of the lamp's shadow. halo_um, halo: reach and share of what glass and mesh scatter.
        leak: through black. holds: share of the thickness that survives the wash.
    """

    gel_s: float
    ratio: float
    bends: float
    disc_um: float
    halo_um: float
    halo: float
    leak: float
    holds: float

    def cured(self, dose: np.ndarray) -> np.ndarray:
        """Share of the thickness, from dose over that which gels."""
        return np.clip(np.log(np.maximum(dose, 1)) / np.log(self.ratio), 0, 1) ** self.bends

    def spread(self, light: np.ndarray, px_um: float) -> np.ndarray:
        direct = cv2.filter2D(light, -1, _disc(self.disc_um / px_um))
        # A halo with long tails, as two of other reaches.
        wide = sum(cv2.GaussianBlur(light, (0, 0), k * self.halo_um / px_um) for k in (1, 2.5)) / 2
        return (1 - self.halo) * direct + self.halo * wide

    @property
    def window_s(self) -> tuple[float, float]:
        """Full cure, and when a skin stays in the middle of a long opening of `_DETAIL_UM`; worked out on a fine raster."""
        px_um, wide = 5.0, 400
        bar = np.ones((3 * wide, 3 * wide), np.float32)
        half = round(_DETAIL_UM / px_um / 2)
        middle = 3 * wide // 2
        bar[:, middle - half : middle + half] = self.leak
        light = float(self.spread(bar, px_um)[middle, middle])
        return self.gel_s * self.ratio, self.gel_s * self.ratio ** (self.holds ** (1 / self.bends)) / light


def _disc(radius: float) -> np.ndarray:
    """An even disc as a kernel: what of it falls on each pixel, looked at in many places of each."""
    reach, finer = int(np.ceil(radius)), 15
    places = (np.arange((2 * reach + 1) * finer) + 0.5) / finer - reach - 0.5
    inside = (np.hypot(places[:, None], places) <= radius).astype(np.float32)
    kernel = inside.reshape(2 * reach + 1, finer, 2 * reach + 1, finer).mean((1, 3))
    return kernel / kernel.sum()


def coat(rng) -> Coat:
    return Coat(
        rng.uniform(2, 30), rng.uniform(3.5, 6), rng.uniform(0.9, 1.15), rng.uniform(45, 85), rng.uniform(60, 110),
        rng.uniform(0.04, 0.12), 10 ** -rng.uniform(1.8, 3.2), rng.uniform(0.02, 0.15),
    )  # fmt: skip


def washed(target: geometry.Target, drawn: np.ndarray, times_s, of: Coat, rng) -> np.ndarray:
    """(h, w, 3) light that the rinsed test lets through, 0..1."""
    light = drawn.astype(np.float32) / 255 * (1 - of.leak) + of.leak
    light = of.spread(light, _PX_UM) * _wavy(light.shape, rng, 3, 0.015)
    edges = np.asarray(edges_mm(target)[1:-1]) * 1000 / _PX_UM
    strip = np.searchsorted(edges, np.arange(light.shape[1]), side="right")
    share = of.cured(light * (np.asarray(times_s, np.float32)[strip] / of.gel_s))
    # The wash takes what holds too little, here a little more, there a little less.
    share[share < of.holds * _wavy(light.shape, rng, 40, 0.15)] = 0
    share *= _wavy(light.shape, rng, 8, 0.02)
    colour = rng.permutation([rng.uniform(0.8, 1.2), rng.uniform(0.3, 0.7), rng.uniform(0.1, 0.3)])
    mesh = _wavy(light.shape, rng, 200, 0.02)
    stray = 0.004
    return np.stack([mesh * ((1 - stray) * 10 ** (-d * share) + stray) for d in colour], -1)


def _wavy(shape, rng, scale: int, size: float) -> np.ndarray:
    """A smooth field round 1."""
    coarse = rng.standard_normal((scale, scale)).astype(np.float32)
    return 1 + size * cv2.resize(coarse, shape[1::-1], interpolation=cv2.INTER_CUBIC)


def tubes(shape, rng) -> np.ndarray:
    """(h, w) light of a panel with tubes behind it, the brightest 1."""
    y, x = _places(shape)
    way, apart = rng.uniform(0, np.pi), rng.uniform(0.2, 0.5)
    return 0.8 + 0.2 * np.cos(2 * np.pi * ((x * np.cos(way) + y * np.sin(way)) / apart + rng.random()))


def bar(shape, rng) -> np.ndarray:
    """A window's bar across the photo."""
    y, x = _places(shape)
    way, wide = rng.uniform(0, np.pi), rng.uniform(0.015, 0.05)
    off = (x - rng.uniform(0.3, 0.7)) * np.cos(way) + (y - rng.uniform(0.2, 0.5)) * np.sin(way)
    return 1 - rng.uniform(0.4, 0.6) * special.expit((wide - np.abs(off)) / 0.004)


def shadow(shape, rng) -> np.ndarray:
    """Something before the lamp, over one corner."""
    y, x = _places(shape)
    off = np.hypot(x - round(rng.random()), y - 0.75 * round(rng.random()))
    return 1 - rng.uniform(0.4, 0.6) * special.expit((rng.uniform(0.3, 0.5) - off) / 0.01)


def _places(shape):
    """y, x over the photo, in its widths."""
    return np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float32) / shape[1]


def shoot(light: np.ndarray, rng, behind=None) -> bytes:
    """The photo, as a phone of another maker takes it; `behind` gives what the table's light is multiplied by."""
    width, height = _SIZE
    rows, columns = light.shape[:2]
    focal = width * rng.uniform(0.72, 0.85)
    turn = np.radians([rng.uniform(-8, 8), rng.uniform(-8, 8), rng.uniform(-8, 8) + 180 * (rng.random() < 0.2)])
    rotation = cv2.Rodrigues(np.array([0, 0, turn[2]]))[0] @ cv2.Rodrigues(np.array([turn[0], turn[1], 0.0]))[0]
    flip = np.diag([-1.0 if rng.random() < 0.25 else 1.0, 1.0, 1.0])
    away = focal * columns / (rng.uniform(0.76, 0.88) * width)
    plane = (rotation @ flip)[:, :2]
    place = np.column_stack([plane, [0, 0, away]]) @ np.array([[1, 0, -columns / 2], [0, 1, -rows / 2], [0, 0, 1]])
    back = np.linalg.inv(place)
    ys, xs = np.mgrid[0:height, 0:width].astype(np.float32)
    u, v = (xs - width / 2) / focal, (ys - height / 2) / focal
    off = u * u + v * v
    bend = 1 + rng.uniform(-0.05, 0.08) * off + rng.uniform(-0.05, 0.05) * off * off
    u, v = u * bend, v * bend
    depth = back[2, 0] * u + back[2, 1] * v + back[2, 2]
    at_x = ((back[0, 0] * u + back[0, 1] * v + back[0, 2]) / depth).astype(np.float32)
    at_y = ((back[1, 0] * u + back[1, 1] * v + back[1, 2]) / depth).astype(np.float32)
    soft = cv2.GaussianBlur(light.astype(np.float32), (0, 0), rng.uniform(0.8, 1.6) * columns / width)
    seen = cv2.remap(soft, at_x, at_y, cv2.INTER_LINEAR, borderValue=(0.02, 0.02, 0.02))
    panel = _wavy(seen.shape[:2], rng, 4, 0.03) * (1 - rng.uniform(0.05, 0.25) * off)
    seen *= (panel * rng.uniform(0.5, 0.75))[..., None]
    if behind:
        seen *= behind(seen.shape, rng)[..., None]
    seen += rng.standard_normal(seen.shape).astype(np.float32) * rng.uniform(0.003, 0.01) * np.sqrt(seen + 0.002)
    codes = 255 * _tone(np.clip(seen, 0, 1))
    sharper = codes + rng.uniform(0, 0.7) * (codes - cv2.GaussianBlur(codes, (0, 0), 1.4))
    picture = np.clip(sharper, 0, 255).astype(np.uint8)[..., ::-1]
    return cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, int(rng.integers(78, 95))])[1].tobytes()


def _tone(light: np.ndarray) -> np.ndarray:
    """A gamma of 2.2 instead of the standard's curve."""
    return light ** (1 / 2.2)


def measure(settings, photos: int = _PHOTOS, seed: int = _SEED, trace=None, behind=None) -> dict:
    """Photos with an open window, those given a time, those whose time lies in it; what was read over what is true."""
    target, drawn = film(_STEPS)
    rows = []
    for k in range(photos):
        rng = np.random.default_rng(seed + k)
        of = coat(rng)
        low, high = of.window_s
        ratio = float(rng.choice([1.2, 1.26, 1.3, 1.35]))
        first = low * ratio ** -rng.uniform(2, 3.2)
        times = tuple(first * ratio**n for n in range(_STEPS))
        data = shoot(washed(target, drawn, times, of, rng), rng, behind)
        found = read_photo(data, target, times, _DETAIL_UM, settings).reading
        rows.append((low, high, found))
        if trace:
            trace(seed + k, of, low, high, found)
    given = [(low, high, found) for low, high, found in rows if not found.refused]
    return {
        "photos": len(rows),
        "open": sum(high > low for low, high, _ in rows),
        "given": len(given),
        "inside": sum(low <= found.recommended_s <= high for low, high, found in given),
        "cure": [found.low_s / low for low, _, found in given],
        "closing": [found.high_s / high for _, high, found in given],
    }


def figures(settings) -> str:
    found = measure(settings)
    cure, closing = (np.median(np.abs(np.log(found[key]))) for key in ("cure", "closing"))
    uneven = [measure(settings, _UNEVEN, _SEED + 1000, behind=light) for light in (tubes, bar, shadow)]
    given, inside = (sum(one[key] for one in uneven) for key in ("given", "inside"))
    return (
        f"photos of step tests, {found['photos']} of them, {found['open']} with an open window: {found['given']} given a "
        f"time, {found['inside']} inside; full cure off by {cure:.1%}, closing by {closing:.1%} (medians); "
        f"behind tubes, bars and shadows, {_UNEVEN} of each: {given} given a time, {inside} inside"
    )
