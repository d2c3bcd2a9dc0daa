"""Telling halftone from faults: dots or holes that stand on a lattice, in a row or in a texture were meant."""

from dataclasses import dataclass

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

_NEIGHBOURS = 6
# Spread of the four nearest distances that is still a lattice, as a share of the pitch, beside half a pixel.
_SLACK = 0.1


@dataclass(frozen=True)
class Lattice:
    """What of a set of marks belongs to a pattern.

    Attributes:
        meant: (n,) True where a mark stands on a lattice, in a row of equals or in a dense texture.
        patch: (n,) number of the lattice patch, −1 outside.
        pitch: (n,) distance to the lattice neighbours, pixels, 0 outside.
        angle: (n,) direction of the nearest neighbour, degrees 0..90, 0 outside.
    """

    meant: np.ndarray
    patch: np.ndarray
    pitch: np.ndarray
    angle: np.ndarray


def find_lattice(centres: np.ndarray, areas: np.ndarray, crowd_px: float) -> Lattice:
    """Which of the marks are a pattern.

    Args:
        centres: (n, 2) x, y in pixels. areas: (n,) in pixels.
        crowd_px: radius in which a dozen like marks or more are a texture.
    """
    n = len(centres)
    empty = Lattice(np.zeros(n, bool), np.full(n, -1), np.zeros(n), np.zeros(n))
    if n < 3:
        return empty
    # Neighbour by neighbour: sums along so short an axis are several times faster than mark by mark.
    distance, index = (np.ascontiguousarray(told.T[1:]) for told in _nearest(centres))
    across, down = (axis[index] - axis for axis in centres.T)
    alike = _alike(areas[index], areas)
    pitch, angle = np.zeros(n), np.zeros(n)
    if len(distance) > 3:
        seed = _on_square(distance, across, down, alike)
        pitch[seed] = distance[:4, seed].mean(axis=0)
        angle[seed] = np.degrees(np.arctan2(down[0, seed], across[0, seed])) % 90
        _grow(centres, areas, seed, pitch, angle)
    on = pitch > 0
    patch = _patches(on, pitch, distance, index)
    meant = on | _in_row(distance, across, down, areas, index) | _in_crowd(distance, alike, crowd_px)
    return Lattice(meant, patch, pitch, angle)


def _nearest(centres: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """(distances, numbers) of each mark and those nearest to it, (n, neighbours + 1)."""
    distance, index = cKDTree(centres).query(centres, k=min(_NEIGHBOURS + 1, len(centres)), workers=2)
    return np.asarray(distance), np.asarray(index)


def _alike(one: np.ndarray, other: np.ndarray) -> np.ndarray:
    return (one > 0.4 * other) & (one < 2.5 * other)


def _on_square(distance: np.ndarray, across: np.ndarray, down: np.ndarray, alike: np.ndarray) -> np.ndarray:
    """Four nearest at one distance, in opposite pairs, of like size: the inside of a square lattice.

    Here and below arrays of neighbours have the shape (neighbours, n); across, down: the way to each, pixels.
    """
    four = distance[:4]
    slack = _SLACK * four.mean(axis=0) + 0.5
    level = four.max(axis=0) - four.min(axis=0) < 2 * slack
    balanced = np.hypot(across[:4].sum(axis=0), down[:4].sum(axis=0)) < 4 * slack
    return np.asarray(level & balanced & (alike[:4].sum(axis=0) >= 3))


def _grow(centres: np.ndarray, areas: np.ndarray, seed: np.ndarray, pitch: np.ndarray, angle: np.ndarray) -> None:
    """The patch's edge and its odd dots join it: within a lattice step of a member."""
    for _ in range(2):
        members = np.flatnonzero(pitch > 0)
        rest = np.flatnonzero(pitch == 0)
        if not len(members) or not len(rest):
            return
        far, near = cKDTree(centres[members]).query(centres[rest], workers=2)
        nearest = members[near]
        joins = (far < 1.6 * pitch[nearest]) & (areas[rest] < 6 * areas[nearest])
        pitch[rest[joins]] = pitch[nearest[joins]]
        angle[rest[joins]] = angle[nearest[joins]]


def _patches(on: np.ndarray, pitch: np.ndarray, distance: np.ndarray, index: np.ndarray) -> np.ndarray:
    """Members that are neighbours with one pitch share a patch."""
    patch = np.full(len(on), -1)
    neighbour, mark = np.nonzero((distance < 1.6 * pitch) & on & on[index])
    partner = index[neighbour, mark]
    same = np.abs(pitch[mark] - pitch[partner]) < 0.15 * pitch[mark]
    graph = coo_matrix((np.ones(same.sum(), np.int8), (mark[same], partner[same])), shape=(len(on), len(on)))
    labels = connected_components(graph, directed=False)[1]
    patch[on] = np.unique(labels[on], return_inverse=True)[1]
    return patch


def _in_row(
    distance: np.ndarray, across: np.ndarray, down: np.ndarray, areas: np.ndarray, index: np.ndarray
) -> np.ndarray:
    """The middle of three equal marks at equal steps on a straight line, and its two neighbours: a dotted line."""
    if len(distance) < 2:
        return np.zeros(len(areas), bool)
    step = distance[:2].mean(axis=0)
    middle = (
        (np.hypot(across[:2].sum(axis=0), down[:2].sum(axis=0)) < 0.05 * step + 0.8)
        & (np.abs(areas[index[:2]] - areas) < 0.15 * areas + 1).all(axis=0)
        & (step < 12 * np.sqrt(areas))
    )
    row = middle.copy()
    row[index[:2, middle].ravel()] = True
    return np.asarray(row)


def _in_crowd(distance: np.ndarray, alike: np.ndarray, crowd_px: float) -> np.ndarray:
    """Six like marks or more close about: a grain or random halftone."""
    if len(distance) < _NEIGHBOURS:
        return np.zeros(distance.shape[1], bool)
    return np.asarray((distance[-1] < crowd_px) & (alike.sum(axis=0) >= _NEIGHBOURS - 1))
