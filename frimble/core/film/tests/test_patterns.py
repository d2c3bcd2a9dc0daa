"""The dots of chains, found in pictures whose geometry is known."""

import unittest

import cv2
import numpy as np

from frimble.core.film.detection import patterns

_WANTED = np.array([False, True])


class BulgeTests(unittest.TestCase):
    def test_discs_that_touch_are_told_one_by_one(self):
        # Source: the discs' own middles and radius, as drawn.
        labels, middles = np.zeros((40, 120), np.uint8), np.array([[20, 20], [35, 20], [50, 20], [65, 20]])
        for x, y in middles.tolist():
            cv2.circle(labels, (x, y), 8, 1, -1)
        found, radius, shape = patterns._bulges(labels, _WANTED)
        order = np.argsort(found[:, 0])
        self.assertEqual(len(found), 4)
        self.assertLess(np.abs(found[order] - middles).max(), 0.5)
        self.assertLess(np.abs(radius - 8).max(), 1)
        self.assertEqual(shape.tolist(), [1, 1, 1, 1])

    def test_a_frame_has_no_dot_in_its_hole(self):
        labels = np.zeros((60, 60), np.uint8)
        cv2.rectangle(labels, (10, 10), (49, 49), 1, -1)
        cv2.rectangle(labels, (13, 13), (46, 46), 0, -1)
        found, _, _ = patterns._bulges(labels, _WANTED)
        self.assertTrue(np.isfinite(found).all())
        for x, y in found.round().astype(int).tolist():
            self.assertEqual(labels[y, x], 1)

    def test_what_is_not_wanted_has_none(self):
        labels = np.zeros((40, 40), np.uint8)
        cv2.circle(labels, (20, 20), 8, 1, -1)
        self.assertEqual(len(patterns._bulges(labels, np.array([False, False]))[0]), 0)
        self.assertEqual(len(patterns._bulges(labels, _WANTED)[0]), 1)
