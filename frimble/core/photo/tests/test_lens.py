"""A camera with a lens that bends, against OpenCV's own pinhole model."""

import cv2
import numpy as np

from frimble.core.photo.lens import Camera, Lens, fitted_camera
from frimble.core.testing.case import CoreCase

_HIGH, _WIDE = 3024, 4032
_REACH = float(np.hypot(_HIGH, _WIDE)) / 2
_MIDDLE = (_WIDE - 1) / 2, (_HIGH - 1) / 2


def a_lens(a=0.0, b=0.0):
    return Lens(_MIDDLE, _REACH, a, b)


def places():
    """(99, 2) mm over a sheet of 200 by 260 mm."""
    x, y = np.meshgrid(np.linspace(0, 200, 9), np.linspace(0, 260, 11))
    return np.stack([x.ravel(), y.ravel()], 1)


def by_opencv(points_mm, turn, shift, a, b):
    """(n, 2) px where OpenCV's camera, of one half diagonal's focal length, sees a sheet."""
    matrix = np.array([[_REACH, 0, _MIDDLE[0]], [0, _REACH, _MIDDLE[1]], [0, 0, 1.0]])
    flat = np.column_stack([points_mm, np.zeros(len(points_mm))])
    seen, _ = cv2.projectPoints(flat, np.array(turn), np.array(shift), matrix, np.array([a, b, 0.0, 0.0]))
    return seen[:, 0]


_TURN, _SHIFT = (0.15, -0.1, 0.3), (-60.0, -150.0, 420.0)


def homography():
    return cv2.findHomography(places(), by_opencv(places(), _TURN, _SHIFT, 0.0, 0.0))[0]


class LensTests(CoreCase):
    def test_it_bends_as_the_pinhole_model_says(self):
        # Source: OpenCV, projectPoints with k1 and k2 at a focal length of one half diagonal.
        for a, b in ((0.03, 0.0), (-0.04, 0.01)):
            seen = Camera(homography(), a_lens(a, b)).seen(places())
            self.assertLess(float(np.abs(seen - by_opencv(places(), _TURN, _SHIFT, a, b)).max()), 0.05)

    def test_a_lens_that_bends_nothing_changes_nothing(self):
        lens = Lens.straight((_HIGH, _WIDE, 3))
        self.assertEqual((lens.middle, lens.reach), (_MIDDLE, _REACH))
        self.assertTrue(np.allclose(lens.bent(places()), places()))


class FittedTests(CoreCase):
    def fitted(self, seen):
        start = cv2.findHomography(places(), seen, cv2.RANSAC, 30.0)[0]
        return fitted_camera(places(), seen, Camera(start, a_lens()), 1.5)

    def test_the_lens_is_found_from_what_it_bends(self):
        # Source: the camera of OpenCV that drew the places, with half a pixel of noise.
        noise = np.random.default_rng(5).normal(0, 0.5, (len(places()), 2))
        for a in (-0.05, 0.0, 0.05):
            found = self.fitted(by_opencv(places(), _TURN, _SHIFT, a, 0.0) + noise)
            true = by_opencv(places(), _TURN, _SHIFT, a, 0.0)
            self.assertLess(float(np.abs(found.seen(places()) - true).max()), 1.2)

    def test_places_far_off_count_less(self):
        seen = by_opencv(places(), _TURN, _SHIFT, 0.03, 0.0)
        spoilt = seen.copy()
        spoilt[::9] += 40.0
        found = self.fitted(spoilt)
        whole = np.ones(len(seen), bool)
        whole[::9] = False
        self.assertLess(float(np.median(np.abs(found.seen(places()) - seen)[whole])), 1.5)
