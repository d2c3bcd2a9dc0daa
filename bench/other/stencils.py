"""Photos of finished stencils by other laws: ragged edges, faults of no regular shape, a coat of uneven thickness, a panel
of lights, dust, a barrel lens with long tails, sharpening, another tone curve.
"""

import cv2
import numpy as np

from bench import stencil_photos
from frimble.core.simulation.stencil_photo import Fault, Shot, Stencil, camera
from frimble.core.stencil.inspection.comparing import Limits
from frimble.core.stencil.inspection.inspecting import inspect

_PHOTOS, _SEED, _DPI = 10, 95_000, 300.0
_PX_MM = _DPI / 25.4
_SIZE = (4032, 3024)


def _blob(shape, fault: Fault, rng) -> np.ndarray:
    """A spot of the fault's size whose rim wanders."""
    angles = np.linspace(0, 2 * np.pi, 40, endpoint=False)
    reach = (
        fault.size_mm
        / 2
        * (1 + 0.18 * np.sin(2 * angles + rng.uniform(0, 6)) + 0.1 * np.sin(5 * angles + rng.uniform(0, 6)))
    )
    points = np.stack([fault.x_mm + reach * np.cos(angles), fault.y_mm + reach * np.sin(angles)], 1)
    spot = np.zeros(shape, np.uint8)
    cv2.fillPoly(spot, [np.round(points * _PX_MM * 16).astype(np.int32)], 1, cv2.LINE_8, 4)
    return spot > 0


def _standing(film: np.ndarray, faults, rng) -> np.ndarray:
    """The stencil's openings, 0..1: its edges step along the threads."""
    steps = cv2.resize(
        rng.standard_normal((film.shape[0] // 3, film.shape[1] // 3)).astype(np.float32), film.shape[::-1]
    )
    soft = cv2.GaussianBlur(film.astype(np.float32), (0, 0), 0.07 * _PX_MM)
    share = (soft > 0.55 + 0.1 * steps).astype(np.float32)
    for fault in faults:
        spot = _blob(film.shape, fault, rng)
        if fault.kind == "scum":
            spot &= film
        share[spot] = {"blocked": 0.0, "scum": fault.light}.get(fault.kind, 1.0)
    return share


def _wavy(shape, rng, scale: int, size: float) -> np.ndarray:
    """A smooth field round 1."""
    coarse = rng.standard_normal((scale, scale)).astype(np.float32)
    return 1 + size * cv2.resize(coarse, shape[::-1], interpolation=cv2.INTER_CUBIC)


def _through(share: np.ndarray, rng) -> np.ndarray:
    """(h, w, 3) light behind the screen: coat, mesh, dust, a panel of lights."""
    thick = np.clip(_wavy(share.shape, rng, 5, 0.12), 0.6, 1.4)
    colour = rng.permutation([rng.uniform(0.8, 1.3), rng.uniform(0.3, 0.7), rng.uniform(0.1, 0.3)])
    mesh = np.clip(_wavy(share.shape, rng, 300, 0.04), 0.7, 1.3) * 0.4
    dust = np.ones(share.shape, np.float32)
    for _ in range(60):
        at = int(rng.integers(share.shape[1])), int(rng.integers(share.shape[0]))
        cv2.circle(
            dust, at, max(1, int(rng.uniform(0.04, 0.1) * _PX_MM)), float(rng.uniform(0.5, 0.8)), -1, cv2.LINE_AA
        )
    panel = np.clip(_wavy(share.shape, rng, 4, 0.08), 0.6, 1.3) * mesh * dust
    return np.stack([panel * (share + (1 - share) * 10 ** (-d * thick)) for d in colour], -1)


def _shot(light: np.ndarray, shot: Shot, rng) -> np.ndarray:
    """(h, w, 3) uint8, red green blue, as a phone of another maker would give it."""
    width, height = shot.size
    homography = camera(Stencil(light[..., 0], _PX_MM), shot) @ np.diag([1 / _PX_MM, 1 / _PX_MM, 1.0])
    k1, back = rng.uniform(-0.03, 0.03), np.linalg.inv(homography)
    ys, xs = np.mgrid[0:height, 0:width].astype(np.float32)
    u, v = (xs - width / 2) / width, (ys - height / 2) / width
    bend = 1 + k1 * (u * u + v * v) * 4
    xs, ys = u * bend * width + width / 2, v * bend * width + height / 2
    depth = back[2, 0] * xs + back[2, 1] * ys + back[2, 2]
    at_x = ((back[0, 0] * xs + back[0, 1] * ys + back[0, 2]) / depth).astype(np.float32)
    at_y = ((back[1, 0] * xs + back[1, 1] * ys + back[1, 2]) / depth).astype(np.float32)
    seen = cv2.remap(
        light.astype(np.float32), at_x, at_y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT, borderValue=(0.01,) * 3
    )
    tails = cv2.GaussianBlur(seen, (0, 0), 4.0)
    seen = 0.9 * cv2.GaussianBlur(seen, (0, 0), rng.uniform(0.6, 1.2)) + 0.1 * tails
    seen *= (1 - 0.3 * (u * u + v * v) * 4)[..., None] * (0.8 / 0.4)
    seen = rng.poisson(np.clip(seen, 0, 1.5) * 2500).astype(np.float32) / 2500 * np.array([1.0, 0.95, 0.9], np.float32)
    toned = np.clip(seen, 0, 1) ** (1 / 2.0)
    toned += 0.5 * (toned - cv2.GaussianBlur(toned, (0, 0), 1.5))
    codes = (np.clip(toned, 0, 1) * 255).astype(np.uint8)
    packed = cv2.imencode(".jpg", codes[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, int(rng.integers(75, 93))])[1]
    return np.ascontiguousarray(cv2.imdecode(packed, cv2.IMREAD_COLOR)[..., ::-1])


def one_photo(seed: int):
    """(inspection, faults) of one photo."""
    rng = np.random.default_rng(seed)
    film = stencil_photos.artwork(rng)
    faults = stencil_photos.make_faults(film, rng)
    light = _through(_standing(film, faults, rng), rng)
    shot = Shot(
        turn_deg=rng.uniform(0, 360), tilt_deg=rng.uniform(0, 12), tilt_towards_deg=rng.uniform(0, 360),
        mirrored=bool(rng.random() < 0.5), fills=rng.uniform(0.75, 0.92), size=_SIZE,
    )  # fmt: skip
    return inspect(_shot(light, shot, rng), film, _DPI, Limits()), faults


def figures(settings) -> str:
    found = total = real = reported = refused = 0
    for k in range(_PHOTOS):
        inspection, faults = one_photo(_SEED + k)
        refused += bool(inspection.refused)
        found += sum(any(stencil_photos.near(d, f, 0.3) for d in inspection.findings) for f in faults)
        real += sum(any(stencil_photos.near(d, f, 1.5) for f in faults) for d in inspection.findings)
        total, reported = total + len(faults), reported + len(inspection.findings)
    return (
        f"stencils of another camera, {_PHOTOS} photos: faults found {found} of {total}, reported ones that are real {real} "
        f"of {reported}, photos refused {refused}"
    )
