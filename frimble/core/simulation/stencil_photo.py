"""A finished stencil against light, photographed: mesh, emulsion, faults, a tilted camera. It only makes pictures."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

import cv2
import numpy as np

from frimble.core.film.scan.coding import encode
from frimble.core.simulation.screen import standing
from frimble.core.simulation.screen.light import Exposure, exposure


@dataclass(frozen=True)
class Fault:
    """A fault put into a stencil: its kind, middle and size, mm; `light` that passes where it is scum, 0..1."""

    kind: str
    x_mm: float
    y_mm: float
    size_mm: float
    light: float = 0.0


@dataclass(frozen=True)
class Shot:
    """How the photo is taken.

    Attributes:
        turn_deg, tilt_deg, tilt_towards_deg: of the camera. mirrored: from the print side. fills: of the picture's height.
        colour: density of the stencil in red, green, blue. mesh_per_cm, open_area: of the mesh.
        uneven: light lost towards the corners. blur_px, noise, quality: of the camera.
        cut_off: share of the sheet beyond the picture's edge.
    """

    turn_deg: float = 0.0
    tilt_deg: float = 0.0
    tilt_towards_deg: float = 0.0
    mirrored: bool = False
    fills: float = 0.86
    colour: tuple[float, float, float] = (0.85, 0.2, 0.6)
    mesh_per_cm: float = 77.0
    open_area: float = 0.4
    uneven: float = 0.15
    blur_px: float = 0.9
    noise: float = 0.008
    quality: int = 90
    cut_off: float = 0.0
    size: tuple[int, int] = (4000, 3000)


@dataclass
class Stencil:
    """A stencil as it stands: light that passes its openings, 0 closed to 1 open, over the film's area."""

    open_share: np.ndarray
    px_mm: float
    faults: list[Fault] = field(default_factory=list)


# An ordinary coat under an ordinary lamp, a little beyond full cure.
USUAL_LIGHT = exposure(
    thickness_um=110, over_mesh_um=12, time_s=66, full_s=60, gel_s=12, dmax=3.5, dmin=0.05, spread_um=25
)
# Narrower lines find no thread to lie on.
_SUPPORT_UM = 60.0


def make_stencil(
    film_open: np.ndarray, px_mm: float, faults: Sequence[Fault], light: Exposure = USUAL_LIGHT
) -> Stencil:
    """The simulated screen's stencil of a film, with faults put in.

    Args:
        film_open: (h, w) bool, True where the film is black. px_mm: pixels a mm.
    """
    share = standing.stencil(film_open, px_mm, light, _SUPPORT_UM).open_.astype(np.float32)
    for fault in faults:
        _put(share, film_open, px_mm, fault)
    return Stencil(share, px_mm, list(faults))


def _put(share: np.ndarray, film_open: np.ndarray, px_mm: float, fault: Fault) -> None:
    spot = np.zeros(share.shape, np.uint8)
    middle = (round(fault.x_mm * px_mm * 16), round(fault.y_mm * px_mm * 16))
    cv2.circle(spot, middle, round(fault.size_mm / 2 * px_mm * 16), 1, -1, cv2.LINE_8, 4)
    if fault.kind in ("pinhole", "breakdown"):
        share[spot > 0] = 1.0
    elif fault.kind == "blocked":
        share[spot > 0] = 0.0
    else:
        share[(spot > 0) & film_open] = fault.light


def _weave(points: np.ndarray, shot: Shot, pixel_mm: float) -> np.ndarray:
    """Light that pixels of `pixel_mm` at points, mm, gather through the mesh: threads that the camera may or may not see."""
    pitch = 10 / shot.mesh_per_cm
    opening, reach = math.sqrt(shot.open_area), pixel_mm / pitch / 2
    angle = math.radians(3)
    along = (points[0] * math.cos(angle) + points[1] * math.sin(angle)) / pitch
    across = (points[1] * math.cos(angle) - points[0] * math.sin(angle)) / pitch
    return np.asarray(_gathered(along, opening, reach) * _gathered(across, opening, reach))


def _gathered(at: np.ndarray, opening: float, reach: float) -> np.ndarray:
    """Share of `at` ± `reach` that lies in openings, where each whole number begins one of width `opening`."""

    def before(t: np.ndarray) -> np.ndarray:
        whole = np.floor(t)
        return np.asarray(whole * opening + np.minimum(t - whole, opening))

    return np.asarray((before(at + reach) - before(at - reach)) / (2 * reach), np.float32)


def photograph(stencil: Stencil, shot: Shot, seed: int = 0) -> bytes:
    """The photo as a JPEG file's bytes."""
    rng = np.random.default_rng(seed)
    width, height = shot.size
    homography = camera(stencil, shot)
    back = np.linalg.inv(homography)
    # Of the film, as seen in the middle of the picture; the mesh is gathered over a whole pixel at each of its points.
    pixel_mm = _pixel_mm(homography, stencil)
    finer = 2
    picture = np.empty((height, width, 3), np.float32)
    for top in range(0, height, 250):
        rows = min(250, height - top)
        ys, xs = np.mgrid[0 : rows * finer, 0 : width * finer].astype(np.float32)
        xs, ys = (xs + 0.5) / finer, (ys + 0.5) / finer + top
        scale = back[2, 0] * xs + back[2, 1] * ys + back[2, 2]
        at_x = ((back[0, 0] * xs + back[0, 1] * ys + back[0, 2]) / scale).astype(np.float32)
        at_y = ((back[1, 0] * xs + back[1, 1] * ys + back[1, 2]) / scale).astype(np.float32)
        share = cv2.remap(
            stencil.open_share, at_x * stencil.px_mm - 0.5, at_y * stencil.px_mm - 0.5, cv2.INTER_LINEAR,
            borderMode=cv2.BORDER_CONSTANT, borderValue=0,
        )  # fmt: skip
        through = _weave(np.stack([at_x, at_y]), shot, pixel_mm)
        for channel, density in enumerate(shot.colour):
            light = through * (share + (1 - share) * 10**-density)
            picture[top : top + rows, :, channel] = cv2.resize(light, (width, rows), interpolation=cv2.INTER_AREA)
    _frame(picture, stencil, homography)
    return _developed(picture, shot, rng)


def camera(stencil: Stencil, shot: Shot) -> np.ndarray:
    """(3, 3) homography from mm of the film to pixels of the photo."""
    high, wide = (n / stencil.px_mm for n in stencil.open_share.shape)
    width, height = shot.size
    turn, tilt, towards = (math.radians(v) for v in (shot.turn_deg, shot.tilt_deg, shot.tilt_towards_deg))
    rotate = np.array([[math.cos(turn), -math.sin(turn), 0], [math.sin(turn), math.cos(turn), 0], [0, 0, 1]])
    axis = np.array([math.cos(towards), math.sin(towards), 0.0]) * tilt
    lean = cv2.Rodrigues(axis)[0]
    mirror = np.diag([-1.0 if shot.mirrored else 1.0, 1.0, 1.0])
    turned = (
        abs(math.sin(turn)) * wide + abs(math.cos(turn)) * high,
        abs(math.cos(turn)) * wide + abs(math.sin(turn)) * high,
    )
    distance = 2.2 * max(wide, high)
    focal = distance * min(shot.fills * height / turned[0], shot.fills * width / turned[1])
    world = lean @ rotate @ mirror
    place = np.column_stack(
        [world[:, 0], world[:, 1], -world[:, 0] * wide / 2 - world[:, 1] * high / 2 + [0, 0, distance]]
    )
    shift = shot.cut_off * width
    return np.asarray(np.array([[focal, 0, width / 2 - shift], [0, focal, height / 2], [0, 0, 1]]) @ place)


def _pixel_mm(homography: np.ndarray, stencil: Stencil) -> float:
    """How many mm of the film's middle one pixel sees."""
    high, wide = (n / stencil.px_mm for n in stencil.open_share.shape)
    around = np.array([[[wide / 2, high / 2], [wide / 2 + 1, high / 2]]])
    one, other = cv2.perspectiveTransform(around, homography)[0]
    return float(1 / np.linalg.norm(other - one))


def _frame(picture: np.ndarray, stencil: Stencil, homography: np.ndarray) -> None:
    """Beyond the stencil's margin the frame is dark, and beyond the frame the table shines."""
    high, wide = (n / stencil.px_mm for n in stencil.open_share.shape)

    def outline(margin: float) -> np.ndarray:
        corners = np.array(
            [[-margin, -margin], [wide + margin, -margin], [wide + margin, high + margin], [-margin, high + margin]]
        )
        return np.asarray(cv2.perspectiveTransform(corners[None].astype(np.float64), homography)[0])

    inside = np.zeros(picture.shape[:2], np.uint8)
    cv2.fillConvexPoly(inside, np.round(outline(25)).astype(np.int32), 2)
    beyond = np.ones(picture.shape[:2], np.uint8)
    cv2.fillConvexPoly(beyond, np.round(outline(60)).astype(np.int32), 0)
    picture[inside == 0] = 0.004
    picture[beyond == 1] = 0.9


def _developed(picture: np.ndarray, shot: Shot, rng: np.random.Generator) -> bytes:
    """Uneven light, blur, noise, the phone's tone curve and JPEG."""
    height, width = picture.shape[:2]
    ys, xs = np.mgrid[0:height, 0:width].astype(np.float32)
    off = ((xs / width - 0.45) ** 2 + (ys / height - 0.55) ** 2) / 0.5
    picture *= (1 - shot.uneven * off)[..., None]
    picture = cv2.GaussianBlur(picture, (0, 0), shot.blur_px) if shot.blur_px > 0 else picture
    # Exposed so that open mesh is bright and not burnt out.
    bright = 0.75 / (shot.open_area * 0.95)
    picture = picture * bright
    picture += rng.standard_normal(picture.shape).astype(np.float32) * shot.noise * np.sqrt(np.maximum(picture, 0.02))
    codes = encode(np.clip(picture, 0, 1), "srgb", 8)
    return bytes(cv2.imencode(".jpg", codes[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, shot.quality])[1])
