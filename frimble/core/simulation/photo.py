"""A simulated step test on its way from lamp to phone: dose, cure, washout, light table, camera.

What the coat is made of is hidden from the reader that judges the picture. It only makes pictures; nothing is judged.

Source: Jacobs, Rapid Prototyping & Manufacturing (1992), working curve, for the cured depth; transmittance T = 10^−D
(ISO 5-2) for film and stencil.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from frimble.core.film.scan.coding import encode
from frimble.core.simulation.screen.light import light_in_slit
from frimble.core.simulation.screen.raster import spread_under
from frimble.core.units import MM_PER_INCH

# Density of a full stencil to red, green and blue light, by how an emulsion looks.
COLOURS = {
    "blue": (0.95, 0.45, 0.12),
    "green": (0.85, 0.2, 0.6),
    "pink": (0.12, 0.75, 0.3),
    "violet": (0.6, 0.9, 0.2),
    "red": (0.1, 0.85, 0.7),
    "pale": (0.1, 0.16, 0.42),
}
# Rows worked on at a time: as many as the processor keeps at hand.
_BAND = 32
# A picture with fewer pixels than this to one of the film is taken from the film at half its fineness.
_COARSE = 0.45


@dataclass(frozen=True)
class HiddenStencil:
    """True constants of a coat under a lamp through a film.

    Attributes:
        gel_s: time to the gel dose under clear film, s. cure_ratio: full cure over gel, exp(H / Dp).
        spread_um: how far light creeps under an edge, sigma, µm. film_density: black above clear film.
        falloff: light lost in the sheet's corners, a share. holds: share of the thickness below which all washes away.
        colour: density of the full stencil in red, green, blue. threads_per_cm: of the mesh as the camera sees it; 0 for
            one too fine to be seen.
    """

    gel_s: float
    cure_ratio: float = 5.0
    spread_um: float = 40.0
    film_density: float = 3.0
    falloff: float = 0.03
    holds: float = 0.1
    colour: tuple[float, float, float] = COLOURS["blue"]
    threads_per_cm: float = 0

    @property
    def full_cure_s(self) -> float:
        return self.gel_s * self.cure_ratio

    @property
    def leak(self) -> float:
        return 10**-self.film_density

    def closes_s(self, opening_um: float) -> float:
        """Time at which a skin stays in the middle of a long opening, s."""
        return float(self.gel_s * self.cure_ratio**self.holds / light_in_slit(opening_um, self.spread_um, self.leak))


@dataclass(frozen=True)
class PhoneCamera:
    """How the picture is taken.

    Attributes:
        width: pixels of the longer side; 3:4. fills: share of the picture's width that the film takes up.
        tilt_deg: from straight above, about both axes. turn_deg: in its plane; 180 is upside down. mirrored: from the back.
        uneven: light of the table varies by ± this share. distortion: of the lens, at the picture's half width.
        blur_px, sharpen, noise, quality: lens sigma, what the phone adds to edges, sigma in shares of white, JPEG.
        level: linear light of the open mesh, share of white. glare: (x, y, radius) in shares of the picture.
    """

    width: int = 4000
    fills: float = 0.93
    tilt_deg: tuple[float, float] = (0.0, 0.0)
    turn_deg: float = 0.0
    mirrored: bool = False
    uneven: float = 0.05
    distortion: float = 0.0
    blur_px: float = 0.8
    sharpen: float = 0.0
    noise: float = 0.006
    quality: int = 90
    level: float = 0.7
    glare: tuple[tuple[float, float, float], ...] = ()


# Codes of a phone's picture for as many shares of its white.
_LIGHTS = 65535
_SRGB = encode(np.arange(_LIGHTS + 1) / _LIGHTS, "srgb", 8)


def stencil_light(
    film: np.ndarray, dpi: float, edges_mm: Sequence[float], times_s: Sequence[float], coat: HiddenStencil
) -> np.ndarray:
    """(rows, columns, 3) uint16 shares of the light that the rinsed test lets through, 65535 being open mesh.

    Args:
        film: uint8, 0 black and 255 clear. edges_mm: of the strips from the sheet's left, one more than `times_s`.
    """
    per_mm = dpi / MM_PER_INCH
    light = film.astype(np.float32) * ((1 - coat.leak) / 255) + coat.leak
    light = spread_under(light, per_mm, coat.spread_um)
    columns = np.searchsorted(np.asarray(edges_mm[1:-1]) * per_mm, np.arange(light.shape[1]), side="right")
    gel_times = np.log(np.asarray(times_s, np.float32)[columns] / coat.gel_s)
    down, across = _threads(light.shape, coat.threads_per_cm, per_mm)
    # Each colour lies together: they are looked at one after another.
    lit = np.empty((3, *light.shape), np.uint16).transpose(1, 2, 0)
    down_off, across_off = _off_middle(light.shape)
    for top in range(0, len(light), _BAND):
        rows = slice(top, top + _BAND)
        # Fine openings are few film pixels wide: each pixel is looked at in two places along the card's travel.
        kept = 1 - coat.falloff / 2 * (down_off[rows] + across_off)
        left, right = _cured(cv2.log(light[rows] * kept) + gel_times, coat)
        open_mesh = np.float32(65535 / 2) * across * down[rows]
        for k, density in enumerate(coat.colour):
            absorbed = np.float32(-density * math.log(10))
            lit[rows, :, k] = (cv2.exp(absorbed * left) + cv2.exp(absorbed * right)) * open_mesh
    return lit


def _threads(shape: tuple[int, int], threads_per_cm: float, per_mm: float) -> tuple[np.ndarray, np.ndarray]:
    """(rows, 1) and (columns,) shares of light behind threads as a lens softens them: three fifths of full between two."""
    if not threads_per_cm:
        return np.ones((shape[0], 1), np.float32), np.ones(shape[1], np.float32)
    turns = np.float32(0.2 * math.pi * threads_per_cm / per_mm)
    down, across = (0.8 + np.float32(0.2) * np.cos(np.arange(n, dtype=np.float32) * turns) for n in shape)
    return down[:, None], across


def _cured(dose: np.ndarray, coat: HiddenStencil) -> list[np.ndarray]:
    """Shares of the thickness that cure, a quarter of a pixel to either side, from ln of dose over the gel dose."""
    dose *= np.float32(1 / math.log(coat.cure_ratio))
    shares = []
    for way in (1, -1):
        share = np.roll(dose, way, axis=1)
        share *= np.float32(0.25)
        share += dose * np.float32(0.75)
        share[share < coat.holds] = 0
        shares.append(np.minimum(share, 1, out=share))
    return shares


def _off_middle(shape: tuple[int, int]) -> tuple[np.ndarray, np.ndarray]:
    """(rows, 1) and (columns,) squares of how far from the middle, in half heights and half widths."""
    down, across = (np.linspace(-1, 1, n, dtype=np.float32) ** 2 for n in shape)
    return down[:, None], across


def photograph(light: np.ndarray, camera: PhoneCamera, seed: int) -> bytes:
    """JPEG of a lit stencil of `light` as from `stencil_light`, on a table, as a phone takes it."""
    rng = np.random.default_rng(seed)
    height = camera.width * 3 // 4
    to_photo = _projection(light.shape, camera, height)
    scale = math.sqrt(abs(np.linalg.det(to_photo[:2, :2])))
    if scale < _COARSE:
        light, to_photo, scale = _halved(light), to_photo @ np.diag([2.0, 2.0, 1.0]), 2 * scale
    table = _unevenness(height, camera, rng) * camera.level
    places = _places(to_photo, camera, height)
    seen = np.empty((height, camera.width, 3), np.float32)
    for k in range(3):
        # Blurred as the lens does, in film pixels, so that nothing finer than a pixel folds back.
        plane = cv2.GaussianBlur(light[:, :, k].astype(np.float32) / 65535, (0, 0), max(0.3, camera.blur_px / scale))
        around = float(np.quantile(plane[::50, ::50], 0.2))
        seen[:, :, k] = cv2.remap(plane, *places, cv2.INTER_LINEAR, borderValue=around)
        seen[:, :, k] *= table
    for x, y, radius in camera.glare:
        seen += _glare(seen.shape, x, y, radius)[:, :, None]
    _add_noise(seen, camera.noise, rng)
    np.clip(seen, 0, 1, out=seen)
    seen *= _LIGHTS
    codes = np.take(_SRGB, np.rint(seen, out=seen).astype(np.uint16))
    if camera.sharpen:
        soft = cv2.GaussianBlur(codes, (0, 0), 1.6)
        codes = cv2.addWeighted(codes, 1 + camera.sharpen, soft, -camera.sharpen, 0)
    return cv2.imencode(".jpg", codes[:, :, ::-1], [cv2.IMWRITE_JPEG_QUALITY, camera.quality])[1].tobytes()


def _halved(light: np.ndarray) -> np.ndarray:
    """(rows / 2, columns / 2, 3) means of four."""
    rows, columns = light.shape[0] // 2, light.shape[1] // 2
    even = light[: 2 * rows, : 2 * columns]
    return np.dstack([cv2.resize(even[:, :, k], (columns, rows), interpolation=cv2.INTER_AREA) for k in range(3)])


def _add_noise(seen: np.ndarray, amount: float, rng: np.random.Generator) -> None:
    """Of the square root of the light, in place: a picture of twelve million pixels is not copied for each step."""
    noise = rng.standard_normal(seen.shape, np.float32)
    noise *= amount
    light = np.clip(seen, 0.02, 1)
    np.sqrt(light, out=light)
    noise *= light
    seen += noise


def _projection(shape: tuple[int, int, int], camera: PhoneCamera, height: int) -> np.ndarray:
    """(3, 3) from film pixels to picture pixels: a pinhole camera above the middle of the sheet."""
    rows, columns = shape[:2]
    focal = camera.width * 0.75
    distance = focal * columns / (camera.fills * camera.width)
    a, b, c = (math.radians(v) for v in (*camera.tilt_deg, camera.turn_deg))
    about_x = np.array([[1, 0, 0], [0, math.cos(a), -math.sin(a)], [0, math.sin(a), math.cos(a)]])
    about_y = np.array([[math.cos(b), 0, math.sin(b)], [0, 1, 0], [-math.sin(b), 0, math.cos(b)]])
    about_z = np.array([[math.cos(c), -math.sin(c), 0], [math.sin(c), math.cos(c), 0], [0, 0, 1]])
    turned = about_x @ about_y @ about_z
    flip = -1 if camera.mirrored else 1
    plane = np.column_stack([turned[:, 0] * flip, turned[:, 1], [0, 0, distance]])
    centre = np.array([[1, 0, -columns / 2], [0, 1, -rows / 2], [0, 0, 1]])
    lens = np.array([[focal, 0, camera.width / 2], [0, focal, height / 2], [0, 0, 1]])
    projection = lens @ plane @ centre
    return np.asarray(projection / projection[2, 2])


def _places(to_photo: np.ndarray, camera: PhoneCamera, height: int) -> tuple[np.ndarray, np.ndarray]:
    """(x, y) on the film, in its pixels, of every pixel of the picture, through a lens that bends straight lines."""
    half = camera.width / 2
    x, y = np.arange(camera.width, dtype=np.float32), np.arange(height, dtype=np.float32)[:, None]
    u, v = (x - half) / half, (y - height / 2) / half
    stretch = 1 + camera.distortion * (u * u + v * v)
    straight = (u * stretch * half + half, v * stretch * half + height / 2, np.float32(1))
    across, down, away = (sum(k * part for k, part in zip(row, straight, strict=True)) for row in _inverse(to_photo))
    return across / away, down / away


def _inverse(projection: np.ndarray) -> np.ndarray:
    return np.asarray(np.linalg.inv(projection), np.float32)


def _unevenness(height: int, camera: PhoneCamera, rng: np.random.Generator) -> np.ndarray:
    """(height, width) factors within ± `uneven`: a slope and a hump."""
    y, x = (
        np.linspace(-1, 1, height, dtype=np.float32)[:, None],
        np.linspace(-1, 1, camera.width, dtype=np.float32)[None, :],
    )
    angle = rng.uniform(0, 2 * math.pi)
    slope = (math.cos(angle) * x + math.sin(angle) * y) / math.sqrt(2)
    hump = 1 - (x - rng.uniform(-0.4, 0.4)) ** 2 - (y - rng.uniform(-0.4, 0.4)) ** 2
    share = rng.uniform(0.3, 0.7)
    made = share * slope + (1 - share) * hump / 2
    return np.asarray(1 + camera.uneven * made / np.abs(made).max())


def _glare(shape: tuple[int, int, int], x: float, y: float, radius: float) -> np.ndarray:
    rows, columns = shape[:2]
    across, down = (
        np.arange(columns, dtype=np.float32) / columns - x,
        np.arange(rows, dtype=np.float32) / columns - y * 0.75,
    )
    return 1.5 * np.exp(-(across[None, :] ** 2 + down[:, None] ** 2) / (2 * radius**2))
