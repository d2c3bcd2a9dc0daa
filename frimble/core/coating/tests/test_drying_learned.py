"""Drying learned from when coats were seen damp and dry, in a shop whose constants are hidden."""

import math

import numpy as np
import pandas
import psychrolib
from lifelines import LogNormalAFTFitter
from scipy import stats
from statsmodels.regression.linear_model import OLS

from frimble.core.coating import drying, dryness
from frimble.core.coating.drying import Air, DryFacts, DryingObservation
from frimble.core.statistics import learning
from frimble.core.testing.case import CoreCase

HIDDEN = [math.log(95), 0.8, 1.2, -0.32, 0.15]


class HiddenShopTests(CoreCase):
    def coat(self, rng):
        """A layer in this shop's cabinet: its facts and the minutes it truly takes."""
        air = Air(float(rng.uniform(22, 38)), float(rng.uniform(0.3, 0.55)), str(rng.choice(list(drying.FANS))))
        facts = DryFacts(float(rng.uniform(8, 60)), air, bool(rng.random() < 0.3))
        row = np.dot(HIDDEN, drying._row(facts, self.house_settings))
        return facts, math.exp(row + rng.normal(0, 0.1))

    def looked_at(self, rng, true_min):
        """Somebody looks now and then, first not before half the time is over."""
        step = float(rng.uniform(8, 25))
        looks = np.arange(true_min * rng.uniform(0.3, 0.9), true_min + step, step)
        return float(max((t for t in looks if t < true_min), default=0)), float(min(t for t in looks if t >= true_min))

    def test_thirty_coats_teach_the_shop(self):
        rng = np.random.default_rng(31)
        seen = []
        for _ in range(30):
            facts, true = self.coat(rng)
            seen.append(DryingObservation(facts, *self.looked_at(rng, true)))
        learned, naive = drying.learn(seen, self.house_settings), drying.prior(self.house_settings)
        inside, errors, before, later = 0, [], [], [self.coat(rng) for _ in range(200)]
        for facts, true in later:
            answer = drying.drying_minutes(facts, learned, self.house_settings)
            inside += answer.low <= true <= answer.high
            errors.append(abs(math.log(answer.value / true)))
            before.append(abs(math.log(drying.drying_minutes(facts, naive, self.house_settings).value / true)))
        # The interval claims 90 %: 85 to 97 of a hundred of the next 200 is what its own sampling allows.
        self.assertGreaterEqual(inside / 200, 0.85)
        self.assertLessEqual(inside / 200, 0.97)
        self.assertLessEqual(np.median(errors), 0.5 * np.median(before))
        # Source: statsmodels, ordinary least squares on the first dry looks, which is what a notebook would hold.
        rows = lambda all_facts: np.array([drying._row(f, self.house_settings) for f in all_facts])  # noqa: E731
        fitted = OLS(np.log([s.dry_min for s in seen]), rows([s.facts for s in seen])).fit()
        plain = np.abs(fitted.predict(rows([f for f, _ in later])) - np.log([t for _, t in later]))
        self.assertLessEqual(np.median(errors), 1.1 * np.median(plain))

    def test_bounds_alone_are_learned_as_a_survival_library_learns_them(self):
        rng = np.random.default_rng(5)
        x = np.column_stack([np.ones(300), rng.uniform(-1, 1, 300)])
        y = x @ [4.0, 0.7] + rng.normal(0, 0.25, 300)
        low = np.floor(y * 4) / 4
        high = low + 0.25
        low[:40] = -7  # seen dry at the first look
        vague = learning.prior([0, 0], [100, 100], 0.3, noise_records=0.01)
        learned = learning.learn_between(vague, x, low, high)
        # Source: lifelines, log-normal accelerated failure time model fitted to interval-censored times.
        table = pandas.DataFrame({"x": x[:, 1], "low": np.exp(low), "high": np.exp(high)})
        fitter = LogNormalAFTFitter().fit_interval_censoring(table, lower_bound_col="low", upper_bound_col="high")
        theirs = fitter.params_["mu_"]
        self.assertAlmostEqual(learned.mean[0], theirs["Intercept"], delta=0.003)
        self.assertAlmostEqual(learned.mean[1], theirs["x"], delta=0.003)
        self.assertAlmostEqual(learned.noise_sd, math.exp(fitter.params_["sigma_"]["Intercept"]), delta=0.005)
        errors = fitter.standard_errors_["mu_"]
        self.assertAlmostEqual(math.sqrt(learned.covariance[1, 1]) / errors["x"], 1, delta=0.05)

    def test_what_lies_between_bounds(self):
        # Source: scipy.stats.truncnorm, mean and variance, in the middle and far out in both tails.
        low = np.array([-np.inf, -1.0, 0.5, 4.0, -9.0, 6.0])
        high = np.array([0.3, 2.0, np.inf, 4.5, -8.5, np.inf])
        mean, variance = learning._within(np.full(6, 0.2), 0.7, low, high)
        bounds = (low - 0.2) / 0.7, (high - 0.2) / 0.7
        np.testing.assert_allclose(mean, stats.truncnorm.mean(*bounds, loc=0.2, scale=0.7), rtol=1e-6)
        np.testing.assert_allclose(variance, stats.truncnorm.var(*bounds, loc=0.2, scale=0.7), rtol=1e-3)

    def test_a_wide_gap_teaches_little(self):
        vague = drying.prior(self.house_settings)
        row = np.array([[1.0, 0, 0, 0, 0]])
        narrow = learning.learn_between(vague, row, np.log([100.0]), np.log([101.0]))
        wide = learning.learn_between(vague, row, np.array([-np.inf]), np.log([900.0]))
        self.assertGreater(narrow.mean[0], vague.mean[0] + 0.1)
        self.assertAlmostEqual(wide.mean[0], vague.mean[0], delta=0.02)
        self.assertAlmostEqual(wide.precision[0, 0], vague.precision[0, 0], delta=0.1)


class AirTests(CoreCase):
    def test_humid_air_is_the_handbook_s(self):
        # Source: ASHRAE Handbook Fundamentals ch. 1, table 2, moist air at sea level, as PsychroLib's own tests check it.
        psychrolib.SetUnitSystem(psychrolib.SI)
        self.assertAlmostEqual(psychrolib.GetSatVapPres(25) / 3169.7, 1, delta=0.0003)
        self.assertAlmostEqual(psychrolib.GetSatVapPres(50) / 12351.3, 1, delta=0.0003)
        self.assertAlmostEqual(psychrolib.GetSatHumRatio(50, 101325) / 0.086863, 1, delta=0.01)
        self.assertAlmostEqual(drying.vapour_pressure_deficit_pa(25, 0.4, self.house_settings), 0.6 * 3169.7, delta=1)

    def test_air_that_changes_on_the_way(self):
        # Source: arithmetic; half of an hour's drying left is 45 min in air that wants ninety for the whole.
        self.assertAlmostEqual(drying.remaining_min(30, 60, 90), 45)
        self.assertEqual(drying.remaining_min(-5, 60, 90), 0)

    def expected(self):
        facts = DryFacts(20, Air(35, 0.4))
        return drying.drying_minutes(facts, drying.prior(self.house_settings), self.house_settings).interval

    def drawn(self, expected):
        # Source: scipy, log-normal times whose 90 % interval is the one told.
        return stats.lognorm(math.log(expected.high / expected.value) / stats.norm.ppf(0.95), scale=expected.value)

    def test_the_clock_lets_go_when_hardly_one_is_still_wet(self):
        expected = self.expected()
        hold = drying.hold_minutes(expected, self.house_settings)
        self.assertAlmostEqual(self.drawn(expected).sf(hold), self.house_settings["dry.still_wet"], delta=1e-4)
        # Half of such coats are still wet at the middle.
        self.assertGreater(hold, 1.5 * expected.value)

    def test_still_damp_after_its_time(self):
        expected = self.expected()
        drawn = self.drawn(expected).rvs(400_000, random_state=3)
        for elapsed in (expected.value * 0.5, expected.value, expected.value * 1.4):
            still = drying.still_damp(expected, elapsed, self.house_settings)
            later = drawn[drawn > elapsed] - elapsed
            self.assertAlmostEqual(still.look_min / np.median(later), 1, delta=0.03)
            self.assertAlmostEqual(still.hold_min / np.quantile(later, 0.99), 1, delta=0.05)

    def test_the_inside_follows_the_surface(self):
        # Source: arithmetic; dry to the touch after an hour, the inside by 78 min at 1.3 times.
        self.assertAlmostEqual(drying.dry_to_touch(60, self.house_settings), 18)

    def test_the_fan_and_bad_settings(self):
        # Common practice, no source. A fan dries sooner.
        belief = drying.prior(self.house_settings)
        minutes = [
            drying.drying_minutes(DryFacts(20, Air(35, 0.4, fan)), belief, self.house_settings).value
            for fan in ("off", "low", "high")
        ]
        self.assertEqual(minutes, sorted(minutes, reverse=True))
        self.assertInvalidInput(
            "fan",
            "off, low, high",
            drying.drying_minutes,
            DryFacts(20, Air(35, 0.4, "gale")),
            belief,
            self.house_settings,
        )
        self.assertInvalidInput(
            "humidity", "400 %", drying.drying_minutes, DryFacts(20, Air(35, 4)), belief, self.house_settings
        )


class DryCheckTests(CoreCase):
    def test_touch_weight_and_meter(self):
        # Common practice, no source. No tack, hard and slick, no slime; weight no longer falls; a meter's own limit.
        self.assertEqual(dryness.by_touch([]).verdict, "dry")
        self.assertEqual(dryness.by_touch(["tack"]).verdict, "damp")
        weigh = lambda *g: dryness.by_weight(*g, self.house_settings)  # noqa: E731
        self.assertEqual(weigh(2400, 2399.95, 10, 0.1).verdict, "dry")
        self.assertEqual(weigh(2400, 2398.5, 10, 0.1).verdict, "damp")
        self.assertEqual(weigh(2400, 2402, 10, 0.1).verdict, "not sure")
        self.assertEqual(dryness.by_meter(3, self.house_settings).verdict, "dry")
        self.assertEqual(dryness.by_meter(9, self.house_settings).verdict, "damp")

    def test_what_tells_nothing(self):
        self.assertInvalidInput("apart_min", "between 10", dryness.by_weight, 2400, 2399, 2, 0.1, self.house_settings)
        self.assertInvalidInput("step_g", "more than 0", dryness.by_weight, 2400, 2399, 12, 0, self.house_settings)
        self.assertInvalidInput("first_g", "between", dryness.by_weight, 2, 2399, 12, 0.1, self.house_settings)
        self.assertInvalidInput("percent", "between", dryness.by_meter, 140, self.house_settings)
