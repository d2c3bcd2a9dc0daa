"""Learning, tension forecasts and survival against general libraries and hidden truths."""

import math

import numpy as np
from lifelines import KaplanMeierFitter
from statsmodels.regression.linear_model import OLS

from frimble.core.press import offcontact
from frimble.core.statistics import learning, survival
from frimble.core.tension import loss as tension_loss
from frimble.core.tension.loss import TensionObservation
from frimble.core.testing.case import CoreCase


class LearningTests(CoreCase):
    def setUp(self):
        rng = np.random.default_rng(3)
        self.x = np.column_stack([np.ones(60), rng.normal(size=60)])
        self.y = self.x @ [2.0, -0.7] + rng.normal(scale=0.3, size=60)

    def test_with_a_vague_prior_it_is_least_squares(self):
        # Source: statsmodels, ordinary least squares.
        fitted = OLS(self.y, self.x).fit()
        belief = learning.learn(learning.prior([0, 0], [1e4, 1e4], 0.3, 0.01), self.x, self.y)
        np.testing.assert_allclose(belief.mean, fitted.params, atol=1e-5)
        np.testing.assert_allclose(np.sqrt(np.diag(belief.covariance)), fitted.bse, rtol=0.03)
        answer = learning.predict(belief, [1, 0.5])
        frame = fitted.get_prediction([[1, 0.5]]).summary_frame(alpha=0.1)
        np.testing.assert_allclose(
            [answer.low, answer.high], frame[["obs_ci_lower", "obs_ci_upper"]].iloc[0], atol=0.02
        )
        self.assertLess(answer.prior_share, 1e-6)

    def test_one_by_one_is_the_same_as_all_at_once(self):
        begin = learning.prior([1, 0], [1, 1], 0.5)
        at_once = learning.learn(begin, self.x, self.y)
        by_one = begin
        for row, value in zip(self.x, self.y, strict=True):
            by_one = learning.learn(by_one, row, [value])
        np.testing.assert_allclose(by_one.mean, at_once.mean)
        self.assertAlmostEqual(by_one.rate, at_once.rate)
        self.assertEqual(by_one.records, 60)

    def test_nothing_learned_is_the_prior_and_says_so(self):
        begin = learning.prior([5.0], [2.0], 0.5)
        answer = learning.predict(begin, [1])
        self.assertEqual((answer.value, answer.prior_share), (5.0, 1.0))
        # Source: arithmetic; variance 2² of the mean and 0.5² of one observation.
        self.assertAlmostEqual(answer.sd, math.hypot(2, 0.5))
        self.assertLess(learning.predict(learning.learn(begin, np.ones((9, 1)), [4.0] * 9), [1]).prior_share, 0.1)


class TensionLossTests(CoreCase):
    def screen(self, rng, loss, cycle_loss, days):
        """A screen whose true T0, b and c differ from its fellows', measured on the given days."""
        fresh, b, c = rng.normal(26, 1.5), loss * rng.lognormal(0, 0.25), cycle_loss * rng.lognormal(0, 0.25)
        level = lambda d: fresh - b * math.log1p(d) - c * d / 20  # noqa: E731
        return [TensionObservation(d, d / 20, level(d) + rng.normal(0, 0.35)) for d in days], level

    def test_the_interval_holds_in_a_shop_whose_constants_are_hidden(self):
        rng = np.random.default_rng(11)
        shop = [self.screen(rng, 0.8, 0.06, (0.1, 7, 40, 120, 200))[0] for _ in range(12)]
        belief = tension_loss.shop_belief(shop, self.house_settings)
        inside = wrong = 0
        for _ in range(120):
            history, level = self.screen(rng, 0.8, 0.06, (0.1, 10, 60))
            answer = tension_loss.forecast(history, belief, self.house_settings, 1 / 20)
            for days, _, low, high in answer.curve[:: len(answer.curve) // 4]:
                inside += low <= level(60 + days) <= high
                wrong += not low <= level(60 + days) <= high
        share = inside / (inside + wrong)
        # Source: the interval claims 90 %; 480 looks at it on 120 screens leave about ± 4 %.
        self.assertGreater(share, 0.83)
        self.assertLess(share, 0.985)

    def test_the_crossing_is_where_the_line_crosses(self):
        rng = np.random.default_rng(2)
        shop = [self.screen(rng, 1.0, 0.0001, (0.1, 5, 20, 60, 150, 300))[0] for _ in range(20)]
        belief = tension_loss.shop_belief(shop, self.house_settings)
        history = [TensionObservation(d, 0, 25 - math.log1p(d)) for d in (0.1, 10, 40, 100)]
        answer = tension_loss.forecast(history, belief, self.house_settings, 0).crossing
        # Source: arithmetic; 25 − ln(1 + t) = 20 at t = e⁵ − 1 = 147 days, 47 days after the last measurement.
        self.assertEqual(answer.verdict, "will cross")
        self.assertAlmostEqual(answer.value, 47.4, delta=14)
        self.assertLess(answer.low, 47.4)
        self.assertGreater(answer.high, 47.4)

    def test_below_the_limit_and_never_measured(self):
        belief = tension_loss.shop_belief([], self.house_settings)
        answer = tension_loss.forecast([TensionObservation(0, 0, 18.0)], belief, self.house_settings, 0).crossing
        self.assertEqual((answer.verdict, answer.value), ("below the limit", 0.0))
        self.assertInvalidInput("history", "never measured", tension_loss.forecast, [], belief, self.house_settings, 0)
        back = [TensionObservation(5, 0, 25.0), TensionObservation(2, 0, 24.0)]
        self.assertInvalidInput("history", "backwards", tension_loss.forecast, back, belief, self.house_settings, 0)

    def test_a_hot_crate_is_told_and_ordinary_loss_is_not(self):
        # Common practice, no source. One screen fell from 23 to 14 in two months in a hot crate.
        belief = tension_loss.shop_belief([], self.house_settings)
        ordinary = [TensionObservation(d, 0, 25 - 0.5 * math.log1p(d)) for d in (0.1, 7, 30, 90, 180)]
        self.assertEqual(tension_loss.sudden_changes(ordinary, belief, self.house_settings), [])
        hot = [
            TensionObservation(1, 0, 23.4),
            TensionObservation(30, 2, 23.0),
            TensionObservation(60, 3, 22.6),
            TensionObservation(120, 4, 14.0),
        ]
        (answer,) = tension_loss.sudden_changes(hot, belief, self.house_settings)
        self.assertEqual(answer[0], 3)
        self.assertIn("stored hot", answer[1])
        risen = [*ordinary, TensionObservation(200, 0, 27.5)]
        self.assertIn("Sudden rise", tension_loss.sudden_changes(risen, belief, self.house_settings)[0][1])


class OffContactTests(CoreCase):
    def test_growth_is_pythagoras(self):
        # Source: geometry; 500 mm of mesh over 3 mm: 2 √(250² + 3²) − 500 = 0.036 mm.
        self.assertAlmostEqual(offcontact.growth(500, 3), 0.036, 3)
        self.assertEqual(offcontact.growth(500, 0), 0)
        self.assertInvalidInput("gap_mm", "between", offcontact.growth, 500, 400)

    def test_a_slack_mesh_wants_more(self):
        tight = offcontact.off_contact(500, 300, 25, self.house_settings)
        slack = offcontact.off_contact(500, 300, 11, self.house_settings)
        # Common practice, no source. 1.5–3 mm usual, about 1/8 in for thick white.
        self.assertTrue(1.5 <= tight.value <= 3)
        self.assertEqual(slack.verdict, "too slack")
        self.assertEqual(offcontact.on_press(25, self.house_settings), ())
        self.assertIn("another flash", " ".join(offcontact.on_press(18, self.house_settings)))


class SurvivalTests(CoreCase):
    def test_the_curve_and_its_interval_are_those_of_lifelines(self):
        rng = np.random.default_rng(5)
        lives = np.ceil(rng.weibull(2.0, 80) * 30)
        seen = np.ceil(rng.uniform(5, 60, 80))
        spans, ended = np.minimum(lives, seen), lives <= seen
        mine = survival.kaplan_meier(spans, ended)
        # Source: lifelines, KaplanMeierFitter; its interval is Greenwood's on log(−log S) too.
        fitted = KaplanMeierFitter(alpha=0.1).fit(spans, ended)
        for k, time in enumerate(mine.times):
            self.assertAlmostEqual(mine.share[k], float(fitted.survival_function_at_times(time).iloc[0]))
            if mine.share[k] > 0:
                low, high = fitted.confidence_interval_.loc[time]
                self.assertAlmostEqual(mine.low[k], low, 6)
                self.assertAlmostEqual(mine.high[k], high, 6)
        self.assertEqual(mine.median, fitted.median_survival_time_)

    def test_a_case_worked_by_hand(self):
        # Source: Kaplan and Meier's product; deaths at 2 and 4, one lost at 3, one still living at 5.
        result = survival.kaplan_meier([2, 3, 4, 5], [True, False, True, False])
        np.testing.assert_allclose(result.share, [3 / 4, 3 / 4 * 1 / 2])
        self.assertEqual((result.lives, result.deaths, result.at(1), result.at(3)), (4, 2, 1.0, 0.75))
        # Mean left at 0 up to 4: 2 × 1 + 2 × 0.75.
        self.assertAlmostEqual(result.expected_left(0), 3.5)
        self.assertIsNone(result.expected_left(4))
        self.assertIsNone(survival.kaplan_meier([3, 4], [False, False]).median)
        self.assertInvalidInput("durations", "one life", survival.kaplan_meier, [], [])
        self.assertInvalidInput("durations", "shorter than nothing", survival.kaplan_meier, [-1], [True])
