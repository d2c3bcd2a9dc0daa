"""Emulsion over mesh: predicted, measured and learned from a shop whose constants are hidden."""

import math

import numpy as np
from statsmodels.regression.linear_model import OLS

from frimble.core import eom, mixing
from frimble.core.coating import parse_formula
from frimble.core.eom import CoatFacts
from frimble.core.tests.case import CoreCase

FORMULAS = ("P1 S1", "P1", "P2 S2", "P2 S3", "P1 S1 / P1r / P1r", "P1r S1r", "S1 P1 S1", "P1 S1x")


class MixingTests(CoreCase):
    def test_ten_to_one_and_topping_up(self):
        # Common practice, no source. 10 : 1 by volume; sensitiser is owed only for the new base, age is the oldest part's.
        found = mixing.mix(1000, 10, self.standards)
        self.assertEqual((found.sensitiser, found.total, found.age_days), (100, 1100, 0))
        topped = mixing.top_up(300, 500, 10, 12, self.standards)
        self.assertEqual((topped.sensitiser, topped.total, topped.age_days), (50, 850, 12))
        self.assertIn("12 days old", topped.words[1])

    def test_what_is_no_mix(self):
        self.assertOutOfRange("base", "more than 0", mixing.mix, 0, 10, self.standards)
        self.assertOutOfRange("ratio", "between", mixing.mix, 500, 0.1, self.standards)
        self.assertOutOfRange("remainder_age_days", "future", mixing.top_up, 300, 500, 10, -1, self.standards)
        self.assertOutOfRange("remainder", "between", mixing.top_up, -5, 500, 10, 1, self.standards)


class EomTests(CoreCase):
    def facts(self, formula="P1 S1", fabric=128.0, solids=0.4):
        return CoatFacts(parse_formula(formula, self.standards), fabric, solids)

    def predict(self, *given, measured=()):
        return eom.predict(self.facts(*given), eom.learn(measured, self.standards), self.standards)

    def test_the_prior_is_the_trade_s(self):
        # From memory: 10–20 % of the fabric for ordinary work; 43-80 is some 128 µm.
        told = self.predict()
        self.assertEqual(told.verdict, "ordinary")
        self.assertAlmostEqual(told.value, 0.15 * 128, delta=0.1)
        self.assertIn("100 % common practice", told.rests_on)
        # Common practice, no source. Round edge, more strokes and coats after drying build it up; scraping thins it.
        for more in ("P2 S2", "P1r S1r", "P1 S1 / P1r / P1r"):
            self.assertGreater(self.predict(more).value, told.value, more)
        self.assertLess(self.predict("P1 S1x").value, told.value)
        # Common practice, no source. 40–80 µm and more for thick white: built up with the round edge.
        self.assertGreater(self.predict("P2r S2r / P1r / P1r").value, 40)

    def test_a_hidden_shop_is_learned(self):
        chance = np.random.default_rng(21)
        truth = [math.log(30), 0.55, 0.5, 0.35, -0.7, 1.3, 0.7]

        def coat():
            formula = FORMULAS[chance.integers(len(FORMULAS))]
            facts = self.facts(formula, float(chance.choice([60, 90, 128, 160])), float(chance.uniform(0.3, 0.5)))
            return facts, math.exp(np.dot(truth, eom._row(facts)) + chance.normal(0, 0.12))

        seen, later = [coat() for _ in range(30)], [coat() for _ in range(200)]
        learned, naive = eom.learn(seen, self.standards), eom.prior(self.standards)
        inside, errors, before = 0, [], []
        for facts, true in later:
            told = eom.predict(facts, learned, self.standards)
            inside += told.low <= true <= told.high
            errors.append(abs(math.log(told.value / true)))
            before.append(abs(math.log(eom.predict(facts, naive, self.standards).value / true)))
        # The interval claims 90 %: 85 to 97 of a hundred of the next 200 is what its own sampling allows.
        self.assertGreaterEqual(inside / 200, 0.85)
        self.assertLessEqual(inside / 200, 0.97)
        self.assertLessEqual(np.median(errors), 0.5 * np.median(before))
        # Source: statsmodels, ordinary least squares on the same thirty coats.
        fitted = OLS(np.log([t for _, t in seen]), np.array([eom._row(f) for f, _ in seen])).fit()
        plain = [abs(float(fitted.predict([eom._row(f)])[0]) - math.log(t)) for f, t in later]
        self.assertLessEqual(np.median(errors), 1.1 * np.median(plain))

    def test_gauge_readings(self):
        # Source: arithmetic; mean 150 less 128 is 22 µm, 17 %.
        found = eom.measure([148, 150, 152], 128, self.standards)
        self.assertAlmostEqual(found.eom_um, 22)
        self.assertAlmostEqual(found.share, 22 / 128)
        self.assertEqual((found.verdict.verdict, found.spread_um), ("ordinary", 4))
        self.assertEqual(eom.measure([134], 128, self.standards).verdict.verdict, "thin")
        self.assertEqual(eom.measure([180], 128, self.standards).verdict.verdict, "thick")
        self.assertIn("uneven", eom.measure([140, 165], 128, self.standards).verdict.reason)

    def test_what_cannot_be(self):
        self.assertOutOfRange("coated", "thinner than the bare mesh", eom.measure, [120], 128, self.standards)
        self.assertOutOfRange("coated", "at least one", eom.measure, [], 128, self.standards)
        self.assertOutOfRange("bare_um", "between", eom.measure, [150], 0, self.standards)
        self.assertOutOfRange("formula", "lay nothing", self.predict, "P1x")
        self.assertOutOfRange("solids", "between", self.predict, "P1 S1", 128.0, 4.0)
