"""Emulsion for a run, coaters, defects, control charts, batches that were moved."""

import math

import numpy as np

from frimble.core.coating import coater as coater_rules
from frimble.core.coating import defects as coat_defects
from frimble.core.coating import drying, practice
from frimble.core.coating import formula as coat_formula
from frimble.core.coating import plan as coat_plan
from frimble.core.coating import thickness as coat_thickness
from frimble.core.coating import wet as wet_coat
from frimble.core.coating.formula import parse_formula
from frimble.core.conclusions import Conclusion
from frimble.core.emulsion import batch as batch_rules
from frimble.core.emulsion.batch import StoragePeriod
from frimble.core.exposure.chart import learning as exposure_learning
from frimble.core.exposure.chart.learning import CellFacts
from frimble.core.mesh.choice import cost_of
from frimble.core.mesh.geometry import geometry
from frimble.core.statistics import control as control_chart
from frimble.core.testing.case import CoreCase


class WetCoatTests(CoreCase):
    def need(self, formula="P1 S1", count=43, thread=80, width=400, height=500):
        mesh = geometry(count, thread, self.house_settings)
        return wet_coat.screen_ml(parse_formula(formula, self.house_settings), mesh, width, height, self.house_settings)

    def test_a_screen_s_emulsion(self):
        # Source: by mass; what is left when the water of 60 % is gone fills the mesh and stands 15 % over it.
        mesh = geometry(43, 80, self.house_settings)
        dry = mesh.ink_volume_cm3_per_m2 + 0.15 * mesh.fabric_thickness_um
        self.assertAlmostEqual(self.need(), dry / 0.4 * 0.2, places=3)
        # Common practice, no source. A litre coats some five or six square metres of such mesh.
        self.assertTrue(5 < 1000 / (self.need() / 0.2) < 6.5)
        # Common practice, no source. Coarser mesh takes more, and so do more coats.
        self.assertGreater(self.need(count=10, thread=260), 2 * self.need())
        self.assertGreater(self.need("P1 S1 / P1r / P1r"), self.need())

    def test_chooser_planner_and_run_take_one_figure(self):
        for count, thread in ((24, 120), (43, 80), (77, 48), (140, 31)):
            mesh, formula = geometry(count, thread, self.house_settings), parse_formula("P1 S1", self.house_settings)
            chooser = cost_of(mesh, self.house_settings).emulsion_ml_per_m2
            run = wet_coat.wet_um(formula, 1, mesh, self.house_settings)
            with self.subTest(count):
                self.assertAlmostEqual(self.need(count=count, thread=thread) / 0.2, chooser, places=3)
                self.assertAlmostEqual(run, chooser, places=3)

    def test_a_fuller_coater_lays_more_and_dries_later(self):
        mesh, formula = geometry(43, 80, self.house_settings), parse_formula("P1 S1", self.house_settings)
        water = [drying.layer_water_g_per_m2(formula, 1, mesh, 0.4, self.house_settings, f) for f in (0.25, 0.5, 1.0)]
        self.assertEqual(water, sorted(water))
        self.assertGreater(water[2], water[0])

    def test_layers_add_up_to_the_whole_coat(self):
        mesh, formula = geometry(43, 80, self.house_settings), parse_formula("P1 S1 / P1r / P1r", self.house_settings)
        layers = [wet_coat.wet_um(formula, n, mesh, self.house_settings) for n in (1, 2, 3)]
        self.assertAlmostEqual(sum(layers), wet_coat.laid_um(formula, 3, mesh, self.house_settings))

    def test_a_run_is_poured_with_what_the_coater_holds(self):
        result = wet_coat.run_need([12.0] * 5, 450, "half", self.house_settings)
        self.assertAlmostEqual(result.laid.value, 60)
        # Source: arithmetic; 450 mm of a trough of 1400 mm², half full, are 315 ml.
        self.assertAlmostEqual(result.back_ml, 315)
        self.assertAlmostEqual(result.pour_ml, 375)
        self.assertLess(result.laid.low, 60)
        self.assertInvalidInput("length_mm", "coater's length", wet_coat.coater_ml, 5, "half", self.house_settings)
        self.assertInvalidInput("width_mm", "more than 0", self.need, width=0)


class CustomsTests(CoreCase):
    def test_every_common_formula_parses_and_the_built_up_one_is_the_thickest(self):
        # Common practice, no source. Thick white is built up with the round edge after drying; a scraped coat is thin.
        parsed = {c.formula: parse_formula(c.formula, self.house_settings) for c in practice.CUSTOMS}
        self.assertEqual({text: str(formula) for text, formula in parsed.items()}, {text: text for text in parsed})
        learned = coat_thickness.learn([], self.house_settings)
        thick = {
            t: coat_thickness.predict(coat_thickness.CoatConditions(f, 128, 0.4), learned, self.house_settings).value
            for t, f in parsed.items()
        }
        self.assertEqual(max(thick, key=thick.get), "P1 S1 / P1r / P1r")
        self.assertLess(thick["P1 S1x"], thick["P1 S1"])

    def test_where_the_coat_comes_to_stand(self):
        # Common practice, no source. A last stroke from the squeegee side pushes it to the print side.
        def share(text):
            return coat_formula.print_side_share(parse_formula(text, self.house_settings), self.house_settings)

        self.assertGreater(share("P1 S1"), share("S1 P1"))
        self.assertGreater(share("P1 S1 / P1r / P1r"), share("P1 S1"))

    def test_a_thicker_coat_wants_more_light(self):
        # Common practice, no source. 25 to 30 % more for a coat some 20 µm thicker.
        mesh = geometry(43, 80, self.house_settings)
        answer = Conclusion(0.15 * mesh.fabric_thickness_um + 20, "µm", "", "", "", low=30, high=50)
        self.assertAlmostEqual(coat_plan.exposure_factor(mesh, answer, self.house_settings).value, 1.25, delta=0.05)
        # The trade's rule stands beside it for a coat that was built up, with why they differ.
        self.assertNotIn("The trade adds", coat_plan.exposure_factor(mesh, answer, self.house_settings).reason)
        built = coat_plan.exposure_factor(mesh, answer, self.house_settings, layers=3).reason
        self.assertIn("here +56 to +69 %; by what light must pass to cure the back it is +25 %", built)
        deposit = coat_plan.wet_deposit(mesh, answer)
        self.assertAlmostEqual(deposit.value, mesh.ink_volume_cm3_per_m2 + answer.value)


class CoaterTests(CoreCase):
    def test_between_the_rails_and_past_the_image(self):
        # Common practice, no source. Off the frame joint, past the image on both sides.
        self.assertTrue(coater_rules.fit(450, 500, 380, self.house_settings).fits)
        long = coater_rules.fit(490, 500, 380, self.house_settings)
        self.assertFalse(long.fits)
        self.assertIn("joint", long.reason)
        self.assertIn("does not cover", coater_rules.fit(400, 500, 380, self.house_settings).reason)
        self.assertEqual(coater_rules.largest_image_mm(450, self.house_settings), 410)


class DefectTests(CoreCase):
    def test_usual_causes(self):
        # From memory: chips leave thick beads, dried emulsion light lines, overfilling ridges at both sides.
        self.assertIn("chip", coat_defects.DEFECTS["bead"].cause)
        self.assertIn("dried emulsion", coat_defects.DEFECTS["line"].cause)
        self.assertIn("overfilled", coat_defects.DEFECTS["side"].cause)

    def test_practice_is_told_only_when_it_can_be(self):
        few = coat_defects.tally("Wim", 3, [(1, "drip"), (2, "drip")], self.house_settings)
        self.assertIn("too few", few.practise)
        tally = coat_defects.tally("Wim", 12, [(1, "drip"), (2, "drip"), (2, "line"), (3, "line")], self.house_settings)
        self.assertEqual((tally.faulty, tally.share), (3, 0.25))
        # Lines come from the coater, drips from the hand.
        self.assertIn("Drip 2 times", tally.practise)
        self.assertIn(
            "Nothing", coat_defects.tally("Wim", 12, [(1, "line"), (2, "line")], self.house_settings).practise
        )


class ControlChartTests(CoreCase):
    def test_the_handbook_s_chart(self):
        # Source: NIST/SEMATECH e-Handbook 6.3.2.2, flow rates: centre 50.81, limits 55.8041 and 45.8159.
        flow = [49.6, 47.6, 49.9, 51.3, 47.8, 51.2, 52.6, 52.4, 53.6, 52.1]
        chart = control_chart.individuals(flow)
        self.assertAlmostEqual(chart.centre, 50.81)
        self.assertAlmostEqual(chart.high, 55.8041, delta=0.002)
        self.assertAlmostEqual(chart.low, 45.8159, delta=0.002)
        self.assertEqual(chart.signals, ())

    def test_the_handbook_s_weighted_mean(self):
        # Source: NIST/SEMATECH e-Handbook 6.3.2.4: weight 0.3, target 50, sigma 2.0539; limits 52.5884 and 47.4115.
        values = [
            52.0,
            47.0,
            53.0,
            49.3,
            50.1,
            47.0,
            51.0,
            50.1,
            51.2,
            50.5,
            49.6,
            47.6,
            49.9,
            51.3,
            47.8,
            51.2,
            52.6,
            52.4,
            53.6,
            52.1,
        ]
        answer = [
            50.60,
            49.52,
            50.56,
            50.18,
            50.16,
            49.21,
            49.75,
            49.85,
            50.26,
            50.33,
            50.11,
            49.36,
            49.52,
            50.05,
            49.38,
            49.92,
            50.73,
            51.23,
            51.94,
            51.99,
        ]
        result = control_chart.ewma(values, 50)
        for mine, theirs in zip(result, answer, strict=True):
            self.assertAlmostEqual(mine, theirs, delta=0.006)
        self.assertAlmostEqual(50 + control_chart.drift_reach(2.0539), 52.5884, delta=0.001)

    def test_a_slow_drift_is_seen(self):
        rng = np.random.default_rng(2)
        steady = rng.normal(0, 1, 30)
        drifting = np.concatenate([steady[:18], steady[18:] + np.linspace(0.3, 2.2, 12)])
        words = [s.words for s in control_chart.individuals(drifting).signals]
        self.assertTrue(any("drifting up" in w or "above" in w for w in words), words)
        self.assertLessEqual(len(control_chart.individuals(steady).signals), 1)

    def test_each_sign_of_a_change(self):
        even = [1.0, -1.0] * 10
        self.assertEqual([s.at for s in control_chart.individuals([*even, 9.0]).signals], [20])
        drift = control_chart.individuals([*even, *[0.5, 0.9] * 5]).signals
        self.assertTrue(any("8 in a row" in s.words for s in drift))
        self.assertIsNone(control_chart.individuals([1.0, 2.0]))
        self.assertEqual(control_chart.individuals([3.0] * 8).signals, ())

    def test_chance_alone_seldom_signals(self):
        # Source: three-sigma limits and runs of eight on normal noise: about one value in a hundred and fifty.
        rng = np.random.default_rng(12)
        signals = sum(len(control_chart.individuals(rng.normal(0, 1, 25)).signals) for _ in range(80))
        self.assertLess(signals / 2000, 0.02)


class MovedBatchTests(CoreCase):
    def test_a_warm_week_counts_double(self):
        # From memory: life halves for each +10 °C.
        warm = batch_rules.life_used("dual", [StoragePeriod(7, 20), StoragePeriod(7, 30)], self.house_settings)
        self.assertAlmostEqual(warm, 3 * batch_rules.life_used("dual", [StoragePeriod(7, 20)], self.house_settings))
        answer = batch_rules.batch_life("dual", [StoragePeriod(10, 6), StoragePeriod(4, 20)], self.house_settings)
        self.assertIn("6 and 20 °C", answer.reason)
        self.assertEqual(answer.verdict, "fresh")
        self.assertInvalidInput(
            "mixed_at",
            "future",
            batch_rules.batch_life,
            "dual",
            [StoragePeriod(3, 20), StoragePeriod(-1, 6)],
            self.house_settings,
        )

    def test_warming_up(self):
        # Common practice, no source. About 15 minutes from the cold.
        self.assertEqual(batch_rules.warm_up_min(5, 6, self.house_settings), 10)
        self.assertEqual(batch_rules.warm_up_min(0, 20, self.house_settings), 0)
        self.assertEqual(batch_rules.warm_up_min(40, 6, self.house_settings), 0)

    def test_how_long_stock_lasts(self):
        # Source: arithmetic; 2 l less 0.5 planned at 0.5 l a week are three weeks.
        result = batch_rules.stock_lasts(2, 0.5, 0.5, 90)
        self.assertAlmostEqual(result.value, 21)
        self.assertIn("used up", result.reason)
        self.assertIn("life ends first", batch_rules.stock_lasts(2, 0.1, 0, 20).reason)
        self.assertEqual(batch_rules.stock_lasts(0.4, 0.5, 1, 90).verdict, "short")
        self.assertInvalidInput("litres", "Litres left", batch_rules.stock_lasts, -1, 0.5, 1, 90)


class OneLawTests(CoreCase):
    def test_chooser_and_chart_tell_one_factor_between_meshes(self):
        # Common practice, no source. A coarse mesh takes two or three times a middling one's time, not thirty.
        fine, coarse = (geometry(c, t, self.house_settings) for c, t in ((43, 80), (24, 120)))
        chooser = cost_of(coarse, self.house_settings).exposure_white
        none = exposure_learning.learn([], self.house_settings)
        facts = [
            CellFacts(1.15 * m.fabric_thickness_um, False, 0.06, "E", "L", None, fabric_um=m.fabric_thickness_um)
            for m in (coarse, fine)
        ]
        (name, chart), *_ = exposure_learning.parts(*facts, none)
        self.assertEqual(name, "thickness of mesh and coat")
        self.assertAlmostEqual(chooser, chart.value, places=3)
        self.assertTrue(1.4 < chooser < 3)

    def test_a_thin_coats_interval_knows_the_gauge(self):
        # Source: simulation with known thickness; coats of 5 to 9 µm read by a gauge that is off by 1 µm.
        rng, held = np.random.default_rng(3), []
        formula = parse_formula("P1", self.house_settings)
        for _ in range(40):
            own = 6.0 * math.exp(rng.normal(0, 0.15))
            read = lambda own=own: max(1.0, own * math.exp(rng.normal(0, 0.12)) + rng.normal(0, 1.0))  # noqa: E731
            facts = coat_thickness.CoatConditions(formula, 50, 0.4)
            known = coat_thickness.learn([(facts, read()) for _ in range(6)], self.house_settings)
            found = coat_thickness.predict(facts, known, self.house_settings)
            held += [found.low <= read() <= found.high for _ in range(8)]
        self.assertTrue(0.85 <= np.mean(held) <= 0.98, np.mean(held))
