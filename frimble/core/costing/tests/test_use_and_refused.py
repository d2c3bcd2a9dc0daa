"""Emulsion really used, and the money of refused work."""

import numpy as np
from scipy import stats

from frimble.core.costing.emulsion_use import used_over_predicted
from frimble.core.costing.refused import Refusal, Refused, by_reason
from frimble.core.testing.case import CoreCase


class EmulsionUseTests(CoreCase):
    def test_the_ratio_with_its_interval(self):
        # Source: Cochran, Sampling Techniques, section 6.4, worked with numpy and scipy.
        weeks = [(1.3, 1.0), (2.2, 2.0), (0.7, 0.5), (1.9, 1.5)]
        used, predicted = np.array(weeks).T
        ratio = used.sum() / predicted.sum()
        error = np.std(used - ratio * predicted, ddof=0) * np.sqrt(4 / 3) / 2 / predicted.mean()
        reach = stats.t.ppf(0.95, 3) * error
        found = used_over_predicted(weeks)
        self.assertAlmostEqual(found.value, ratio)
        self.assertAlmostEqual(found.high - found.value, reach, delta=0.02)

    def test_it_holds_the_true_ratio_in_nine_of_ten_shops(self):
        # Source: weeks drawn by numpy with a known ratio; 85 to 95 % of 400 are within sampling of 90 %.
        rng = np.random.default_rng(3)
        held = 0
        for _ in range(400):
            predicted = rng.uniform(0.5, 3, 8)
            found = used_over_predicted(list(zip(1.25 * predicted * rng.normal(1, 0.15, 8), predicted, strict=True)))
            held += found.low <= 1.25 <= found.high
        self.assertTrue(0.85 <= held / 400 <= 0.95, held)

    def test_too_few_weeks_are_refused(self):
        found = used_over_predicted([(1, 1), (2, 2), (0, 1), (1, 0)])
        self.assertTrue(found.refused)
        self.assertIn("2 runs have both", found.reason)


class RefusedWorkTests(CoreCase):
    def test_sums_by_reason_and_the_frame_that_would_take_them(self):
        # Source: by hand: shorter sides 600 and 500, longer 700 and 900.
        found = by_reason(
            [
                Refused(Refusal.OVERSIZE, 300, (700, 600)),
                Refused(Refusal.OVERSIZE, None, (500, 900)),
                Refused(Refusal.NO_TIME, 80),
            ]
        )
        self.assertEqual(
            [(s.reason, s.number, s.money, s.without_money) for s in found],
            [(Refusal.OVERSIZE, 2, 300, 1), (Refusal.NO_TIME, 1, 80, 0)],
        )
        self.assertEqual([s.would_take for s in found], [(600, 900), None])
