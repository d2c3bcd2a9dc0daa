"""A simulated film positive on a simulated flatbed scanner: what is on the sheet is known, so a check can be tried on it.

The sheet is drawn as ink coverage, given its densities, and then seen through skew, flare, vignetting, blur, noise and
the scanner's coding. Source of the light model: transmittance T = 10^−D (ISO 5-2); flare adds, lenses multiply.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import cv2
import numpy as np

from frimble.core.film.scan.coding import encode
from frimble.core.units import MM_PER_INCH

WEDGE_DENSITIES = (0.05, 0.35, 0.65, 0.95, 1.25, 1.55, 1.85, 2.15, 2.45, 2.75, 3.05, 3.35)


@dataclass(frozen=True)
class Fault:
    """A known fault or bait on the sheet: its box in mm from the top left of the scan; `value` in the kind's unit."""

    kind: str
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    value: float


@dataclass(frozen=True)
class ScannerOptics:
    """What the scanner does to the light.

    Attributes:
        skew_deg: turn of the sheet on the glass. blur_mm: sigma of the lens. flare: share of the mean light everywhere.
        vignetting: loss of light in the corners. noise: sigma in shares of white. bits: 8 or 16.
        encoding: "srgb" or "linear".
    """

    skew_deg: float = 0.0
    blur_mm: float = 0.03
    flare: float = 0.0
    vignetting: float = 0.0
    noise: float = 0.002
    bits: int = 8
    encoding: str = "srgb"


@dataclass
class SimulatedFilm:
    """A sheet being drawn: ink coverage 0..1 at `dpi`, the black's density over it, and the faults put in so far."""

    width_mm: float
    height_mm: float
    dpi: int
    dmax: float = 3.2
    dmin: float = 0.06
    faults: list[Fault] = field(default_factory=list)

    def __post_init__(self) -> None:
        shape = (round(self.height_mm * self._scale), round(self.width_mm * self._scale))
        self.ink = np.zeros(shape, np.float32)
        self.black = np.full(shape, self.dmax, np.float32)
        self.wedge: tuple[float, float, float, tuple[float, ...]] | None = None
        self._patches: list[tuple[slice, slice, float]] = []

    @property
    def _scale(self) -> float:
        return self.dpi / MM_PER_INCH

    def _note(self, kind: str, x: float, y: float, width: float, height: float, value: float) -> None:
        self.faults.append(Fault(kind, x, y, width, height, value))

    def solid(self, x: float, y: float, width: float, height: float) -> None:
        """A black rectangle, mm."""
        self._blend(_box(x, y, width, height), 1.0)

    def text(
        self,
        x: float,
        y: float,
        height: float,
        words: str,
        weight: int = 500,
        ink: float = 1.0,
        slant: float = 0.0,
        upwards: bool = False,
    ) -> None:
        """Lettering of the given type size, mm, its baseline at y; `ink` 0 reverses it out of a solid.

        Args:
            slant: how far the letters lean to the right, of their height. upwards: whether the words run up the sheet, on a
                baseline at x.
        """
        size = max(6, round(height * self._scale * 4))
        face = cv2.FontFace("sans")
        box = cv2.getTextSize((10, 10), words, (0, 0), face, size, weight)
        lean = round(slant * box[3])
        left, top, width, tall = (box[0] - 40, box[1] - 40, box[2] + 80 + lean, box[3] + 80)
        canvas = np.zeros((tall, width, 3), np.uint8)
        cv2.putText(canvas, words, (-left, -top), (255, 255, 255), face, size, weight)
        drawn: np.ndarray = canvas[:, :, 0]
        if lean:
            drawn = cv2.warpAffine(drawn, np.array([[1, -slant, -slant * top], [0, 1, 0]]), (width, tall))
        if upwards:
            drawn, left, top = np.ascontiguousarray(np.rot90(drawn)), top, -left - width
        tall, width = drawn.shape
        coverage = cv2.resize(drawn, (width // 4, tall // 4), interpolation=cv2.INTER_AREA) / 255.0
        self._paste(coverage, round(x * self._scale) + left // 4, round(y * self._scale) + top // 4, ink)

    def line(self, points: Sequence[tuple[float, float]], width: float, ink: float = 1.0) -> None:
        """A polyline of the given width, mm."""
        self._blend(np.array(points, float), ink, width=width)

    def fine_line(self, x0: float, y0: float, x1: float, y1: float, width: float) -> None:
        """A line too thin to hold, mm."""
        self.line([(x0, y0), (x1, y1)], width)
        self._note("thin_line", *_bounds(x0, y0, x1, y1, width), width)

    def pinhole(self, x: float, y: float, diameter: float) -> None:
        """A clear hole centred at x, y, mm."""
        self._disc(x, y, diameter, 0.0)
        self._note("pinhole", x - diameter / 2, y - diameter / 2, diameter, diameter, diameter)

    def speck(self, x: float, y: float, diameter: float, opacity: float = 1.0) -> None:
        """A grain of dust centred at x, y, mm."""
        self._disc(x, y, diameter, opacity)
        self._note("speck", x - diameter / 2, y - diameter / 2, diameter, diameter, diameter)

    def dot(self, x: float, y: float, diameter: float, ink: float = 1.0) -> None:
        """A round dot that belongs to the picture, mm."""
        self._disc(x, y, diameter, ink)

    def scratch(self, points: Sequence[tuple[float, float]], width: float, depth: float = 1.0) -> None:
        """A scratch through the black, mm; `depth` is the share of ink taken off."""
        self.line(points, width, ink=1.0 - depth)
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        self._note("scratch", *_bounds(min(xs), min(ys), max(xs), max(ys), width), width)

    def weak_area(self, x: float, y: float, width: float, height: float, density: float, soft: bool = False) -> None:
        """A weak patch of the black, an ellipse in its box, mm; `soft` fades to its edge."""
        rows, columns = self._window(x, y, width, height)
        v, u = np.mgrid[rows, columns].astype(np.float32)
        radius = np.hypot((u / self._scale - x) / width - 0.5, (v / self._scale - y) / height - 0.5) * 2
        share = np.clip((1 - radius) * 2.5, 0, 1) if soft else (radius <= 1).astype(np.float32)
        part = self.black[rows, columns]
        self.black[rows, columns] = np.minimum(part, self.dmax + (density - self.dmax) * share)
        self._note("weak_area", x, y, width, height, density)

    def dull(self, x: float, y: float, width: float, height: float, more: float) -> None:
        """A place in the clear film that is denser than the rest by `more`, mm, as an oiled sheet has where it dried."""
        self._blend(_box(x, y, width, height), 1 - 10**-more)
        self._note("dull_clear", x, y, width, height, self.dmin + more)

    def banding(
        self, x: float, y: float, width: float, height: float, period: float, depth: float, across: bool = False
    ) -> None:
        """Bands of weaker black every `period` mm over a box, `depth` in density; `across` runs them down the sheet."""
        rows, columns = self._window(x, y, width, height)
        v, u = np.mgrid[rows, columns].astype(np.float32)
        place = (u if across else v) / self._scale
        self.black[rows, columns] -= depth * (0.5 + 0.5 * np.cos(2 * np.pi * place / period)) ** 4
        self._note("banding", x, y, width, height, depth)

    def halftone(
        self,
        x: float,
        y: float,
        width: float,
        height: float,
        lpi: float,
        angle_deg: float,
        coverage: float,
        stretch: float = 1.0,
    ) -> None:
        """A tint of round dots, or of ovals `stretch` times as long as wide; above π/4 the holes are round."""
        rows, columns = self._window(x, y, width, height)
        fine = 4
        v, u = np.mgrid[
            rows.start * fine : rows.stop * fine : 1, columns.start * fine : columns.stop * fine : 1
        ].astype(np.float32) / (self._scale * fine)
        turn, pitch = np.deg2rad(angle_deg), MM_PER_INCH / lpi
        a = (u * np.cos(turn) + v * np.sin(turn)) / pitch
        b = (-u * np.sin(turn) + v * np.cos(turn)) / pitch
        share = coverage if coverage <= np.pi / 4 else 1 - coverage
        longer = np.sqrt(stretch)
        inside = np.hypot((a - np.round(a)) / longer, (b - np.round(b)) * longer) <= np.sqrt(share / np.pi)
        inked = inside if coverage <= np.pi / 4 else ~inside
        shape = (rows.stop - rows.start, columns.stop - columns.start)
        patch = inked.reshape(shape[0], fine, shape[1], fine).mean(axis=(1, 3), dtype=np.float32)
        self.ink[rows, columns] = patch

    def artwork(self, coverage: np.ndarray, x: float, y: float) -> None:
        """Any drawing: ink 0..1 at the sheet's own resolution, its corner at x, y in mm."""
        self._paste(np.asarray(coverage, float), round(x * self._scale), round(y * self._scale), 1.0)

    def step_wedge(self, x: float, y: float, patch: float, densities: Sequence[float] = WEDGE_DENSITIES) -> None:
        """A reference wedge laid beside the artwork, its patches to the right without gaps, mm."""
        self.wedge = (x, y, patch, tuple(densities))
        for k, value in enumerate(densities):
            rows, columns = self._window(x + k * patch, y, patch, patch)
            self._patches.append((rows, columns, value))

    def _window(self, x: float, y: float, width: float, height: float) -> tuple[slice, slice]:
        s = self._scale
        rows = slice(max(0, round(y * s)), min(self.ink.shape[0], round((y + height) * s)))
        return rows, slice(max(0, round(x * s)), min(self.ink.shape[1], round((x + width) * s)))

    def _disc(self, x: float, y: float, diameter: float, ink: float) -> None:
        """Area-true disc: coverage of each pixel on its rim by 8 × 8 samples."""
        scale, radius = self._scale, diameter / 2 * self._scale
        margin = 2 / scale
        rows, columns = self._window(
            x - diameter / 2 - margin, y - diameter / 2 - margin, diameter + 2 * margin, diameter + 2 * margin
        )
        v, u = np.mgrid[rows, columns] + 0.5
        off_x, off_y = u - x * scale, v - y * scale
        away = np.hypot(off_x, off_y)
        share = (away <= radius).astype(float)
        rim = np.abs(away - radius) <= 1
        part_of = (np.arange(8) + 0.5) / 8 - 0.5
        samples = np.hypot(off_x[rim][:, None, None] + part_of, off_y[rim][:, None, None] + part_of[:, None])
        share[rim] = (samples <= radius).mean(axis=(1, 2))
        part = self.ink[rows, columns]
        self.ink[rows, columns] = part + (ink - part) * share

    def _blend(self, outline: np.ndarray, ink: float, width: float | None = None) -> None:
        """A filled outline or a stroked polyline drawn at four times the resolution and averaged down."""
        s, fine = self._scale, 4
        margin = (width or 0) / 2 + 2 / s
        (left, top), (right, low) = outline.min(axis=0) - margin, outline.max(axis=0) + margin
        rows, columns = self._window(left, top, right - left, low - top)
        canvas = np.zeros(((rows.stop - rows.start) * fine, (columns.stop - columns.start) * fine), np.uint8)
        here = (outline * s - (columns.start, rows.start)) * fine
        parts = [here] if width is None else [_stroke(p, q, width * s * fine) for p, q in itertools.pairwise(here)]
        for part in parts:
            cv2.fillPoly(canvas, [np.round(part * 16 - 8).astype(np.int32)], 255, shift=4)
        shape = (columns.stop - columns.start, rows.stop - rows.start)
        share = cv2.resize(canvas, shape, interpolation=cv2.INTER_AREA).astype(np.float32) / 255
        part = self.ink[rows, columns]
        self.ink[rows, columns] = part + (ink - part) * share

    def _paste(self, coverage: np.ndarray, column: int, row: int, ink: float) -> None:
        rows = slice(max(row, 0), min(row + coverage.shape[0], self.ink.shape[0]))
        columns = slice(max(column, 0), min(column + coverage.shape[1], self.ink.shape[1]))
        share = coverage[rows.start - row : rows.stop - row, columns.start - column : columns.stop - column]
        part = self.ink[rows, columns]
        self.ink[rows, columns] = part + (ink - part) * share

    def transmittance(self) -> np.ndarray:
        """Share of light through every pixel of the sheet, float32."""
        clear = np.float32(10**-self.dmin)
        light = self.ink * (np.power(np.float32(10), -self.black) - clear) + clear
        for rows, columns, value in self._patches:
            light[rows, columns] = 10**-value
        return light

    def turned(self, fault: Fault, skew_deg: float) -> Fault:
        """A fault's box as it lies after the sheet was turned about its middle."""
        centre = np.array([self.width_mm, self.height_mm]) / 2
        corners = _box(fault.x_mm, fault.y_mm, fault.width_mm, fault.height_mm) - centre
        turn = np.deg2rad(skew_deg)
        lying = corners @ np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]]) + centre
        (x, y), (right, low) = lying.min(axis=0), lying.max(axis=0)
        return replace(fault, x_mm=x, y_mm=y, width_mm=right - x, height_mm=low - y)


def scan(film: SimulatedFilm, optics: ScannerOptics, seed: int) -> tuple[np.ndarray, list[Fault]]:
    """(codes as the scanner writes them, uint8 or uint16; every fault where it lies on the scan)."""
    light = _turn(film.transmittance(), optics.skew_deg, 10**-film.dmin)
    light = cv2.GaussianBlur(light, (0, 0), max(optics.blur_mm * film.dpi / MM_PER_INCH, 0.3))
    light = light * (1 - optics.flare) + optics.flare * float(light.mean())
    if optics.vignetting:
        light *= _vignette(light.shape, optics.vignetting)
    rng = np.random.default_rng(seed)
    for top in range(0, light.shape[0], 512):
        part = light[top : top + 512]
        part += rng.standard_normal(part.shape, np.float32) * (optics.noise * np.sqrt(0.15 + part))
    codes = encode(np.clip(light, 0, 1), optics.encoding, optics.bits)
    return codes, [film.turned(f, optics.skew_deg) for f in film.faults]


def _turn(light: np.ndarray, skew_deg: float, clear: float) -> np.ndarray:
    if not skew_deg:
        return light
    height, width = light.shape
    # Counter-clockwise on the glass, y down; the same turn as SimulatedFilm.turned.
    matrix = cv2.getRotationMatrix2D(((width - 1) / 2, (height - 1) / 2), skew_deg, 1)
    return cv2.warpAffine(light, matrix, (width, height), flags=cv2.INTER_LINEAR, borderValue=float(clear))


def _vignette(shape: tuple[int, int], loss: float) -> np.ndarray:
    v = np.linspace(-1, 1, shape[0], dtype=np.float32)[:, None] ** 2
    u = np.linspace(-1, 1, shape[1], dtype=np.float32)[None, :] ** 2
    return 1 - np.float32(loss) * (u + v) / 2


def _box(x: float, y: float, width: float, height: float) -> np.ndarray:
    return np.array([(x, y), (x + width, y), (x + width, y + height), (x, y + height)], float)


def _bounds(x0: float, y0: float, x1: float, y1: float, width: float) -> tuple[float, float, float, float]:
    left, top = min(x0, x1) - width / 2, min(y0, y1) - width / 2
    return left, top, abs(x1 - x0) + width, abs(y1 - y0) + width


def _stroke(p: np.ndarray, q: np.ndarray, width: float) -> np.ndarray:
    """The four corners of a straight stroke from p to q."""
    along = (q - p) / max(np.hypot(*(q - p)), 1e-9)
    side = np.array([-along[1], along[0]]) * width / 2
    return np.array([p + side, q + side, q - side, p - side])
