"""The made-up shop's exposure laws and its light meter, held against the physics they claim."""

import math
import random
from dataclasses import replace

import numpy as np

from frimble.core.exposure.chart.terms import CellFacts
from frimble.core.exposure.steptest.reading import Grade
from frimble.core.instruments import light_meter
from frimble.core.simulation.exposure import grade, hidden_shop, step_test
from frimble.core.testing.case import CoreCase

USUAL = CellFacts(147.0, False, 0.0, "Saltern Dual", "Lantern A", 500.0)
SEEDS = range(20)


class HiddenShopTests(CoreCase):
    def ratios(self, **changes):
        """(shop, how many times as long the changed combination takes) for some shops."""
        for seed in SEEDS:
            shop = hidden_shop(seed)
            yield shop, shop.cured_s(replace(USUAL, **changes)) / shop.cured_s(USUAL)

    def test_the_same_seed_is_the_same_shop(self):
        self.assertEqual(hidden_shop(3), hidden_shop(3))
        self.assertNotEqual(hidden_shop(3), hidden_shop(4))

    def test_an_ordinary_stencil_takes_its_base_time(self):
        for seed in SEEDS:
            self.assertAlmostEqual(hidden_shop(seed).cured_s(USUAL), hidden_shop(seed).base_s)

    def test_light_falls_by_the_law_of_absorption_through_the_coat(self):
        # Source: the Beer-Lambert law; two equal layers cost the square of one.
        for (_, one), (_, two) in zip(self.ratios(stencil_um=187.0), self.ratios(stencil_um=227.0), strict=True):
            self.assertGreater(one, 1)
            self.assertAlmostEqual(two, one**2)

    def test_density_of_clear_film_costs_its_power_of_ten(self):
        # Source: ISO 5-2.
        for _, ratio in self.ratios(dmin=0.1):
            self.assertAlmostEqual(ratio, 10**0.1)

    def test_distance_costs_its_square_at_most_a_little_more(self):
        # Source: the inverse-square law, which a lamp of some size softens.
        for shop, ratio in self.ratios(distance_mm=1000.0):
            self.assertAlmostEqual(math.log2(ratio), shop.distance_power)
            self.assertTrue(1.5 < math.log2(ratio) < 2.2)

    def test_yellow_thread_wants_a_third_more_to_twice_as_long(self):
        # Common practice, no source.
        for _, ratio in self.ratios(yellow=True):
            self.assertTrue(1.3 <= ratio <= 2.0)

    def test_detail_closes_after_full_cure_and_sooner_on_thick_stencils(self):
        # From memory: the thicker the stencil the narrower its latitude.
        for seed in SEEDS:
            shop = hidden_shop(seed)
            room = [shop.closes_s(f) / shop.cured_s(f) for f in (USUAL, replace(USUAL, stencil_um=200.0))]
            self.assertGreater(room[0], room[1])
            self.assertGreater(room[0], 1)


class StepTestTests(CoreCase):
    def test_each_step_is_what_its_window_says(self):
        # Source: a window from 10 to 20 s; 0.8 of cure is nearly there, 1.7 of closing is well past.
        wanted = {7.9: Grade.UNDER, 9: Grade.SHORT, 10: Grade.GOOD, 19.9: Grade.GOOD, 20: Grade.CLOSING, 34: Grade.OVER}
        for time_s, expected in wanted.items():
            with self.subTest(time_s):
                self.assertEqual(grade(time_s, 10, 20), expected)

    def test_longer_steps_are_never_less_exposed(self):
        order = [Grade.UNDER, Grade.SHORT, Grade.GOOD, Grade.CLOSING, Grade.OVER]
        times = list(np.geomspace(5, 400, 14))
        for seed in SEEDS:
            steps = step_test(hidden_shop(seed), USUAL, times, random.Random(seed))
            met = [order.index(s.grade) for s in steps]
            self.assertEqual(met, sorted(met))
            self.assertEqual([s.strip for s in steps], list(range(1, 15)))

    def test_tests_of_one_combination_scatter_as_the_shop_does(self):
        # Source: the sample standard deviation of 400 draws lies within 15 % of the law's with ample room.
        shop, rng = hidden_shop(1), random.Random(7)
        times = list(np.geomspace(shop.cured_s(USUAL) / 1.6, shop.cured_s(USUAL) * 1.6, 240))
        first_good = [
            next(s.time_s for s in step_test(shop, USUAL, times, rng) if s.grade == Grade.GOOD) for _ in range(400)
        ]
        self.assertLess(abs(np.std(np.log(first_good)) / shop.scatter - 1), 0.15)


class LightMeterTests(CoreCase):
    def mean(self, geometry, distance_mm, hours=0.0):
        return float(np.mean([light_meter.read_light(s, geometry, distance_mm, hours) for s in range(200)]))

    def test_a_point_lamp_obeys_the_inverse_square(self):
        # Source: the inverse-square law.
        self.assertAlmostEqual(self.mean("point", 500) / self.mean("point", 1000), 4, 1)

    def test_tubes_fall_by_less_than_a_point(self):
        # Source: the light of a long line falls with the distance at most, not with its square.
        self.assertLess(self.mean("tubes", 250) / self.mean("tubes", 500), 2)

    def test_a_lamp_fades_with_its_hours(self):
        self.assertLess(self.mean("panel", 500, 2000), self.mean("panel", 500))

    def test_corners_of_the_glass_get_the_fourth_power_of_the_cosine(self):
        # Source: the cosine-fourth law of a point source over a plane.
        fields = np.mean([light_meter.read_field(s, "point", 700.0, 350.0) for s in range(200)], axis=0)
        cosine = 700 / math.hypot(700, 350)
        self.assertAlmostEqual(fields[0, 0] / fields[1, 1], cosine**4, 2)
        self.assertEqual(fields.argmax(), 4)
