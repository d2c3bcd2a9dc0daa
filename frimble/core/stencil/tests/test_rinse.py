"""How long a rinse takes here: against regression by another library, and on simulated washes of other laws."""

import math
import unittest

import numpy as np
import statsmodels.api as sm

from frimble.core.conclusions import InvalidInput
from frimble.core.settings import HouseSettings
from frimble.core.stencil.rinse import RinseFacts, beyond_use, learn, pace, usual
from frimble.core.verdicts import RinsePace

SETTINGS = HouseSettings()


def washes(rng, number, middle=100.0, spread=0.2):
    """Rinses that scatter round a middle which grows with the coat and with the light, heavier in the tails than normal."""
    rows = []
    for _ in range(number):
        strokes, dose = int(rng.integers(2, 7)), float(np.exp(rng.normal(0, 0.2)))
        seconds = middle * (strokes / 2) ** 0.5 * dose**0.6 * math.exp(spread * rng.standard_t(6))
        rows.append((RinseFacts("Saltern", strokes, dose), seconds))
    return rows


class UsualTests(unittest.TestCase):
    def test_without_a_wash_it_is_common_practice_and_wide(self):
        told = usual(RinseFacts("any", 2), learn([], SETTINGS))
        self.assertAlmostEqual(told.known, SETTINGS["wash.rinse_s"], places=6)
        self.assertEqual(told.rests_on, "common practice")
        self.assertGreater(told.interval.high / told.interval.low, 4)

    def test_with_many_it_comes_to_what_least_squares_says(self):
        # Source: ordinary least squares of ln seconds, statsmodels; with 400 washes the prior hardly weighs.
        rows = washes(np.random.default_rng(1), 400)
        x = np.array([[math.log(f.strokes / 2), math.log(f.dose)] for f, _ in rows])
        fit = sm.OLS(np.log([s for _, s in rows]), sm.add_constant(x)).fit()
        at = RinseFacts("Saltern", 4, 1.2)
        there = fit.params @ [1.0, math.log(2), math.log(1.2)]
        self.assertAlmostEqual(math.log(usual(at, learn(rows, SETTINGS)).known), there, delta=0.03)

    def test_nine_in_ten_of_the_next_lie_in_the_interval(self):
        # Source: coverage of a 90 % interval over 40 simulated shops of other tails and exponents.
        inside = []
        for seed in range(40):
            rng = np.random.default_rng(seed)
            middle = float(np.exp(rng.normal(math.log(90), 0.4)))
            model = learn(washes(rng, 30, middle), SETTINGS)
            for facts, seconds in washes(rng, 20, middle):
                told = usual(facts, model)
                inside.append(told.interval.low <= seconds <= told.interval.high)
        self.assertGreater(sum(inside) / len(inside), 0.85)
        self.assertLess(sum(inside) / len(inside), 0.96)

    def test_an_emulsion_that_rinses_slower_is_known_by_its_own_washes(self):
        rng = np.random.default_rng(3)
        slow = [(RinseFacts("Slow", f.strokes, f.dose), 2 * s) for f, s in washes(rng, 25)]
        model = learn([*washes(rng, 25), *slow], SETTINGS)
        ratio = usual(RinseFacts("Slow", 2), model).known / usual(RinseFacts("Saltern", 2), model).known
        self.assertAlmostEqual(ratio, 2.0, delta=0.35)
        # One never met lies between them, and is less sure.
        new = usual(RinseFacts("New", 2), model)
        known = usual(RinseFacts("Slow", 2), model)
        self.assertGreater(new.interval.high / new.interval.low, 1.15 * known.interval.high / known.interval.low)

    def test_more_strokes_and_more_light_take_longer(self):
        # Common practice, no source.
        model = learn([], SETTINGS)
        self.assertGreater(usual(RinseFacts("a", 6), model).known, usual(RinseFacts("a", 2), model).known)
        self.assertGreater(usual(RinseFacts("a", 2, 2.0), model).known, usual(RinseFacts("a", 2, 1.0), model).known)


class PaceTests(unittest.TestCase):
    def setUp(self):
        self.usual = usual(RinseFacts("Saltern", 2, 1.0), learn(washes(np.random.default_rng(5), 60), SETTINGS))

    def verdict(self, seconds, open_now):
        return pace(seconds, self.usual, open_now).verdict

    def test_within_it_is_as_usual_whether_open_or_not(self):
        for open_now in (True, False):
            self.assertEqual(self.verdict(self.usual.known, open_now), RinsePace.USUAL)

    def test_short_is_said_only_when_it_is_open(self):
        quick = self.usual.interval.low * 0.8
        self.assertEqual(self.verdict(quick, False), RinsePace.USUAL)
        said = pace(quick, self.usual, True)
        self.assertEqual(said.verdict, RinsePace.SHORT)
        # Common practice, no source: what opens at once had too little light, or was damp.
        self.assertIn("Under-exposed", said.why)
        self.assertIn("squeegee side", said.now)

    def test_long_then_no_use(self):
        # Common practice, no source: stubborn means over-exposed or a film that leaks; hotter, from the back, then stop.
        long = pace(self.usual.interval.high * 1.1, self.usual, False)
        self.assertEqual(long.verdict, RinsePace.LONG)
        self.assertIn("Over-exposed", long.why)
        self.assertIn("from the back", long.now)
        self.assertEqual(self.verdict(beyond_use(self.usual) * 1.01, False), RinsePace.NO_USE)
        self.assertEqual(self.verdict(beyond_use(self.usual) * 1.01, True), RinsePace.LONG)

    def test_no_seconds_are_refused(self):
        for seconds in (0, -3, math.nan):
            with self.assertRaises(InvalidInput):
                pace(seconds, self.usual, True)
