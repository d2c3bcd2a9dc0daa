"""A bare mesh in its frame against light, photographed: ghost, emulsion left, holes. It only makes pictures."""

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from frimble.core.film.scan.coding import encode


@dataclass(frozen=True)
class Left:
    """Something on the mesh: kind, left, top, width, height in mm of the frame's inside, light passed, and its tint.

    Attributes:
        tint: how much of the darkening each colour takes, red, green, blue.
    """

    kind: str
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    passes: float = 0.0
    tint: tuple[float, float, float] = (1.0, 1.0, 1.0)


@dataclass(frozen=True)
class BareShot:
    """How it is photographed: frame's inside and width of its bars, mm; camera and light.

    Attributes:
        mesh_light: what the mesh passes. fills: of the photo's height. skew_px: how far corners lie off square.
        uneven: light lost towards a corner. beyond: light past the frame.
    """

    size_mm: tuple[float, float] = (480.0, 580.0)
    bar_mm: float = 30.0
    mesh_light: float = 0.55
    fills: float = 0.8
    skew_px: float = 25.0
    uneven: float = 0.25
    beyond: float = 0.9
    blur_px: float = 1.0
    noise: float = 0.008
    quality: int = 90
    size: tuple[int, int] = (3000, 4000)


_PX_MM = 6.0


def photograph(left: Sequence[Left], shot: BareShot, rng: np.random.Generator) -> np.ndarray:
    """(h, w, 3) uint8 sRGB, the frame upright."""
    wide, high = shot.size_mm
    bar = shot.bar_mm
    sheet = np.full((round((high + 2 * bar) * _PX_MM), round((wide + 2 * bar) * _PX_MM), 3), 0.01, np.float32)
    inside = (
        slice(round(bar * _PX_MM), round((bar + high) * _PX_MM)),
        slice(round(bar * _PX_MM), round((bar + wide) * _PX_MM)),
    )
    sheet[inside] = _mesh(left, shot, rng, sheet[inside].shape[:2])
    corners = _corners(sheet.shape[:2], shot, rng)
    at = np.array([[0, 0], [sheet.shape[1], 0], [sheet.shape[1], sheet.shape[0]], [0, sheet.shape[0]]], np.float32)
    homography = cv2.getPerspectiveTransform(at, corners)
    beyond = (shot.beyond, shot.beyond, shot.beyond)
    seen = cv2.warpPerspective(sheet, homography, shot.size, flags=cv2.INTER_AREA, borderValue=beyond)
    y, x = np.mgrid[0 : shot.size[1], 0 : shot.size[0]].astype(np.float32)
    off = (x / shot.size[0] - rng.uniform(0.2, 0.8)) ** 2 + (y / shot.size[1] - rng.uniform(0.2, 0.8)) ** 2
    seen *= (1 - shot.uneven * off)[..., None]
    seen = cv2.GaussianBlur(seen, (0, 0), shot.blur_px)
    grain = np.asarray(rng.standard_normal(seen.shape), np.float32)
    seen = seen + grain * shot.noise * np.sqrt(np.maximum(seen, 0.02))
    codes = encode(np.clip(seen, 0, 1), "srgb", 8)
    _, data = cv2.imencode(".jpg", codes[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, shot.quality])
    return np.ascontiguousarray(np.asarray(cv2.imdecode(data, cv2.IMREAD_COLOR))[:, :, ::-1])


def _mesh(left: Sequence[Left], shot: BareShot, rng: np.random.Generator, shape: tuple[int, ...]) -> np.ndarray:
    grain = 1 + 0.03 * np.asarray(rng.standard_normal(shape), np.float32)
    light = np.repeat((shot.mesh_light * grain)[..., None], 3, 2)
    for thing in left:
        if thing.kind == "hole":
            light[_shape(thing, shape, rng) > 0.5] = 1.0
            continue
        dark = _shape(thing, shape, rng)[..., None] * (1 - thing.passes) * np.array(thing.tint, np.float32)
        light *= 1 - dark
    return light


def _shape(thing: Left, shape: tuple[int, ...], rng: np.random.Generator) -> np.ndarray:
    """(h, w) 0..1: drops with ragged rims, words of an old image, a round hole."""
    spot = np.zeros(shape, np.uint8)
    x, y, w, h = (round(v * _PX_MM) for v in (thing.x_mm, thing.y_mm, thing.width_mm, thing.height_mm))
    if thing.kind == "ghost":
        part = np.zeros((h, w), np.uint8)
        cv2.putText(
            part, "REGATTA", (0, round(h * 0.45)), cv2.FONT_HERSHEY_TRIPLEX, w / 150, 255, max(3, w // 50), cv2.LINE_AA
        )
        cv2.rectangle(part, (0, round(h * 0.6)), (w - 1, h - 1), 255, -1)
        cv2.circle(part, (w // 2, round(h * 0.8)), h // 8, 0, -1, cv2.LINE_AA)
        spot[y : y + h, x : x + w] = part[: shape[0] - y, : shape[1] - x]
    else:
        turns = np.linspace(0, 2 * np.pi, 32, endpoint=False)
        ragged = 0.0 if thing.kind == "hole" else 0.12
        reach = 1 + ragged * np.sin(3 * turns + rng.uniform(0, 6)) - ragged
        points = np.stack([x + w / 2 * (1 + reach * np.cos(turns)), y + h / 2 * (1 + reach * np.sin(turns))], 1)
        cv2.fillPoly(spot, [np.round(points).astype(np.int32)], 255, cv2.LINE_AA)
    return np.asarray(cv2.GaussianBlur(spot, (0, 0), 1.5).astype(np.float32) / 255)


def _corners(shape: tuple[int, ...], shot: BareShot, rng: np.random.Generator) -> np.ndarray:
    """Where the frame's outer corners lie in the photo."""
    scale = shot.fills * min(shot.size[1] / shape[0], shot.size[0] / shape[1])
    wide, high = shape[1] * scale, shape[0] * scale
    x, y = (shot.size[0] - wide) / 2, (shot.size[1] - high) / 2
    square = np.array([[x, y], [x + wide, y], [x + wide, y + high], [x, y + high]])
    return (square + rng.uniform(-shot.skew_px, shot.skew_px, (4, 2))).astype(np.float32)
