import math
from dataclasses import replace

import numpy as np

from frimble.core.film import costs, densities
from frimble.core.film.evidence import Evidence, judge_process, standing
from frimble.core.instruments.densitometer import read_film
from frimble.core.testing.case import CoreCase


class DensityTests(CoreCase):
    def test_density_is_minus_the_logarithm_of_transmittance(self):
        # Source: ISO 5-2; 1 % passes at D 2.0, half at D 0.30.
        self.assertAlmostEqual(densities.density(0.01), 2)
        self.assertAlmostEqual(densities.density(0.5), 0.301, places=3)
        self.assertAlmostEqual(densities.transmittance(2.5, self.house_settings), 0.00316, places=5)

    def test_a_light_meter_gives_the_same_density(self):
        # Source: ISO 5-2 by hand: 320 without, 1 with film is log10(320) = 2.505.
        self.assertAlmostEqual(densities.density_from_meter(320, 1), 2.505, places=3)
        self.assertInvalidInput("with_film", "more than without", densities.density_from_meter, 10, 12)

    def test_films_over_each_other_add(self):
        # Source: transmittances multiply, so densities add.
        self.assertAlmostEqual(densities.stacked([1.45, 1.45], self.house_settings), 2.9)

    def test_clear_film_lengthens_the_time(self):
        # Source: 10^0.3 = 2: a clear film of 0.30 doubles the time.
        self.assertAlmostEqual(densities.time_factor(0.30103, self.house_settings), 2, places=4)

    def test_headroom_of_a_weak_and_a_strong_black(self):
        # Common practice, no source. Full cure at 5 × gel: D 1.0 leaves 2 times, D 2.5 leaves 63 times.
        for black, factor in ((1.0, 2), (2.5, 63.2)):
            with self.subTest(black):
                result = densities.headroom(15, 15, black, 0.0, "uv", self.house_settings)
                self.assertAlmostEqual(result.value, factor, places=1)

    def test_a_weak_film_is_told_with_remedies_and_the_eye_is_not_trusted(self):
        weak = densities.headroom(10, 12, 1.0, 0.1, "uv", self.house_settings)
        self.assertEqual(weak.verdict, "holds too little")
        self.assertIn("4× wanted", weak.reason)
        self.assertIn("second identical film", weak.reason)
        leaking = densities.headroom(10, 12, 0.6, 0.1, "uv", self.house_settings)
        self.assertEqual(leaking.verdict, "leaks before the stencil is cured")
        self.assertIn("not the lamp's", densities.headroom(10, 12, 3, 0.1, "visual", self.house_settings).reason)

    def test_a_hold_out_test_brackets_the_density_it_came_from(self):
        # Source: inverse of the leak time: a film of 1.7 leaks at 10^1.7 = 50 gel times.
        gel, work = 3.0, 15.0
        leak = densities.leak_time_s(gel, 1.7, 0.0, self.house_settings)
        result = densities.from_hold_out(gel, work, 8, 12, self.house_settings)
        self.assertTrue(8 * work < leak < 12 * work)
        self.assertTrue(result.low < 1.7 < result.high)
        self.assertEqual(densities.from_hold_out(gel, work, 64, None, self.house_settings).verdict, "at least")

    def test_limits_for_a_positive(self):
        # From memory: ISO 12647-2, core density at least 2.5 above clear, clear film at most 0.15.
        judge = densities.judge_film
        self.assertEqual(judge(3.4, 0.06, "uv", self.house_settings).verdict, "good")
        # By hand: 4 × the working time, 1.5 × full cure, 5 × the gel time: log10(30) = 1.48 above clear holds it.
        self.assertAlmostEqual(densities.wanted_core(self.house_settings), math.log10(30))
        self.assertEqual(judge(1.4, 0.06, "uv", self.house_settings).verdict, "too weak")
        held = judge(2.4, 0.06, "uv", self.house_settings)
        self.assertEqual(held.verdict, "good")
        self.assertIn("though 2.5 is the published limit", held.reason)
        self.assertEqual(judge(2.0, 0.06, "uv", self.house_settings, over_cure=8).verdict, "too weak")
        self.assertEqual(judge(3.2, 0.2, "uv", self.house_settings).verdict, "slow")

    def test_a_bound_is_never_too_weak(self):
        # Common practice, no source. Clear to the last multiple of a hold-out test: at least so dense, test longer.
        bound = densities.judge_film(1.3, 0.06, "uv", self.house_settings, at_least=True)
        self.assertEqual(bound.verdict, "not known, at least")
        self.assertIn("holds at least 1.24", bound.reason)
        self.assertIn("Test longer", bound.next_best_measurement)
        self.assertEqual(densities.judge_film(3.4, 0.06, "uv", self.house_settings, at_least=True).verdict, "good")
        held = densities.headroom(10, 12, 1.0, 0.1, "uv", self.house_settings, at_least=True)
        self.assertEqual(held.verdict, "holds at least")
        self.assertIn("holds at least", held.reason)

    def test_absurd_values_are_refused_beside_their_field(self):
        s = self.house_settings
        self.assertInvalidInput("transmittance", "more than all", densities.density, 1.2)
        self.assertInvalidInput("transmittance", "more than 0", densities.density, 0)
        self.assertInvalidInput("dmax", "not denser", densities.headroom, 10, 12, 0.1, 0.5, "uv", s)
        self.assertInvalidInput("dmax", "between", densities.judge_film, 34, 0.1, "uv", s)
        self.assertInvalidInput("band", "uv", densities.headroom, 10, 12, 3, 0.1, "infrared", s)
        self.assertInvalidInput("first_scummed", "longer time", densities.from_hold_out, 3, 15, 8, 4, s)

    def test_the_simulated_densitometer_reads_near_the_truth(self):
        dmax, dmin = read_film(3.4, 0.06, seed=1)
        self.assertAlmostEqual(dmax, 3.4, delta=0.1)
        self.assertAlmostEqual(dmin, 0.06, delta=0.03)
        self.assertEqual((dmax, dmin), read_film(3.4, 0.06, seed=1))


class CostTests(CoreCase):
    def test_a_film_costs_its_share_of_the_machine_ink_sheet_and_spoilage(self):
        # Source: by hand: 900 / 3000 + (0.50 + 1.30) / 0.9 = 0.30 + 2.00.
        result = costs.film_cost(900, 3000, 0.5, 1.3, 0.1)
        self.assertAlmostEqual(result.a_film, 2.3)

    def test_the_dearer_machine_pays_after_so_many_films(self):
        # Source: by hand: 900 − 300 saved at 3.00 − 2.00 a film is 600 films.
        dear, cheap = costs.film_cost(900, 3000, 0.5, 1.3, 0.1), costs.film_cost(300, 3000, 1.2, 1.8, 0)
        self.assertEqual(costs.pays_after(dear, cheap), 600)
        self.assertEqual(costs.pays_after(cheap, dear), 600)
        self.assertIsNone(costs.pays_after(costs.film_cost(900, 3000, 3, 3, 0), cheap))

    def test_a_machine_that_wears_out_before_it_pays_never_does(self):
        # Source: by hand; 1 saved a film, 600 more to buy, and it lasts 500 films: each time it is bought anew it loses 100.
        short, cheap = costs.film_cost(900, 500, 1, 1, 0), costs.film_cost(300, 5000, 1, 2, 0)
        self.assertIsNone(costs.pays_after(short, cheap))
        self.assertEqual(costs.spent(short, np.array([500, 501])).tolist(), [1900, 2802])

    def test_absurd_costs_are_refused(self):
        self.assertInvalidInput("ink", "between", costs.film_cost, 900, 3000, -1, 1, 0)
        self.assertInvalidInput("life_films", "more than 0", costs.film_cost, 900, 0, 1, 1, 0)
        self.assertInvalidInput("spoilage", "100 %", costs.film_cost, 900, 3000, 1, 1, 1)


class EvidenceTests(CoreCase):
    """Hold-out, then UV, then the eye; a bound never stands in a measurement's place unseen."""

    def counts(self, *readings):
        return standing(readings)

    def test_a_hold_out_test_counts_before_a_newer_meter(self):
        held, meter = Evidence("hold_out", 2.4, 0.05), Evidence("densitometer", 2.3, 0.05)
        self.assertEqual(self.counts(held, meter), (0, ""))
        which, words = self.counts(held, replace(meter, dmax=3.4))
        self.assertEqual(which, 0)
        self.assertIn("A later densitometer reading says 3.35", words)

    def test_a_later_bound_that_agrees_leaves_the_measurement_standing(self):
        bracket, bound = Evidence("densitometer", 3.1, 0.06), Evidence("hold_out", 2.1, 0.06, at_least=True)
        self.assertEqual(self.counts(bracket, bound), (0, ""))

    def test_a_later_bound_that_contradicts_an_earlier_measurement_says_so(self):
        bracket, bound = Evidence("densitometer", 2.0, 0.06), Evidence("hold_out", 2.8, 0.06, at_least=True)
        which, words = self.counts(bracket, bound)
        self.assertEqual(which, 1)
        self.assertIn("holds at least 2.74, though 1.94 was measured", words)

    def test_what_was_measured_before_the_settings_changed_gives_way(self):
        old, new = Evidence("hold_out", 3.2, 0.06, stale=True), Evidence("densitometer", 2.6, 0.06)
        self.assertEqual(self.counts(old, new)[0], 1)
        self.assertEqual(self.counts(old)[0], 0)
        self.assertIsNone(self.counts())

    def test_a_process_that_holds_by_uv_is_never_weak_to_the_eye(self):
        uv, eye = Evidence("hold_out", 2.6, 0.06), Evidence("densitometer", 1.2, 0.04)
        judged = judge_process(uv, eye, self.house_settings, None)
        self.assertEqual(judged.verdict, "good")
        self.assertIn("which counts for nothing", judged.reason)
        by_eye = judge_process(None, eye, self.house_settings, None)
        self.assertEqual((by_eye.verdict, by_eye.rests_on), ("too weak", "visual density"))
        nothing = judge_process(None, None, self.house_settings, None)
        self.assertTrue(nothing.refused)

    def test_clear_film_costs_time_by_uv_alone(self):
        # Source: T = 10^−D; 0.3 of ultraviolet density takes twice the time, the eye's says nothing of it.
        by_uv, by_eye = (densities.judge_film(3.2, 0.3, band, self.house_settings) for band in ("uv", "visual"))
        self.assertIn("2.0× as long", by_uv.reason)
        self.assertNotIn("as long", by_eye.reason)

    def test_two_films_in_register_add(self):
        # Source: Beer–Lambert; 1.6 + 1.6 over 0.2 + 0.2, and 10^0.2 = 1.58 times as long as through one.
        both = densities.two_stacked(1.6, 0.2, self.house_settings)
        self.assertAlmostEqual(both.value, 2.8)
        self.assertIn("1.58×", both.reason)
