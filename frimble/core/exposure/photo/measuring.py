"""What the straightened photo shows of each strip: light through every patch, the table's unevenness removed."""

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from typing import Any

import cv2
import numpy as np

from frimble.core.conclusions import RuleViolation
from frimble.core.exposure.photo.finding import Place
from frimble.core.exposure.photo.lighting import Samples, TableLight, table_light
from frimble.core.exposure.target.geometry import Rectangle, Target, TargetPatch
from frimble.core.film.scan.coding import light_of

_MOST_PER_MM = 14.0
_INSET_MM = 1.0
# Codes at which a channel of the camera is burnt out, and the share of a patch that may be.
_BURNT, _MOST_BURNT = 252, 0.15
_EDGE_MM = 1.6
# The table's light is looked at in pieces so wide, mm; rows nearer than this leave no stencil between them.
_PIECE_MM, _LEAST_GAP_MM = 5.0, 0.7
_SOFTEST_MM = 0.24
# What is brighter than open mesh by this, in log10, has light on it from elsewhere; so has a copy of a solid patch that is
# brighter than its fellow by this share of the table's light in a colour that the stencil hardly holds back.
_VEIL, _LIT = 0.02, 0.04
# Copies that differ so much on all steps alike, of the full density, are mesh and camera beating.
_MOST_COMMON = 0.3
_LEAST_STEP = 0.03
_LEAST_DENSITY = 0.04
# A stencil that lets more through than this cannot be told from open mesh.
_LEAST_STENCIL = 0.97
_LIGHT = light_of(np.arange(256), "srgb", 8).astype(np.float32)


@dataclass(frozen=True)
class StraightenedPhoto:
    """The photo as if from straight above: (rows, columns, 3) uint8 at `per_mm` pixels to the mm of the film."""

    picture: np.ndarray
    per_mm: float

    def part(self, box: Rectangle) -> np.ndarray:
        """The pixels of a box on the film."""
        x, y = round(box.x_mm * self.per_mm), round(box.y_mm * self.per_mm)
        width, height = round(box.width_mm * self.per_mm), round(box.height_mm * self.per_mm)
        return self.picture[y : y + height, x : x + width]


@dataclass(frozen=True)
class PhotoMeasurement:
    """Light through each patch, as shares of open mesh in the same place; NaN where it could not be measured.

    Attributes:
        density: (steps,) of the stencil where the film was clear, in the colour that shows it best.
        differs: (steps,) by how much its copies differ. scum: (steps,) density where the film was black.
        open_share: (steps, widths) share of each opening still open, by its light; lines: (steps, line widths) share of each
            line still standing. dots: (steps, tints) share of a field of dots that is open.
        widths_um, line_widths_um: true widths, finest first.
        numbers: of the steps on the film. lit: steps with light from elsewhere on some patch. glare: those on which it lies
            on every copy of what tells their density. some_glare: light falls on the stencil from the front somewhere.
        sharp_mm: sigma of the photo's edges.
        channel: 0 red, 1 green, 2 blue.
    """

    density: np.ndarray
    differs: np.ndarray
    scum: np.ndarray
    open_share: np.ndarray
    lines: np.ndarray
    dots: np.ndarray
    widths_um: tuple[float, ...]
    line_widths_um: tuple[float, ...]
    numbers: tuple[int, ...]
    lit: tuple[int, ...]
    glare: tuple[int, ...]
    some_glare: bool
    sharp_mm: float
    channel: int


def straighten(place: Place, target: Target) -> StraightenedPhoto:
    """The film's part of the photo, straight; finer than the photo shows would be a waste."""
    per_mm = min(_MOST_PER_MM, place.pixels_per_mm)
    columns, rows = round(target.width_mm * per_mm), round(target.height_mm * per_mm)
    # The places of a coarse grid are looked up one by one; between them they run straight.
    across, down = np.arange(0, columns + 16, 16), np.arange(0, rows + 16, 16)
    mm = np.stack(np.meshgrid((across + 0.5) / per_mm, (down + 0.5) / per_mm), -1).reshape(-1, 2)
    at = place.at(mm).reshape(len(down), len(across), 2).astype(np.float32)
    x, y = np.arange(columns, dtype=np.float32) / 16, np.arange(rows, dtype=np.float32) / 16
    fine = cv2.remap(at, *np.meshgrid(x, y), cv2.INTER_LINEAR)
    return StraightenedPhoto(_looked_up(place.picture, fine), per_mm)


def _looked_up(picture: np.ndarray, at: np.ndarray) -> np.ndarray:
    """The picture at (rows, columns, 2) x, y of its own pixels."""
    x, y = cv2.split(at)
    return cv2.remap(picture, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)


def measure(straight: StraightenedPhoto, target: Target) -> PhotoMeasurement:
    """Every strip's patches.

    Raises:
        RuleViolation: blurred, burnt out, or no stencil to be seen.
    """
    return _Measuring(straight, target).measured()


class _Measuring:
    """One photo's patches on their way from pixels to shares of open mesh."""

    def __init__(self, straight: StraightenedPhoto, target: Target):
        self.straight, self.target, self.steps = straight, target, len(target.steps)
        # Steps may be left out of a film: where each one's values stand.
        self.row = {strip.index: k for k, strip in enumerate(target.steps)}

    def measured(self) -> PhotoMeasurement:
        channel = self.channel
        sharp = self._sharpness(channel)
        if sharp > _SOFTEST_MM:
            raise RuleViolation(
                f"The photo is blurred: edges run over {2.56 * sharp:.1f} mm. Hold the phone still or lean it on something, "
                "tap the test to focus, and take it again."
            )
        self._refuse_beating()
        solid = np.where(self._lit["solid"], np.nan, self._densities("solid"))
        open_ = np.where(self._lit["open"], np.nan, self._densities("open"))
        density = _middle(solid)
        widths = self.target.opening_widths_um
        numbers = tuple(self.row)
        line_widths = tuple(sorted({p.width_um for p in self.target.patches if p.kind == "lines"}))
        return PhotoMeasurement(
            density,
            _differ(solid),
            np.clip(np.nan_to_num(_middle(open_)), 0, None),
            self._ruled("openings", widths, channel, density),
            self._ruled("lines", line_widths, channel, density),
            self._dots(channel, density),
            widths,
            line_widths,
            numbers,
            tuple(numbers[k] for k in np.flatnonzero(self._lit["solid"].any(1) | self._lit["open"].any(1))),
            tuple(numbers[k] for k in np.flatnonzero(~np.isfinite(density))),
            self._table.glare,
            sharp,
            channel,
        )

    @cached_property
    def _light(self) -> dict[str, np.ndarray]:
        """By kind, (steps, copies, 3) mean linear light of each patch."""
        return {
            kind: self._each(kind, lambda p: _mean_light(self.straight.part(_inner(p)))) for kind in ("open", "solid")
        }

    def _each(self, kind: str, value: Callable[..., Any]) -> np.ndarray:
        return np.array([[value(p) for p in self.target.patches_of(s.index, kind)] for s in self.target.steps])

    @cached_property
    def _colour(self) -> np.ndarray:
        """(3,) density of the stencil to each channel, from open and solid patches side by side."""
        light = {k: np.log10(np.clip(v, 1e-4, None)) for k, v in self._light.items()}
        by_step = np.median(light["open"] - light["solid"], axis=1)
        colour = np.quantile(by_step, 0.8, axis=0)
        if colour.max() < _LEAST_DENSITY:
            raise RuleViolation(
                "No stencil can be told from open mesh on this photo: all has washed away, or the table's light is too "
                "strong for the camera. Expose the photo less, or start the test again with a longer time."
            )
        return np.asarray(np.clip(colour, 0.0, None))

    @cached_property
    def channel(self) -> int:
        """The channel in which the stencil stands out most against noise, and the open mesh is not burnt out."""
        burnt = np.array([self._burnt_share(k) for k in range(3)])
        if burnt.min() > _MOST_BURNT:
            raise RuleViolation("The open mesh is burnt out on the photo: it was exposed too long. Take it darker.")
        light = 10 ** -np.minimum(self._colour, 2)
        return int(np.argmax((1 - light) * np.sqrt(np.clip(light, 0.02, 1)) - 10 * (burnt > _MOST_BURNT)))

    def _burnt_share(self, channel: int) -> float:
        parts = [self.straight.part(_inner(p))[..., channel] for p in self.target.patches if p.kind == "open"]
        return float(np.median([(part >= _BURNT).mean() for part in parts]))

    @cached_property
    def _table(self) -> TableLight:
        opened = np.log10(np.clip(self._light["open"], 1e-4, None))
        middles = self._each("open", lambda p: np.array(p.middle))
        return table_light(self.target, opened, middles, self._colour, self._samples())

    def _samples(self) -> Samples:
        """The light of open and solid patches, and of the bare stencil between a strip's rows, in pieces."""
        boxes = [(piece, row) for row, strip in enumerate(self.target.steps) for piece in self._pieces(strip.index)]
        at = np.array([box.middle for (box, _), _ in boxes])
        light = np.array([_mean_light(self.straight.part(box)) for (box, _), _ in boxes])
        strip = np.array([row if stands else -1 for (_, stands), row in boxes])
        return Samples(at, np.log10(np.clip(light, 1e-4, None)), strip)

    def _pieces(self, step: int) -> Iterator[tuple[Rectangle, bool]]:
        """Of one strip, what is wholly open or wholly stencil, and whether stencil stands there."""
        patches = sorted((p for p in self.target.patches if p.step == step), key=lambda p: p.y_mm)
        for p in patches:
            if p.kind in ("open", "solid"):
                yield from ((piece, p.kind == "solid") for piece in _in_pieces(_inner(p)))
        for above, below in pairwise(patches):
            top, gap = above.y_mm + above.height_mm, below.y_mm - above.y_mm - above.height_mm
            if gap >= _LEAST_GAP_MM:
                between = Rectangle(above.x_mm + _INSET_MM, top + gap / 3, above.width_mm - 2 * _INSET_MM, gap / 3)
                yield from ((piece, True) for piece in _in_pieces(between))

    @cached_property
    def _shares(self) -> dict[str, np.ndarray]:
        """By kind, (steps, copies, 3) light through patches as a share of open mesh there."""
        behind = {kind: self._each(kind, lambda p: self._table.behind(_inner(p))) for kind in self._light}
        return {kind: light / 10 ** behind[kind] for kind, light in self._light.items()}

    def _ruled(self, kind: str, widths: Sequence[float], channel: int, density: np.ndarray) -> np.ndarray:
        """(steps, widths) share of openings open, or of lines standing, of what they are as drawn."""
        shares = np.full((self.steps, len(widths)), np.nan)
        for p in self.target.patches_of_kind(kind):
            if self._over(p, _ruled_part(p)):
                continue
            is_open = self._open(p, _ruled_part(p), channel, density)
            drawn = p.tint if kind == "openings" else 1 - p.tint
            shares[self.row[p.step], widths.index(p.width_um)] = (
                is_open if kind == "openings" else 1 - is_open
            ) / drawn
        return shares

    def _dots(self, channel: int, density: np.ndarray) -> np.ndarray:
        """(steps, tints) share of each field of dots that is open, tints rising."""
        tints = sorted({p.tint for p in self.target.patches_of_kind("dots")})
        shares = np.full((self.steps, len(tints)), np.nan)
        for p in self.target.patches_of_kind("dots"):
            if not self._over(p, _inner(p)):
                shares[self.row[p.step], tints.index(p.tint)] = self._open(p, _inner(p), channel, density)
        return shares

    def _open(self, patch: TargetPatch, part: Rectangle, channel: int, density: np.ndarray) -> float:
        """Share of a patch that is open; NaN where its step holds no stencil to tell it by.

        Source: A. Murray, J. Franklin Inst. 221 (1936): a = (T − T_solid) / (T_open − T_solid).
        """
        solid = 10 ** -density[self.row[patch.step]]
        if not solid < _LEAST_STENCIL:
            return math.nan
        share = float(_mean_light(self.straight.part(part))[channel] / 10 ** self._table.behind(part)[channel])
        return float((share - solid) / (1 - solid))

    def _densities(self, kind: str) -> np.ndarray:
        """(steps, copies) of the patches of a kind, in the colour that shows the stencil best."""
        return np.asarray(-np.log10(np.clip(self._shares[kind][..., self.channel], 1e-4, None)))

    @cached_property
    def _lit(self) -> dict[str, np.ndarray]:
        """By kind, (steps, copies) whether light from elsewhere lies on a patch.

        A stencil that washed away lets the table's own light through, most in the colour it holds back; glare is white and
        adds as much in the colour that the stencil passes anyway.
        """
        burnt = {
            kind: self._each(kind, lambda p: _burnt_all(self.straight.part(_inner(p))) > 0.02) for kind in self._light
        }
        over = {kind: (np.log10(np.clip(share, 1e-4, None)) > _VEIL).any(-1) for kind, share in self._shares.items()}
        return {
            "open": burnt["open"] | over["open"],
            "solid": burnt["solid"] | over["solid"] | _whitened(self._shares["solid"]),
        }

    def _over(self, patch: TargetPatch, part: Rectangle) -> bool:
        """Whether light from elsewhere lies on a ruled or dotted patch: burnt out, or brighter than open mesh."""
        pixels = self.straight.part(part)
        if _burnt_all(pixels) > 0.03:
            return True
        return bool((np.log10(np.clip(_mean_light(pixels), 1e-4, None)) - self._table.behind(part) > _VEIL).any())

    def _refuse_beating(self) -> None:
        """Refuse a photo on which copies of every step differ alike: what beats between mesh and camera is no stencil."""
        solid = np.where(self._lit["solid"], np.nan, self._densities("solid"))
        whole = solid[np.isfinite(solid).all(1)]
        if not len(whole):
            return
        full, common = np.nanquantile(solid, 0.8), np.median(whole - whole.mean(1, keepdims=True), axis=0)
        if np.ptp(common) > _MOST_COMMON * full:
            raise RuleViolation(
                "Mesh and camera beat: copies of one patch differ alike on all steps. Take the photo from a little nearer "
                "or farther, or turn the phone some degrees."
            )

    def _sharpness(self, channel: int) -> float:
        """Sigma of the edges of the open patches, mm, in the worse of the two directions."""
        rows: dict[str, list[float]] = {"across": [], "down": []}
        bright = np.median(self._light["open"][..., channel], axis=1)
        dark = np.median(self._light["solid"][..., channel], axis=1)
        for p in self.target.patches_of_kind("open"):
            height = float(bright[self.row[p.step]] - dark[self.row[p.step]])
            for way, box in (
                ("across", Rectangle(p.x_mm - _EDGE_MM / 2, p.y_mm + 1, _EDGE_MM, p.height_mm - 2)),
                ("down", Rectangle(p.x_mm + 2, p.y_mm - _EDGE_MM / 2, p.width_mm - 4, _EDGE_MM)),
            ):
                light = _LIGHT[self.straight.part(box)[..., channel]]
                run = light.mean(0) if way == "across" else light.mean(1)
                if len(run) > 4 and height > _LEAST_STEP:
                    rows[way].append(_edge_sigma(run, height) / self.straight.per_mm)
        known = [float(np.median(v)) for v in rows.values() if v]
        if not known:
            raise RuleViolation(
                "No edge between stencil and open mesh can be seen: the photo is too dull or too blurred to read."
            )
        return max(known)


def _inner(patch: TargetPatch) -> Rectangle:
    """A patch without its rim, over which blur carries light."""
    inset = min(_INSET_MM, patch.height_mm / 4)
    return Rectangle(patch.x_mm + inset, patch.y_mm + inset, patch.width_mm - 2 * inset, patch.height_mm - 2 * inset)


def _in_pieces(box: Rectangle) -> list[Rectangle]:
    """A box side by side in pieces of some millimetres."""
    number = max(1, round(box.width_mm / _PIECE_MM))
    width = box.width_mm / number
    return [Rectangle(box.x_mm + k * width, box.y_mm, width, box.height_mm) for k in range(number)]


def _ruled_part(patch: TargetPatch) -> Rectangle:
    inset = min(_INSET_MM, patch.height_mm / 4)
    return Rectangle(patch.x_mm, patch.y_mm + inset, patch.ruled_mm, patch.height_mm - 2 * inset)


def _mean_light(part: np.ndarray) -> np.ndarray:
    """(3,) mean linear light of pixels, those in the middle counting most.

    A patch holds no whole number of threads, nor of what mesh and camera make together; fading out to its rim
    (a Hann window) keeps the odd one from counting.
    """
    down, across = (np.hanning(n + 2)[1:-1] for n in part.shape[:2])
    return np.asarray(np.einsum("i,j,ijk->k", down / down.sum(), across / across.sum(), _LIGHT[part]))


def _burnt_all(part: np.ndarray) -> float:
    """Share of pixels burnt out in every channel."""
    return float((part.min(2) >= _BURNT).mean()) if part.size else 0.0


def _whitened(solid: np.ndarray) -> np.ndarray:
    """(steps, copies) which solid patches white light lies on, from their shares (steps, copies, 3) of open mesh.

    Each is held against the darkest copy of its step.
    """
    darkest = np.take_along_axis(solid, solid.mean(-1).argmin(1)[:, None, None], axis=1)
    more = solid - darkest
    passes, stops = darkest.argmax(-1)[..., None], darkest.argmin(-1)[..., None]
    washed = (1 - _in_channel(darkest, passes)) / np.clip(1 - _in_channel(darkest, stops), 1e-3, None)
    ratio = _in_channel(more, passes) / np.clip(_in_channel(more, stops), 1e-3, None)
    return np.asarray((_in_channel(more, passes) > _LIT) & (ratio > (washed + 1) / 2))


def _in_channel(values: np.ndarray, channel: np.ndarray) -> np.ndarray:
    """(steps, copies) of values (steps, copies, 3) in each step's channel (steps, 1, 1)."""
    where = np.broadcast_to(channel, (*values.shape[:2], 1))
    return np.asarray(np.take_along_axis(values, where, axis=2)[..., 0])


def _middle(copies: np.ndarray) -> np.ndarray:
    """(steps,) median over the copies that could be measured; NaN where none could."""
    middles = np.full(len(copies), np.nan)
    some = np.isfinite(copies).any(1)
    middles[some] = np.nanmedian(copies[some], axis=1)
    return middles


def _differ(copies: np.ndarray) -> np.ndarray:
    """(steps,) how far copies on a step lie apart; NaN where fewer than two could be measured."""
    low, high = (
        np.where(np.isfinite(copies), copies, np.inf).min(1),
        np.where(np.isfinite(copies), copies, -np.inf).max(1),
    )
    return np.where(np.isfinite(copies).sum(1) > 1, high - low, np.nan)


def _edge_sigma(run: np.ndarray, height: float) -> float:
    """Sigma, pixels, of a blurred step of a known height, from its steepest place."""
    steepest = float(np.abs(np.diff(run)).max())
    return height / math.sqrt(2 * math.pi) / max(steepest, 1e-6)
