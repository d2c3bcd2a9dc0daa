"""The light behind a step test, place by place: a smooth surface, and where it is darker or brighter than one.

Tubes behind a panel, a bar of a window, a shadow: what falls on open mesh and stencil alike is light. The stencil itself
varies only in its own colour, so a mix of channels that does not see that colour shows the light everywhere.
"""

from dataclasses import dataclass, replace

import numpy as np
from scipy import linalg, sparse

from frimble.core.exposure.target.geometry import Rectangle, Target
from frimble.core.photo.surfaces import terms

# Light is told at knots so far apart, mm; it runs smoothly from one to the next, so stiffly beside the samples.
_KNOT_MM, _STIFF = 5.0, 0.3
_ROUNDS, _LEAST_OFF, _FAR, _HARDLY = 6, 0.006, 10.0, 1e-6
# Where nearly all places lie nearer to the surface than this, in log10, the surface tells it all.
_EVEN, _MOST_PLACES = 0.05, 0.99
# Glare: brighter by so much, log10, at so many samples; thinner by this share of the full stencil, so much more often there.
_BRIGHT, _LEAST_BRIGHT, _THINNER, _OFTENER = 0.03, 5, 0.12, 0.25
# Places of a patch over which its light is averaged, across and down.
_ACROSS, _DOWN = 5, 2
# A stencil whose channels differ less than this share hides no colour that could be left out.
_COLOURLESS = 0.2


@dataclass(frozen=True)
class Samples:
    """Light seen at places that are wholly open or wholly stencil.

    Attributes:
        at_mm: (n, 2) x, y on the film. log_light: (n, 3) log10 by channel. strip: (n,) number of its strip where stencil
            stands there, −1 where the mesh is open.
    """

    at_mm: np.ndarray
    log_light: np.ndarray
    strip: np.ndarray


@dataclass(frozen=True)
class TableLight:
    """log10 of the light behind the sheet.

    Attributes:
        surface: (6, 3) of the second degree, by channel. knots: (across, down) what to add, the same in each channel.
        glare: whether light falls on the stencil from the front somewhere.
    """

    size_mm: tuple[float, float]
    surface: np.ndarray
    knots: np.ndarray
    glare: bool = False

    def at(self, places_mm: np.ndarray) -> np.ndarray:
        """(..., 3) at (..., 2) x, y."""
        light = np.asarray(_terms(places_mm, self.size_mm) @ self.surface)
        if not self.knots.any():
            return light
        more = _weights(np.reshape(places_mm, (-1, 2)), self.knots.shape) @ self.knots.ravel()
        return np.asarray(light + more.reshape(places_mm.shape[:-1])[..., None])

    def behind(self, box: Rectangle) -> np.ndarray:
        """(3,) log10 of the mean light behind a part of the sheet."""
        x = box.x_mm + (np.arange(_ACROSS) + 0.5) / _ACROSS * box.width_mm
        y = box.y_mm + (np.arange(_DOWN) + 0.5) / _DOWN * box.height_mm
        return np.asarray(np.log10((10 ** self.at(np.stack(np.meshgrid(x, y), -1))).mean((0, 1))))


def table_light(
    target: Target, opened: np.ndarray, middles_mm: np.ndarray, colour: np.ndarray, seen: Samples
) -> TableLight:
    """The light behind the sheet.

    Args:
        opened: (steps, copies, 3) log10 light of open mesh, at middles_mm (steps, copies, 2). colour: (3,) density of the
            stencil by channel. seen: the sheet's light wherever it tells.
    """
    size = target.width_mm, target.height_mm
    mix = _blind_to(colour)
    shape = _robust(_terms(middles_mm, size).reshape(-1, 6), (opened @ mix).ravel())
    shape[0] = 0
    knots, glare = _unevenness(size, mix, shape, colour, seen)
    even = TableLight(size, np.column_stack([shape] * 3), knots, glare)
    flat = opened - even.at(middles_mm)
    # The brightest steps are free of scum; glare makes single patches brighter, never the median of a step's copies.
    level = np.quantile(np.median(flat, axis=1), 0.75, axis=0)
    return replace(even, surface=even.surface + np.outer([1, 0, 0, 0, 0, 0], level))


def _unevenness(
    size_mm: tuple[float, float], mix: np.ndarray, shape: np.ndarray, colour: np.ndarray, seen: Samples
) -> tuple[np.ndarray, bool]:
    """((across, down) at the knots, how much brighter than the surface it is, log10; whether glare makes it so).

    None where the surface tells it all, or glare would be taken for the table's light.
    """
    knots = max(3, round(size_mm[0] / _KNOT_MM) + 1), max(3, round(size_mm[1] / _KNOT_MM) + 1)
    none = np.zeros(knots)
    if _is_colourless(colour):
        return none, False
    off = seen.log_light @ mix - _terms(seen.at_mm, size_mm) @ shape
    found = _smoothed(off, seen, knots)
    there = _weights(seen.at_mm, knots) @ (found - np.median(found)).ravel()
    if np.quantile(np.abs(there), _MOST_PLACES) <= _EVEN:
        return none, False
    glare = _is_glare(there, colour, seen)
    return none if glare else found, glare


def _is_glare(brighter: np.ndarray, colour: np.ndarray, seen: Samples) -> bool:
    """Whether the stencil looks thinner just where it is brighter: light that falls on it from the front does that.

    Args:
        brighter: (n,) log10, than the surface at each sample.
    """
    # What light there is does not count in this mix, full stencil counts 1.
    of_stencil = np.linalg.lstsq(np.array([np.ones(3), colour]), np.array([0.0, -1.0]), rcond=None)[0]
    stands = seen.log_light @ of_stencil
    thinner = np.zeros(len(stands), bool)
    for strip in range(seen.strip.max() + 1):
        mine = seen.strip == strip
        thinner[mine] = stands[mine] < np.median(stands[mine]) - _THINNER
    bright = (brighter > _BRIGHT) & (seen.strip >= 0)
    if bright.sum() < _LEAST_BRIGHT:
        return False
    return bool(thinner[bright].mean() > thinner[~bright & (seen.strip >= 0)].mean() + _OFTENER)


def _smoothed(off: np.ndarray, seen: Samples, knots: tuple[int, int]) -> np.ndarray:
    """(across, down) at the knots, from (n,) at the samples; each strip's stencil may lie off as a whole."""
    # Column 0: open mesh and stencil alike; then one for each strip's stencil, which the mix does not leave out wholly.
    levels = np.column_stack([np.ones(len(off)), seen.strip[:, None] == np.arange(seen.strip.max() + 1)])
    rows, bends = _weights(seen.at_mm, knots), _bends(knots)
    smooth = _STIFF**2 * (bends.T @ bends) + _HARDLY * sparse.eye(bends.shape[1])
    weight, field = np.ones(len(off)), np.zeros(bends.shape[1])
    for _ in range(_ROUNDS):
        weighed = rows.T @ sparse.diags(weight)
        field, level = _solved(
            weighed @ rows + smooth,
            weighed @ levels,
            (levels.T * weight) @ levels,
            weighed @ off,
            (levels.T * weight) @ off,
        )
        left = off - rows @ field - levels @ level
        scale = max(1.48 * float(np.median(np.abs(left))), _LEAST_OFF)
        weight = 1 / (1 + (left / (_FAR * scale)) ** 2)
    return field.reshape(knots)


def _solved(
    inner: sparse.csr_matrix, border: np.ndarray, corner: np.ndarray, right: np.ndarray, low: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """x, y with inner x + border y = right and borderᵀ x + corner y = low; `inner` is banded.

    Source: block elimination by the Schur complement of `inner`.
    """
    lower = sparse.tril(inner).tocoo()
    band = np.zeros(((lower.row - lower.col).max() + 1, inner.shape[0]))
    band[lower.row - lower.col, lower.col] = lower.data
    both = linalg.solveh_banded(band, np.column_stack([right, border]), lower=True)
    rest = corner - border.T @ both[:, 1:] + _HARDLY * np.eye(len(corner))
    y = np.linalg.solve(rest, low - border.T @ both[:, 0])
    return both[:, 0] - both[:, 1:] @ y, y


def _weights(at_mm: np.ndarray, knots: tuple[int, int]) -> sparse.csr_matrix:
    """(n, knots) bilinear weights of the knots at each place."""
    x, y = (np.clip(at_mm[:, k] / _KNOT_MM, 0, knots[k] - 1.001) for k in (0, 1))
    left, top = x.astype(int), y.astype(int)
    right, down = x - left, y - top
    corners = (
        ((1 - right) * (1 - down), 0, 0),
        ((1 - right) * down, 0, 1),
        (right * (1 - down), 1, 0),
        (right * down, 1, 1),
    )
    values = np.concatenate([w for w, _, _ in corners])
    columns = np.concatenate([(left + dx) * knots[1] + top + dy for _, dx, dy in corners])
    return sparse.csr_matrix((values, (np.tile(np.arange(len(x)), 4), columns)), shape=(len(x), knots[0] * knots[1]))


def _bends(knots: tuple[int, int]) -> sparse.csr_matrix:
    """Second differences along both ways."""
    across, down = (sparse.diags([1.0, -2.0, 1.0], [0, 1, 2], shape=(n - 2, n)) for n in knots)
    return sparse.vstack([sparse.kron(across, sparse.eye(knots[1])), sparse.kron(sparse.eye(knots[0]), down)]).tocsr()


def _terms(places_mm: np.ndarray, size_mm: tuple[float, float]) -> np.ndarray:
    """(..., 6) of a surface of the second degree at (..., 2) places; the first is 1."""
    across, down = (places_mm[..., k] / size_mm[k] - 0.5 for k in (0, 1))
    return terms(across, down)


def _is_colourless(colour: np.ndarray) -> bool:
    return bool(np.ptp(colour / max(colour.max(), 1e-6)) <= _COLOURLESS)


def _blind_to(colour: np.ndarray) -> np.ndarray:
    """(3,) weights that add up to 1 and do not see `colour`; as even as they can be."""
    # A colour alike in all channels cannot be unseen: then the even mix stays.
    if _is_colourless(colour):
        return np.full(3, 1 / 3)
    rows = np.array([np.ones(3), colour / colour.max()])
    return np.asarray(np.linalg.lstsq(rows, np.array([1.0, 0.0]), rcond=0.15)[0])


def _robust(rows: np.ndarray, y: np.ndarray) -> np.ndarray:
    """Least squares that lets single patches lie off."""
    weight = np.ones(len(y))
    for _ in range(8):
        root = np.sqrt(weight)[:, None]
        solution = np.linalg.lstsq(rows * root, y * root[:, 0], rcond=1e-6)[0]
        off = y - rows @ solution
        scale = max(1.48 * float(np.median(np.abs(off))), 0.002)
        weight = 1 / (1 + (off / (3 * scale)) ** 2) ** 2
    return np.asarray(solution)
