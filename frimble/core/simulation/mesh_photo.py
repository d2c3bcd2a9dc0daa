"""A bare mesh against light, photographed close: threads, weave, a tilted camera, a scale strip on it."""

import math
from dataclasses import dataclass

import cv2
import numpy as np

from frimble.core.film.scan.coding import encode


@dataclass(frozen=True)
class CloseShot:
    """How a mesh is photographed.

    Attributes:
        count_per_cm, thread_um, weft_ratio: of the mesh; its weft has so many times the count.
        colour: light that a thread passes, red, green, blue. px_mm: scale in the middle. turn_deg, tilt_deg: of the camera.
        blur_px, noise, quality: of the camera. uneven: light lost towards the corners. light: of the open mesh.
    """

    count_per_cm: float
    thread_um: float
    weft_ratio: float = 1.0
    colour: tuple[float, float, float] = (0.35, 0.35, 0.35)
    px_mm: float = 60.0
    turn_deg: float = 8.0
    tilt_deg: float = 0.0
    tilt_towards_deg: float = 0.0
    blur_px: float = 0.8
    noise: float = 0.01
    quality: int = 90
    uneven: float = 0.2
    light: float = 0.85
    size: tuple[int, int] = (1600, 1200)


def photograph(shot: CloseShot, rng: np.random.Generator, strip: np.ndarray | None = None) -> np.ndarray:
    """(h, w, 3) uint8 sRGB.

    Args:
        strip: (h, w) bool at twenty pixels a mm, black of a scale strip that lies in the middle, turned a little.
    """
    places = _places(shot)
    light = np.repeat(_cloth(shot, *places)[:, :, None], 3, 2)
    threads = np.array(shot.colour, np.float32)
    picture = light + (1 - light) * threads
    if strip is not None:
        _lay(picture, strip, *places)
    high, wide = picture.shape[:2]
    y, x = np.mgrid[0:high, 0:wide]
    falls = 1 - shot.uneven * ((x / wide - 0.4) ** 2 + (y / high - 0.5) ** 2) * 2
    picture = picture * falls[:, :, None].astype(np.float32) * shot.light
    whole = cv2.resize(picture.astype(np.float32), shot.size, interpolation=cv2.INTER_AREA)
    whole = cv2.GaussianBlur(whole, (0, 0), shot.blur_px)
    whole = whole + rng.normal(0, shot.noise, whole.shape) * np.sqrt(np.maximum(whole, 0.02))
    codes = encode(np.clip(whole, 0, 1), "srgb", 8)
    _, data = cv2.imencode(".jpg", codes[:, :, ::-1], [cv2.IMWRITE_JPEG_QUALITY, shot.quality])
    return np.ascontiguousarray(np.asarray(cv2.imdecode(data, cv2.IMREAD_COLOR))[:, :, ::-1])


_FINER = 2


def _places(shot: CloseShot) -> tuple[np.ndarray, np.ndarray]:
    """x, y in mm on the mesh of each pixel of a picture `_FINER` times as fine; the middle is at zero."""
    wide, high = (n * _FINER for n in shot.size)
    y, x = np.mgrid[0:high, 0:wide].astype(np.float32)
    x, y = ((v + 0.5 - n / 2) / (_FINER * shot.px_mm) for v, n in ((x, wide), (y, high)))
    tilt, towards = math.radians(shot.tilt_deg), math.radians(shot.tilt_towards_deg)
    away = 2.2 * max(shot.size) / shot.px_mm
    u, v = x * math.cos(towards) + y * math.sin(towards), y * math.cos(towards) - x * math.sin(towards)
    depth = away * math.cos(tilt) / (away * math.cos(tilt) - u * math.sin(tilt))
    u, v = u / math.cos(tilt) * depth, v * depth
    x, y = u * math.cos(towards) - v * math.sin(towards), u * math.sin(towards) + v * math.cos(towards)
    return x, y


def _cloth(shot: CloseShot, x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """Open share of each place, 0 under a thread; a thread under another bends and shows a little narrower."""
    turn = math.radians(shot.turn_deg)
    across, along = x * math.cos(turn) + y * math.sin(turn), y * math.cos(turn) - x * math.sin(turn)
    counts = shot.count_per_cm / 10, shot.count_per_cm * shot.weft_ratio / 10
    warp, weft = across * counts[0], along * counts[1]
    over = np.where((np.floor(warp) + np.floor(weft)) % 2, 1.04, 0.96)
    half = [shot.thread_um / 1000 * c / 2 for c in counts]
    open_ = (np.abs(warp - np.floor(warp) - 0.5) > half[0] * over) & (
        np.abs(weft - np.floor(weft) - 0.5) > half[1] * (2 - over)
    )
    return np.asarray(open_.astype(np.float32))


def _lay(picture: np.ndarray, strip: np.ndarray, x: np.ndarray, y: np.ndarray) -> None:
    """Paper that passes a tenth of the light, its ink hardly any; some of the room's light comes back off it."""
    turn = math.radians(11)
    across = (x * math.cos(turn) + y * math.sin(turn)) * 20 + strip.shape[1] / 2
    down = (y * math.cos(turn) - x * math.sin(turn)) * 20 + strip.shape[0] / 2
    at = (across >= 0) & (across < strip.shape[1]) & (down >= 0) & (down < strip.shape[0])
    black = strip[down[at].astype(int), across[at].astype(int)]
    picture[at] = np.where(black, 0.03, 0.16)[:, None]
