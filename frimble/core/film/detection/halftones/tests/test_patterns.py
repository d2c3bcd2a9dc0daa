"""The dots of chains, found in pictures whose geometry is known."""

import unittest

import cv2
import numpy as np

from frimble.core.film.detection.components import components_of
from frimble.core.film.detection.halftones import patterns

_WANTED = np.array([True])


def _bulges(picture: np.ndarray, wanted=_WANTED, top: int = 0, low: int | None = None):
    """What bulges in a picture of 0 and 255, between two of its rows."""
    return patterns._bulges(components_of(picture), wanted, top, low or len(picture))


class BulgeTests(unittest.TestCase):
    def test_discs_that_touch_are_told_one_by_one(self):
        # Source: the discs' own middles and radius, as drawn.
        picture, middles = np.zeros((40, 120), np.uint8), np.array([[20, 20], [35, 20], [50, 20], [65, 20]])
        for x, y in middles.tolist():
            cv2.circle(picture, (x, y), 8, 255, -1)
        found, radius, shape = _bulges(picture)
        order = np.argsort(found[:, 0])
        self.assertEqual(len(found), 4)
        self.assertLess(np.abs(found[order] - middles).max(), 0.5)
        self.assertLess(np.abs(radius - 8).max(), 1)
        self.assertEqual(shape.tolist(), [0, 0, 0, 0])

    def test_a_disc_across_two_bands_is_told_once_and_whole(self):
        # Source: the disc's own middle and radius, as drawn.
        picture = np.zeros((80, 60), np.uint8)
        cv2.circle(picture, (30, 41), 9, 255, -1)
        above, below = _bulges(picture, low=40), _bulges(picture, top=40)
        self.assertEqual(len(above[0]), 0)
        self.assertLess(np.abs(below[0] - (30, 41)).max(), 0.5)
        self.assertLess(abs(below[1][0] - 9), 1)

    def test_a_frame_has_no_dot_in_its_hole(self):
        picture = np.zeros((60, 60), np.uint8)
        cv2.rectangle(picture, (10, 10), (49, 49), 255, -1)
        cv2.rectangle(picture, (13, 13), (46, 46), 0, -1)
        found, _, _ = _bulges(picture)
        self.assertTrue(np.isfinite(found).all())
        for x, y in found.round().astype(int).tolist():
            self.assertEqual(picture[y, x], 255)

    def test_what_is_not_wanted_has_none(self):
        picture = np.zeros((40, 40), np.uint8)
        cv2.circle(picture, (20, 20), 8, 255, -1)
        self.assertEqual(len(_bulges(picture, np.array([False]))[0]), 0)
        self.assertEqual(len(_bulges(picture)[0]), 1)
