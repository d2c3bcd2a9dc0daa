"""How much wet ink covers: common practice first, then what the press has seen."""

import numpy as np

from frimble.core.press.opacity import PrintedDeposit, learn, passes_to_cover
from frimble.core.testing.case import CoreCase


class OpacityTests(CoreCase):
    def test_before_any_print_it_is_the_houses_figure(self):
        # Source: the house setting, 110 µm: two passes of 55.
        found = passes_to_cover(56, learn((), self.house_settings))
        self.assertEqual(found.value, 2)
        self.assertEqual(found.rests_on, "common practice")
        self.assertLessEqual(found.interval.low, 2)
        self.assertGreaterEqual(found.interval.high, 3)

    def test_prints_that_covered_with_less_bring_it_down_and_thin_ones_up(self):
        start = passes_to_cover(10, learn((), self.house_settings)).value
        less = [PrintedDeposit(60, 1, True)] * 12
        more = [PrintedDeposit(60, 3, False)] * 12
        self.assertLess(passes_to_cover(10, learn(less, self.house_settings)).value, start)
        self.assertGreater(passes_to_cover(10, learn(more, self.house_settings)).value, start)

    def test_it_finds_what_the_prints_were_made_with(self):
        # Source: prints drawn about 80 µm of ink that covers, spread by a fifth.
        rng = np.random.default_rng(4)
        prints = []
        for _ in range(120):
            deposit, passes = float(rng.uniform(25, 70)), int(rng.integers(1, 4))
            prints.append(PrintedDeposit(deposit, passes, deposit * passes > 80 * np.exp(rng.normal(0, 0.2))))
        found = passes_to_cover(1, learn(prints, self.house_settings))
        self.assertAlmostEqual(found.value, 80, delta=8)
        self.assertIn("120 prints here", found.rests_on)

    def test_no_deposit_is_refused(self):
        self.assertInvalidInput("deposit_um", "deposit", passes_to_cover, 0, learn((), self.house_settings))
