"""The simulated instruments against the physics of what they stand in for; the same question is answered alike."""

import math
import statistics

import numpy as np
from scipy.stats import kstest, norm

from frimble.core.instruments.simulated import (
    SimulatedDensitometer,
    SimulatedHygrometer,
    SimulatedLightMeter,
    SimulatedTensionGauge,
    SimulatedThicknessGauge,
)
from frimble.core.tension.measurement import DIRECTIONS, FIVE_PLACES
from frimble.core.testing.case import CoreCase

_ALL = (
    SimulatedTensionGauge, SimulatedThicknessGauge, SimulatedDensitometer, SimulatedHygrometer, SimulatedLightMeter,
)  # fmt: skip


class AnyTests(CoreCase):
    def test_each_says_that_its_readings_are_made_up(self):
        for kind in _ALL:
            self.assertTrue(kind().simulated)
            self.assertIn("simulated", kind().name)

    def test_the_same_question_is_answered_alike_and_another_otherwise(self):
        for ask in (
            lambda seed: SimulatedTensionGauge().read_screen(22.0, seed, FIVE_PLACES),
            lambda seed: SimulatedThicknessGauge().read_coat(80.0, seed),
            lambda seed: SimulatedDensitometer().read_film(3.2, 0.05, seed),
            lambda seed: SimulatedHygrometer().read_cabinet(seed),
            lambda seed: SimulatedLightMeter().read_light(seed, "point", 600, 100),
            lambda seed: SimulatedLightMeter().read_field(seed, "panel", 600),
        ):
            self.assertEqual(ask(7), ask(7))
            self.assertNotEqual([ask(k) for k in range(5)], [ask(7)] * 5)


class TensionGaugeTests(CoreCase):
    def readings(self, true, seeds=200):
        return [r for seed in range(seeds) for r in SimulatedTensionGauge().read_screen(true, seed, FIVE_PLACES)]

    def test_it_reads_twice_each_way_at_each_place(self):
        read = SimulatedTensionGauge().read_screen(22.0, 1, FIVE_PLACES)
        self.assertEqual(len(read), 2 * len(FIVE_PLACES) * len(DIRECTIONS))
        self.assertEqual({r.place for r in read}, set(FIVE_PLACES))

    def test_its_mean_is_the_tension_and_weft_is_the_slacker(self):
        read = self.readings(22.0)
        self.assertAlmostEqual(statistics.mean(r.n_per_cm for r in read), 22.0, delta=0.1)
        # From memory: weft of woven mesh is some tenths of N/cm slacker than warp.
        by_way = {way: statistics.mean(r.n_per_cm for r in read if r.direction == way) for way in DIRECTIONS}
        self.assertAlmostEqual(by_way["warp"] - by_way["weft"], 0.6, delta=0.1)

    def test_no_mesh_reads_below_what_a_gauge_shows(self):
        self.assertGreaterEqual(min(r.n_per_cm for r in self.readings(0.5, 20)), 1.0)


class DensitometerTests(CoreCase):
    def test_readings_scatter_normally_about_the_density(self):
        read = [SimulatedDensitometer().read_film(3.2, 0.05, seed)[0] for seed in range(400)]
        # Source: the normal law, by Kolmogorov and Smirnov's test of scipy; readings are rounded to a hundredth.
        spread = np.array(read) + np.random.default_rng(1).uniform(-0.005, 0.005, len(read))
        self.assertGreater(kstest((spread - 3.2) / 0.02, norm.cdf).pvalue, 0.01)

    def test_clear_film_never_reads_below_nothing(self):
        self.assertGreaterEqual(min(SimulatedDensitometer().read_film(3.0, 0.0, seed)[1] for seed in range(50)), 0)


class ThicknessGaugeTests(CoreCase):
    def test_five_places_about_the_true_thickness(self):
        read = [SimulatedThicknessGauge().read_coat(80.0, seed) for seed in range(200)]
        self.assertEqual({len(one) for one in read}, {5})
        everything = [value for one in read for value in one]
        self.assertAlmostEqual(statistics.mean(everything), 80.0, delta=0.4)
        # Source: variances of places and gauge add, and so does that of rounding, 1/12.
        self.assertAlmostEqual(statistics.stdev(everything), math.sqrt(2**2 + 1 + 1 / 12), delta=0.25)


class HygrometerTests(CoreCase):
    def test_air_is_air(self):
        for seed in range(200):
            air_c, humidity = SimulatedHygrometer().read_cabinet(seed)
            self.assertTrue(0.1 <= humidity <= 0.95)
            self.assertTrue(25 < air_c < 45)


class LightMeterTests(CoreCase):
    def light(self, geometry, distance, hours=0.0):
        return statistics.mean(SimulatedLightMeter().read_light(seed, geometry, distance, hours) for seed in range(300))

    def test_a_small_lamp_falls_off_with_the_square_of_its_distance(self):
        # Source: inverse square law.
        self.assertAlmostEqual(self.light("point", 500) / self.light("point", 1000), 4, delta=0.1)

    def test_tubes_and_panels_fall_off_less(self):
        for geometry in ("tubes", "panel"):
            self.assertLess(self.light(geometry, 500) / self.light(geometry, 1000), 2)

    def test_old_lamps_are_dimmer(self):
        # From memory: metal-halide lamps lose some 15 % in a thousand hours.
        self.assertAlmostEqual(self.light("point", 500, 1000) / self.light("point", 500), math.exp(-0.15), delta=0.01)

    def test_the_field_of_a_small_lamp_falls_with_the_fourth_power_of_the_cosine(self):
        # Source: the cos⁴ law of a plane lit by a small source; corners lie 350 mm from the middle.
        fields = np.mean([SimulatedLightMeter().read_field(seed, "point", 600) for seed in range(300)], axis=0)
        self.assertAlmostEqual(fields[0][0] / fields[1][1], math.cos(math.atan2(350, 600)) ** 4, delta=0.01)
        self.assertEqual(np.unravel_index(fields.argmax(), fields.shape), (1, 1))

    def test_the_sky_is_as_it_pleases(self):
        read = [SimulatedLightMeter().read_light(seed, "sun", 1, 0) for seed in range(100)]
        self.assertGreater(max(read) / min(read), 2.5)
