import math

from frimble.core.coating.drying import Air, drying_minutes, layer_facts, prior, vapour_pressure_deficit_pa
from frimble.core.coating.formula import parse_formula
from frimble.core.emulsion.batch import batch_age, life_days
from frimble.core.mesh.geometry import geometry
from frimble.core.testing.case import CoreCase


class EmulsionTests(CoreCase):
    def test_diazo_lives_weeks_warm_and_months_cold(self):
        # From memory: mixed diazo 4–6 weeks at room temperature, about 3 months cold.
        self.assertTrue(28 <= life_days("diazo", 20, self.house_settings) <= 42)
        self.assertAlmostEqual(life_days("diazo", 6, self.house_settings), 91, delta=10)

    def test_ten_degrees_halve_the_life(self):
        # From memory: Q10 of about 2.
        ratio = life_days("dual", 20, self.house_settings) / life_days("dual", 30, self.house_settings)
        self.assertAlmostEqual(ratio, 2)

    def test_verdicts_along_a_life(self):
        for days, verdict in ((3, "fresh"), (37, "ageing"), (46, "past its life")):
            with self.subTest(days):
                self.assertEqual(batch_age("dual", days, 20, self.house_settings).verdict, verdict)

    def test_a_batch_of_tomorrow_and_an_impossible_place_are_refused(self):
        self.assertInvalidInput("mixed_at", "in the future", batch_age, "dual", -1, 20, self.house_settings)
        self.assertInvalidInput("kept_c", "between -5 and 50", batch_age, "dual", 1, 80, self.house_settings)
        self.assertInvalidInput("kind", "diazo", batch_age, "wax", 1, 20, self.house_settings)


class DryingTests(CoreCase):
    def minutes(self, formula="P1 S1", layer=1, count=43, thread=80, air_c=35, humidity=0.4):
        mesh = geometry(count, thread, self.house_settings)
        parsed = parse_formula(formula, self.house_settings)
        facts = layer_facts(parsed, layer, mesh, 0.4, Air(air_c, humidity), self.house_settings)
        return drying_minutes(facts, prior(self.house_settings), self.house_settings)

    def test_saturation_pressure_is_the_handbooks(self):
        # Source: ASHRAE Handbook Fundamentals ch. 1, table of saturated moist air: 2.3392 kPa at 20 °C, 5.6286 at 35 °C.
        self.assertAlmostEqual(vapour_pressure_deficit_pa(20, 0, self.house_settings), 2339, delta=3)
        self.assertAlmostEqual(vapour_pressure_deficit_pa(35, 0, self.house_settings), 5629, delta=6)

    def test_deficit_agrees_with_the_magnus_form(self):
        # Source: Alduchov and Eskridge, J. Appl. Meteorol. 35 (1996), Magnus form over water, another fit.
        magnus = 610.94 * math.exp(17.625 * 30 / (30 + 243.04)) * 0.6
        self.assertAlmostEqual(vapour_pressure_deficit_pa(30, 0.4, self.house_settings) / magnus, 1, delta=0.005)

    def test_the_reference_coat_takes_about_an_hour(self):
        # Common practice, no source. P1 S1 on 43/cm dries in about an hour at 35 °C and 40 % humidity.
        result = self.minutes()
        self.assertAlmostEqual(result.value, 60)
        self.assertLess(result.low, 60)
        self.assertGreater(result.high, 60)

    def test_damp_cool_and_coarse_dry_slower(self):
        # Common practice, no source. Thicker coats, coarser mesh, damp or cool air take longer.
        base = self.minutes().value
        self.assertGreater(self.minutes(air_c=22, humidity=0.5).value, 2 * base)
        self.assertGreater(self.minutes(count=10, thread=260).value, 2 * base)
        self.assertGreater(self.minutes(formula="P2 S3").value, base)
        self.assertLess(self.minutes("P1 S1 / P1r", layer=2).value, base)

    def test_too_damp_is_said_and_saturated_air_refuses(self):
        self.assertEqual(self.minutes(humidity=0.7).verdict, "too damp")
        refused = self.minutes(humidity=1)
        self.assertTrue(refused.refused)
        self.assertIn("takes up no water", refused.reason)

    def test_impossible_air_is_refused(self):
        self.assertInvalidInput("humidity", "400 %", self.minutes, humidity=4)
        self.assertInvalidInput("air_c", "A drying room's air", self.minutes, air_c=95)
