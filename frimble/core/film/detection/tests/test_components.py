"""Shapes told by their runs are those that OpenCV tells at every pixel, and tiles tell what the whole picture does."""

import unittest

import cv2
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from frimble.core.film.detection import marks
from frimble.core.film.detection.components import components_of


def _picture(seed: int, rows: int, columns: int, share: float) -> np.ndarray:
    return (np.random.default_rng(seed).random((rows, columns)) < share).astype(np.uint8) * 255


def _in_order(boxes, areas, centres):
    rows = np.column_stack([boxes, areas, centres])
    return rows[np.lexsort(rows.T)]


class ComponentTests(unittest.TestCase):
    @settings(deadline=None, max_examples=60)
    @given(st.integers(0, 10_000), st.integers(1, 40), st.integers(1, 40), st.sampled_from([0.02, 0.3, 0.5, 0.9, 1.0]))
    def test_they_are_those_of_opencv(self, seed, rows, columns, share):
        # Source: OpenCV, connectedComponentsWithStats with eight neighbours.
        picture = _picture(seed, rows, columns, share)
        count, labels, stats, centres = cv2.connectedComponentsWithStats(picture, connectivity=8)
        found = components_of(picture)
        self.assertEqual(len(found.areas), count - 1)
        ours = _in_order(found.boxes, found.areas, found.centres)
        theirs = _in_order(stats[1:, :4], stats[1:, 4], centres[1:])
        np.testing.assert_allclose(ours, theirs, atol=1e-9)
        row, column = (axis.ravel() for axis in np.indices(picture.shape))
        at = found.at(column, row)
        self.assertEqual(((at >= 0) == (labels.ravel() > 0)).all(), True)

    def test_a_shape_is_drawn_as_it_is(self):
        picture = np.zeros((30, 40), np.uint8)
        cv2.ellipse(picture, (18, 14), (12, 6), 25, 0, 360, 255, 2)
        picture[2, 2] = picture[27, 39] = 255
        found = components_of(picture)
        largest = int(found.areas.argmax())
        x, y, wide, high = found.boxes[largest]
        self.assertTrue((found.drawn(largest) * 255 == picture[y : y + high, x : x + wide]).all())
        left, whole = found.drawn_in(-1, 31, np.ones(3, bool))
        self.assertEqual(left, 1)
        self.assertTrue((whole[1:-1, 1:-1] * 255 == picture[:, 2:]).all())
        self.assertEqual(int(whole.sum()), int((picture > 0).sum()))

    def test_rows_without_a_picked_shape_are_drawn_clear(self):
        picture = np.zeros((30, 40), np.uint8)
        picture[5, 5] = picture[25, 30] = 255
        found = components_of(picture)
        for rows, picked in (((10, 20), [True, True]), ((0, 30), [False, False]), ((0, 10), [False, True])):
            with self.subTest(rows=rows, picked=picked):
                _, drawn = found.drawn_in(*rows, np.array(picked))
                self.assertEqual((len(drawn), int(drawn.sum())), (rows[1] - rows[0], 0))

    def test_tiles_tell_the_marks_of_the_whole_picture(self):
        # Source: OpenCV's shapes of the whole picture, those no longer than a mark.
        side, cell = 25, 8
        picture = np.full((2600, 2300), 255, np.uint8)
        rng = np.random.default_rng(11)
        for x, y in rng.integers(20, 2280, (600, 2)).tolist():
            cv2.circle(picture, (x, y), int(rng.integers(1, 11)), 0, -1)
        for radius in range(2, 9):
            # Beginning with a tile, ending with the one before, and across the two.
            for k, at in enumerate((1024 + radius, 1023 - radius, 1024)):
                cv2.circle(picture, (at, 130 * radius + 40 * k), radius, 0, -1)
                cv2.circle(picture, (100 * radius + 30 * k, at), radius, 0, -1)
        cv2.rectangle(picture, (900, 1500), (2299, 2599), 0, -1)
        dark = 255 - picture
        cells = dark[: 2600 // cell * cell, : 2300 // cell * cell].reshape(2600 // cell, cell, -1, cell)
        low, high = cells.min(axis=(1, 3)), cells.max(axis=(1, 3))
        edges = (high > 0) & (cv2.erode(low, np.ones((3, 3), np.uint8)) == 0)
        found = marks._in_tiles(picture, lambda part: 255 - part, side, edges, cell)
        found = found.of(found.longest <= side)
        _, _, stats, centres = cv2.connectedComponentsWithStats(dark, connectivity=8)
        small = 1 + np.flatnonzero(stats[1:, 2:4].max(axis=1) <= side)
        self.assertGreater(len(small), 300)
        np.testing.assert_allclose(
            _in_order(found.boxes, found.areas, found.centres),
            _in_order(stats[small, :4], stats[small, 4], centres[small]),
            atol=1e-9,
        )
