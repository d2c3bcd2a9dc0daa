"""Light of a photo's codes, and smooth surfaces, held against a general library and against polynomials."""

import numpy as np
from numpy.polynomial import polynomial

from frimble.core.photo.light import linear
from frimble.core.photo.surfaces import coarse_places, drawn, over, terms
from frimble.core.testing.case import CoreCase


class LightTests(CoreCase):
    def test_codes_become_light_as_the_standard_says(self):
        # Source: IEC 61966-2-1: code 0 is 0, 255 is 1, 128 is 0.2159; below 0.04045 of full scale the curve is a line.
        light = linear(np.array([[0, 5, 10, 128, 255]], np.uint8))[0]
        self.assertAlmostEqual(float(light[0]), 0)
        self.assertAlmostEqual(float(light[1]), 5 / 255 / 12.92, places=6)
        self.assertAlmostEqual(float(light[2]), 10 / 255 / 12.92, places=6)
        self.assertAlmostEqual(float(light[3]), 0.21586, places=4)
        self.assertAlmostEqual(float(light[4]), 1)

    def test_it_keeps_shape_and_order(self):
        codes = np.arange(256, dtype=np.uint8).reshape(16, 16)
        light = linear(codes)
        self.assertEqual(light.shape, codes.shape)
        self.assertTrue((np.diff(light.ravel()) > 0).all())


class SurfaceTests(CoreCase):
    def at(self, number=400, degree=2):
        rng = np.random.default_rng(3)
        x, y = rng.uniform(-0.5, 0.5, (2, number))
        return x, y, terms(x, y, degree)

    def test_terms_are_those_of_a_polynomial_in_two_variables(self):
        # Source: numpy.polynomial.polynomial.polyval2d.
        x, y, at = self.at(20, 3)
        coefficients = np.zeros((4, 4))
        powers = [(i, j) for i in range(4) for j in range(4 - i)]
        weights = np.random.default_rng(1).normal(size=len(powers))
        for (i, j), weight in zip(powers, weights, strict=True):
            coefficients[i, j] = weight
        np.testing.assert_allclose(at @ weights, polynomial.polyval2d(x, y, coefficients), atol=1e-12)

    def test_a_surface_is_drawn_as_it_is_between_and_beyond_the_coarse_middles(self):
        shape = (120, 180)
        x, y = coarse_places(shape)
        plane = drawn(2 * x - 3 * y + 1, shape)
        ys, xs = np.mgrid[0:120, 0:180]
        exact = 2 * ((xs + 0.5) / 180 - 0.5) - 3 * ((ys + 0.5) / 120 - 0.5) + 1
        np.testing.assert_allclose(plane, exact, atol=1e-4)

    def test_a_curved_surface_is_within_a_hundredth(self):
        fit = np.array([1.0, 0.2, -0.6, 0.1, 0.3, 0.4, 0.2, -0.3, 0.1, 0.5])
        shape = (240, 360)
        ys, xs = np.mgrid[0:240, 0:360]
        exact = terms((xs + 0.5) / 360 - 0.5, (ys + 0.5) / 240 - 0.5, 3) @ fit
        np.testing.assert_allclose(over(fit, shape), exact, atol=0.01)
