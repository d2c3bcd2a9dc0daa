import itertools
import math
import random

from frimble.core.conclusions import RuleViolation
from frimble.core.exposure import timer
from frimble.core.exposure.light import dose
from frimble.core.exposure.steptest import factorfilm as factor_film
from frimble.core.exposure.steptest.plan import (
    effective_times,
    plan_moving_card,
    series_times,
    slower_plans,
    strip_edges_mm,
)
from frimble.core.exposure.timer import Phase, Schedule, Tap
from frimble.core.testing.case import CoreCase


class PlanTests(CoreCase):
    def plan(self, *arguments, **named):
        return plan_moving_card(*arguments, settings=self.house_settings, **named)

    def test_a_series_with_ratio_root_two_doubles_every_second_step(self):
        # Source: arithmetic of the √2 series; one stop of light is a factor of two.
        times = self.plan(22, 8, "sqrt2").times_s
        for longer, shorter in zip(times, times[2:], strict=False):
            self.assertAlmostEqual(longer / shorter, 2, delta=0.02)
        self.assertAlmostEqual(math.sqrt(times[0] * times[-1]), 22, delta=0.2)

    def test_cube_and_fourth_roots_double_after_three_and_four_steps(self):
        # Source: arithmetic, (∛2)³ = (⁴√2)⁴ = 2.
        self.assertAlmostEqual(series_times(400, 4, "cbrt2")[0] / series_times(400, 4, "cbrt2")[3], 2, places=2)
        self.assertAlmostEqual(series_times(400, 5, "4thrt2")[0] / series_times(400, 5, "4thrt2")[4], 2, places=2)

    def test_equal_seconds_run_up_to_double_the_guess(self):
        # Common practice, no source. The classic card: double the guess, the card moved at equal intervals.
        self.assertEqual(self.plan(30, 6, "arithmetic").times_s, (60, 50, 40, 30, 20, 10))

    def test_strip_1_gets_the_whole_time_and_each_later_strip_less(self):
        # Common practice, no source. Strip 1 gets the whole time, each later strip less.
        for card in ("cover", "uncover"):
            with self.subTest(card):
                plan = self.plan(30, 6, "arithmetic", card=card)
                taps = [m.at_s for m in plan.moves]
                self.assertEqual(taps, sorted(taps))
                self.assertEqual(effective_times(plan, taps, plan.total_s), plan.times_s)

    def test_the_card_covers_from_the_last_strip_in_or_uncovers_from_the_first_out(self):
        cover = self.plan(30, 6, "arithmetic")
        self.assertEqual([(m.at_s, m.strip) for m in cover.moves], [(10, 6), (20, 5), (30, 4), (40, 3), (50, 2)])
        uncover = self.plan(30, 6, "arithmetic", card="uncover")
        self.assertEqual([(m.at_s, m.strip) for m in uncover.moves], [(10, 2), (20, 3), (30, 4), (40, 5), (50, 6)])

    def test_the_lamps_lag_lengthens_the_run_not_the_steps(self):
        plan = self.plan(30, 6, "arithmetic", lag_s=1.5)
        self.assertEqual(plan.total_s, 61.5)
        self.assertEqual(plan.moves[0].at_s, 11.5)
        self.assertEqual(effective_times(plan, [m.at_s for m in plan.moves], 61.5), plan.times_s)

    def test_what_is_analysed_is_what_was_tapped(self):
        plan = self.plan(30, 3, "arithmetic")
        self.assertEqual(effective_times(plan, [19, 44], 63), (63, 44, 19))

    def test_a_forgotten_tap_leaves_the_strips_that_are_sure(self):
        for card in ("cover", "uncover"):
            plan = self.plan(30, 6, "arithmetic", card=card)
            for forgotten, move in enumerate(plan.moves):
                taps = [m.at_s for k, m in enumerate(plan.moves) if k != forgotten]
                expected = [None if strip == move.strip else t for strip, t in enumerate(plan.times_s, start=1)]
                with self.subTest(card, forgotten=forgotten):
                    self.assertEqual(list(effective_times(plan, taps, plan.total_s)), expected)

    def test_a_tap_that_may_be_of_either_move_is_told_of_neither(self):
        # By hand: moves at 10, 20, 30, 40 and 50 s; a tap at 15 s lies half way between two of them.
        plan = self.plan(30, 6, "arithmetic")
        self.assertEqual(effective_times(plan, [15, 30, 40, 50], 60), (60, 50, 40, 30, None, None))

    def test_taps_too_many_or_out_of_order_are_refused(self):
        plan = self.plan(30, 3, "arithmetic", lag_s=2)
        self.assertInvalidInput("taps", "2 card moves belong", effective_times, plan, [20, 30, 40], 60)
        self.assertInvalidInput("taps", "three are needed", effective_times, plan, [20], 60)
        self.assertInvalidInput("taps", "order of time", effective_times, plan, [40, 20], 60)
        self.assertInvalidInput("taps", "no light at all", effective_times, plan, [1, 20], 60)

    def test_moves_a_hand_cannot_make_are_refused_with_a_slower_series(self):
        with self.assertRaises(RuleViolation) as caught:
            self.plan(12, 8, "4thrt2")
        # Common practice, no source. A hand needs about 2 s between moves.
        self.assertIn("a hand needs 2 s", caught.exception.reason)
        self.assertIn("equal seconds, 8 steps", caught.exception.reason)
        for offer in slower_plans(12, 8, "4thrt2", self.house_settings):
            times = series_times(12, offer.steps, offer.series)
            gaps = [a - b for a, b in itertools.pairwise(times)]
            self.assertGreaterEqual(min(*gaps, times[-1]), 2)

    def test_a_guess_too_short_for_any_card_says_what_else(self):
        with self.assertRaises(RuleViolation) as caught:
            self.plan(1, 8, "sqrt2")
        self.assertIn("move the lamp back", caught.exception.reason)

    def test_absurd_input_is_refused_beside_its_field(self):
        for field, arguments in (
            ("guess_s", (0, 8, "sqrt2")),
            ("guess_s", (-3, 8, "sqrt2")),
            ("guess_s", (float("nan"), 8, "sqrt2")),
            ("guess_s", (99999, 8, "sqrt2")),
            ("steps", (20, 2, "sqrt2")),
            ("steps", (20, 400, "sqrt2")),
            ("steps", (20, 4.5, "sqrt2")),
            ("series", (20, 8, "fibonacci")),
            ("guess_s", (3000, 8, "sqrt2")),
        ):
            with self.subTest(arguments):
                self.assertInvalidInput(field, "", self.plan, *arguments)

    def test_strips_are_equal_and_wide_enough_to_read(self):
        self.assertEqual(strip_edges_mm(240, 8, self.house_settings), (0, 30, 60, 90, 120, 150, 180, 210, 240))
        self.assertInvalidInput("length_mm", "at least 12 mm", strip_edges_mm, 60, 8, self.house_settings)


class FactorFilmTests(CoreCase):
    TEN = (1, 0.9, 0.8, 0.7, 0.6, 0.5, 0.4, 0.3, 0.2, 0.1)

    def test_two_minutes_and_factor_one_half_are_one_minute(self):
        # Common practice, no source. Two minutes × 0.5 = one minute.
        self.assertAlmostEqual(factor_film.best_time(120, (1, 0.7, 0.5, 0.33, 0.25), [0.5]).value, 60)

    def test_rows_two_and_three_tenths_of_sixty_seconds_are_about_fifteen(self):
        # Common practice, no source. 60 s with rows 0.2 and 0.3 best: 12 to 18, about 15 s, ±20 %.
        result = factor_film.best_time(60, self.TEN, [0.2, 0.3])
        self.assertAlmostEqual(result.value, 15, delta=0.5)
        self.assertIn("gives 12 s to 18 s", result.reason)
        self.assertIn("±20 % by the columns", result.reason)
        self.assertTrue(result.low < 12 and result.high > 18)

    def test_a_fine_film_is_no_surer_than_its_reader(self):
        # Source: simulation with a known right time; ten columns, a reader off by 8 % and filters by 4 %.
        rng, held = random.Random(5), []
        film = [round(1 - 0.09 * k, 2) for k in range(10)]
        for _ in range(400):
            right = 60 * rng.uniform(0.35, 0.85)
            seen = [abs(math.log(60 * f * math.exp(rng.gauss(0, 0.04)) / right) + rng.gauss(0, 0.08)) for f in film]
            best = film[min(range(1, 9), key=seen.__getitem__)]
            result = factor_film.best_time(60, film, [best])
            held.append(result.low <= right <= result.high)
        self.assertTrue(0.85 <= sum(held) / len(held) <= 0.99, sum(held) / len(held))

    def test_a_best_column_at_an_end_is_not_bracketed(self):
        result = factor_film.best_time(60, self.TEN, [1])
        self.assertEqual(result.verdict, "not bracketed")
        self.assertIn("120 s", result.next_best_measurement)
        self.assertIn("30 s", factor_film.best_time(60, self.TEN, [0.1]).next_best_measurement)

    def test_a_factor_that_is_not_on_the_film_is_refused(self):
        self.assertInvalidInput("best", "on the film", factor_film.best_time, 60, self.TEN, [0.25])


class DoseTests(CoreCase):
    def test_twice_the_distance_wants_four_times_the_time(self):
        # Source: inverse-square law.
        self.assertAlmostEqual(dose.inverse_square_time(15, 400, 800), 60)

    def test_light_times_time_is_the_dose(self):
        # Source: SI, 1 W = 1 J/s: 8 mW/cm² for 20 s are 160 mJ/cm².
        self.assertAlmostEqual(dose.dose_mj_cm2(8, 20), 160)
        self.assertInvalidInput("light_mw_cm2", "more than 0", dose.dose_mj_cm2, 0, 20)

    def test_extra_coats_add_the_trades_quarter(self):
        # Common practice, no source. Two or three extra coats: 15–20 % more thickness, 25–30 % more time, exp(H/Dp) 4–6.
        height, ratio = 180, 4.5
        more = dose.thickness_time(1, 0.17 * height, height / math.log(ratio))
        self.assertTrue(1.25 <= more <= 1.32, more)


class RunnerTests(CoreCase):
    SCHEDULE = Schedule((10, 20), 30, warm_up_s=60)

    def test_a_run_is_its_taps(self):
        taps = [Tap("warm_up", 100), Tap("start", 165), Tap("move", 175.2), Tap("move", 184.9), Tap("stop", 196)]
        phases = [timer.read_taps(self.SCHEDULE, taps[:n]).phase for n in range(6)]
        self.assertEqual(phases, [Phase.READY, Phase.WARM_UP, Phase.LIGHT, Phase.LIGHT, Phase.LIGHT, Phase.DONE])
        result = timer.read_taps(self.SCHEDULE, taps)
        self.assertAlmostEqual(result.moves_s[0], 10.2)
        self.assertAlmostEqual(result.off_s, 31, msg="the warm-up does not count")

    def test_taps_that_do_not_fit_are_refused(self):
        for taps in (
            [Tap("move", 1)],
            [Tap("start", 1), Tap("start", 2)],
            [Tap("start", 5), Tap("stop", 4)],
            [Tap("start", 1), Tap("move", 2), Tap("move", 3), Tap("move", 4)],
            [Tap("start", 1), Tap("stop", 2), Tap("move", 3)],
            [Tap("jump", 1)],
        ):
            with self.subTest(taps):
                self.assertInvalidInput("taps", "", timer.read_taps, self.SCHEDULE, taps)
