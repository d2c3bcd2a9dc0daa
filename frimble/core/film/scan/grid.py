"""A scan as the check sees it: codes, scale, and a coarse grid of cells with the levels of clear film and black."""

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cached_property

import cv2
import numpy as np

from frimble.core.conclusions import InvalidInput
from frimble.core.film.scan.coding import codes_of, light_of
from frimble.core.film.scan.vectors import Detail
from frimble.core.units import MM_PER_INCH

CELL_MM = 0.34
# Largest hole or dot that is still a mark and not a shape.
MARK_MM = 1.0
COARSER_MM = 0.09
_STRIP_CELLS = 64


def grey_code(light: float) -> float:
    """Code of a share of white in a `grey` picture."""
    return float(codes_of(light, "srgb", 8))


# A cell counts as black when no pixel of it lets through more than this share of the clear film's light.
DARK_SHARE = 0.35


@dataclass(frozen=True)
class Scan:
    """Grey codes, shape (rows, columns), uint8 or uint16, at `dpi`; high codes are light.

    `notes` state what was chosen. Artwork that was rendered, not scanned, has no densities; `details` are the lines and
    words its file draws.
    """

    codes: np.ndarray
    dpi: float
    encoding: str = "srgb"
    notes: tuple[str, ...] = ()
    artwork: bool = False
    details: tuple[Detail, ...] = ()

    @property
    def bits(self) -> int:
        return self.codes.dtype.itemsize * 8

    @property
    def pixel_mm(self) -> float:
        return MM_PER_INCH / self.dpi

    @property
    def size_mm(self) -> tuple[float, float]:
        rows, columns = self.codes.shape
        return columns * self.pixel_mm, rows * self.pixel_mm

    def light(self, codes: float | np.ndarray) -> np.ndarray:
        """Share of white for codes of any shape; means of codes need not be whole."""
        if isinstance(codes, np.ndarray | np.generic) and codes.dtype == self.codes.dtype:
            return np.asarray(self._table[codes])
        return light_of(np.asarray(codes), self.encoding, self.bits)

    @cached_property
    def _table(self) -> np.ndarray:
        return light_of(np.arange(2**self.bits), self.encoding, self.bits)

    def code(self, light: float) -> float:
        """Code of a share of white."""
        return float(codes_of(light, self.encoding, self.bits))

    def grey(self) -> np.ndarray:
        """The picture at eight bits on the sRGB curve, for finding shapes; the same array when it is so already."""
        if self.bits == 8 and self.encoding == "srgb":
            return self.codes
        if self.bits == 8:
            return cv2.LUT(self.codes, self._grey_table)
        grey = np.empty(self.codes.shape, np.uint8)
        for row in range(0, len(grey), 512):
            np.take(self._grey_table, self.codes[row : row + 512], out=grey[row : row + 512])
        return grey

    def in_grey(self, codes: np.ndarray) -> np.ndarray:
        """What codes of this scan, of any shape, are in its grey picture."""
        return np.asarray(self._grey_table[codes])

    @cached_property
    def _grey_table(self) -> np.ndarray:
        return np.asarray(np.rint(codes_of(self._table, "srgb", 8)).astype(np.uint8))

    def window(self, x0: int, y0: int, x1: int, y1: int) -> tuple[np.ndarray, int, int]:
        """(share of white inside a pixel box cut to the sheet, its left column, its top row)."""
        codes, left, top = self.window_codes(x0, y0, x1, y1)
        return self.light(codes), left, top

    def window_codes(self, x0: int, y0: int, x1: int, y1: int) -> tuple[np.ndarray, int, int]:
        """As `window`, in codes."""
        top, left = max(y0, 0), max(x0, 0)
        return self.codes[top : max(y1, 0), left : max(x1, 0)], left, top


def odd_pixels(length_mm: float, scan: Scan) -> int:
    """Side of a square about a pixel, as long as that or nearly so."""
    return max(3, round(length_mm / scan.pixel_mm) | 1)


@dataclass(frozen=True)
class Coarser:
    """The grey picture on a grid `shrink` times coarser, where shapes and lines are still themselves."""

    grey: np.ndarray
    shrink: int


def coarser(grey: np.ndarray, scan: Scan) -> Coarser:
    """The scan's grey picture on the coarser grid."""
    shrink = max(1, int(COARSER_MM / scan.pixel_mm))
    return Coarser(shrunk(grey, shrink), shrink)


def shrunk(picture: np.ndarray, by: int) -> np.ndarray:
    """Mean of each square of `by` × `by` pixels."""
    if by == 1:
        return picture
    return cv2.resize(picture, None, fx=1 / by, fy=1 / by, interpolation=cv2.INTER_AREA)


@dataclass(frozen=True)
class Cells:
    """Square cells of `side` pixels, `step_mm` wide: mean, least and greatest code of each, and their shares of white,
    shape (rows, columns)."""

    side: int
    step_mm: float
    mean: np.ndarray
    low: np.ndarray
    high: np.ndarray
    light: np.ndarray
    low_light: np.ndarray
    high_light: np.ndarray


@dataclass(frozen=True)
class Levels:
    """Codes of clear film and of black, the share of white each lets through, and the black's sigma in codes, as
    scanned and in the grey picture."""

    clear_code: float
    black_code: float
    clear: float
    black: float
    noise: float
    grey_noise: float


def cells_of(scan: Scan) -> Cells:
    """The coarse grid. Cells cut by the sheet's right and lower edge are left out."""
    side = max(2, round(CELL_MM / scan.pixel_mm))
    rows, columns = (n // side for n in scan.codes.shape)
    if rows < 3 or columns < 3:
        width, height = scan.size_mm
        raise InvalidInput(
            f"The picture measures {width:.1f} × {height:.1f} mm at {scan.dpi:g} dpi: too small for a film. "
            "Check the file and its resolution.",
            "scan",
        )
    mean = np.empty((rows, columns), np.float32)
    low = np.empty((rows, columns), scan.codes.dtype)
    high = np.empty_like(low)
    light, low_light, high_light = (np.empty_like(mean) for _ in range(3))

    def fill(first: int) -> None:
        last = min(first + _STRIP_CELLS, rows)
        strip = scan.codes[first * side : last * side, : columns * side].reshape(last - first, side, columns * side)
        low[first:last] = _across(np.minimum, strip.min(axis=1), side)
        high[first:last] = _across(np.maximum, strip.max(axis=1), side)
        total = strip.sum(axis=1, dtype=np.uint32 if scan.bits == 16 else np.uint16).astype(np.float32)
        mean[first:last] = _across(np.add, total, side) / side**2
        for codes, lit in ((mean, light), (low, low_light), (high, high_light)):
            lit[first:last] = scan.light(codes[first:last])

    with ThreadPoolExecutor(2) as pool:
        list(pool.map(fill, range(0, rows, _STRIP_CELLS)))
    return Cells(side, side * scan.pixel_mm, mean, low, high, light, low_light, high_light)


def _across(join: np.ufunc, rows: np.ndarray, side: int) -> np.ndarray:
    """`join` of every `side` columns together; column by column it is several times faster than along so short an axis."""
    joined = rows[:, ::side].copy()
    for k in range(1, side):
        join(joined, rows[:, k::side], out=joined)
    return joined


def levels_of(scan: Scan, cells: Cells) -> Levels:
    """Levels of clear film and black.

    Raises:
        InvalidInput: nothing black, nothing clear, or no contrast between the two.
    """
    light = cells.light
    flat = cells.high_light - cells.low_light < 0.3 * np.maximum(light, 0.15)
    top = float(np.quantile(light, 0.995))
    bright = light[flat & (light > 0.6 * top)]
    if top < 0.12 or not bright.size:
        raise InvalidInput(
            "The scan is black all over: no clear film to measure against. Was the lid's lamp off?", "scan"
        )
    clear = float(np.median(bright))
    dark_code = scan.code(DARK_SHARE * clear)
    if int(cells.low.min()) >= dark_code:
        raise InvalidInput(
            "There is no black on this scan. Is it the right file, scanned with light through the film?", "scan"
        )
    solid = cells.high < dark_code
    if solid.any():
        black_code = float(np.quantile(cells.mean[solid], 0.3))
    else:
        black_code = float(np.quantile(cells.low[cells.low < dark_code], 0.3))
    noise = _noise(scan, cells, solid)
    grey_noise = grey_code(float(scan.light(black_code + noise))) - grey_code(float(scan.light(black_code)))
    return Levels(scan.code(clear), black_code, clear, float(scan.light(black_code)), noise, grey_noise)


def _noise(scan: Scan, cells: Cells, solid: np.ndarray) -> float:
    """Sigma of the black's pixels, codes, from the quietest half of a sample of solid cells."""
    places = np.flatnonzero(solid)
    if not len(places):
        return 1.0
    picked = np.unravel_index(places[:: max(1, len(places) // 300)], solid.shape)
    rows, columns = (axis[:, None] * cells.side + np.arange(cells.side) for axis in picked)
    windows = scan.codes[rows[:, :, None], columns[:, None, :]]
    return float(np.median(windows.std(axis=(1, 2))))
