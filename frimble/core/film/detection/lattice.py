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
    tree = cKDTree(centres)
    k = min(_NEIGHBOURS + 1, n)
    distance, index = tree.query(centres, k=k, workers=2)
    distance, index = distance[:, 1:], index[:, 1:]
    vectors = centres[index] - centres[:, None]
    alike = _alike(areas[index], areas[:, None])
    pitch, angle = np.zeros(n), np.zeros(n)
    if k > 4:
        seed = _on_square(distance, vectors, alike)
        pitch[seed] = distance[seed, :4].mean(axis=1)
        angle[seed] = np.degrees(np.arctan2(vectors[seed, 0, 1], vectors[seed, 0, 0])) % 90
        _grow(centres, areas, seed, pitch, angle)
    on = pitch > 0
    patch = _patches(on, pitch, distance, index)
    meant = on | _in_row(distance, vectors, areas, index) | _in_crowd(distance, alike, crowd_px)
    return Lattice(meant, patch, pitch, angle)


def _alike(one: np.ndarray, other: np.ndarray) -> np.ndarray:
    return (one > 0.4 * other) & (one < 2.5 * other)


def _on_square(distance: np.ndarray, vectors: np.ndarray, alike: np.ndarray) -> np.ndarray:
    """Four nearest at one distance, in opposite pairs, of like size: the inside of a square lattice."""
    four = distance[:, :4]
    slack = _SLACK * four.mean(axis=1) + 0.5
    level = four.max(axis=1) - four.min(axis=1) < 2 * slack
    balanced = np.hypot(*vectors[:, :4].sum(axis=1).T) < 4 * slack
    return np.asarray(level & balanced & (alike[:, :4].sum(axis=1) >= 3))


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
    rows, columns = np.nonzero((distance < 1.6 * pitch[:, None]) & on[:, None] & on[index])
    partners = index[rows, columns]
    same = np.abs(pitch[rows] - pitch[partners]) < 0.15 * pitch[rows]
    graph = coo_matrix((np.ones(same.sum()), (rows[same], partners[same])), shape=(len(on), len(on)))
    labels = connected_components(graph, directed=False)[1]
    patch[on] = np.unique(labels[on], return_inverse=True)[1]
    return patch


def _in_row(distance: np.ndarray, vectors: np.ndarray, areas: np.ndarray, index: np.ndarray) -> np.ndarray:
    """The middle of three equal marks at equal steps on a straight line, and its two neighbours: a dotted line."""
    if distance.shape[1] < 2:
        return np.zeros(len(areas), bool)
    step = distance[:, :2].mean(axis=1)
    size = areas[index[:, :2]]
    middle = (
        (np.hypot(*vectors[:, :2].sum(axis=1).T) < 0.05 * step + 0.8)
        & (np.abs(size - areas[:, None]) < 0.15 * areas[:, None] + 1).all(axis=1)
        & (step < 12 * np.sqrt(areas))
    )
    row = middle.copy()
    row[index[middle, :2].ravel()] = True
    return np.asarray(row)


def _in_crowd(distance: np.ndarray, alike: np.ndarray, crowd_px: float) -> np.ndarray:
    """Six like marks or more close about: a grain or random halftone."""
    if distance.shape[1] < _NEIGHBOURS:
        return np.zeros(len(distance), bool)
    return np.asarray((distance[:, -1] < crowd_px) & (alike.sum(axis=1) >= _NEIGHBOURS - 1))
