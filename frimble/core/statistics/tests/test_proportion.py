"""A share with its interval, held against a general library."""

from statsmodels.stats.proportion import proportion_confint

from frimble.core.statistics.proportion import proportion
from frimble.core.testing.case import CoreCase


class ProportionTests(CoreCase):
    def test_it_is_wilsons_interval(self):
        # Source: statsmodels.stats.proportion.proportion_confint, method "wilson".
        for number, of in ((0, 8), (3, 40), (17, 60), (5, 5)):
            with self.subTest(number=number, of=of):
                low, high = proportion_confint(number, of, alpha=0.1, method="wilson")
                share = proportion(number, of)
                self.assertAlmostEqual(share.value, number / of)
                self.assertAlmostEqual(share.low, low, places=4)
                self.assertAlmostEqual(share.high, high, places=4)

    def test_a_share_of_nothing_is_none(self):
        for number, of in ((0, 0), (3, 2), (-1, 4)):
            with self.subTest(number=number, of=of), self.assertRaises(ValueError):
                proportion(number, of)
