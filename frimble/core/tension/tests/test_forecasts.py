"""Forecasts of tension in words, paces of young meshes, limits by kind of frame, and what was never measured."""

from frimble.core.mesh import life as mesh_life
from frimble.core.mesh.life import MeshFacts
from frimble.core.tension import loss
from frimble.core.tension.limits import poor_below
from frimble.core.tension.loss import TensionObservation
from frimble.core.tension.measurement import TensionReading, summarise
from frimble.core.testing.case import CoreCase


class LimitTests(CoreCase):
    def test_wood_is_let_off_and_what_can_be_retensioned_is_not(self):
        # Common practice, no source. Stapled wood seldom holds 20 N/cm; a roller frame is brought back in minutes.
        wood, glued, roller = (poor_below(kind, self.house_settings) for kind in ("wood", "aluminium", "roller"))
        self.assertTrue(wood < glued < roller)
        self.assertEqual(poor_below("", self.house_settings), glued)

    def test_one_reading_is_judged_by_its_frame(self):
        readings = [TensionReading("middle", direction, 17) for direction in ("warp", "weft")]
        judged = {
            kind: summarise(readings, self.house_settings, kind).verdict.verdict for kind in ("wood", "aluminium")
        }
        self.assertEqual(judged, {"wood": "will do", "aluminium": "poor"})
        advice = [
            mesh_life.advise(MeshFacts(kind, 4, 17.0), self.house_settings).verdict for kind in ("wood", "roller")
        ]
        self.assertEqual(advice, ["keep", "re-tension"])

    def test_what_was_never_measured_is_not_known(self):
        advice = mesh_life.advise(MeshFacts("aluminium", 4), self.house_settings)
        self.assertEqual(advice.verdict, "not known")
        self.assertIn("never measured", advice.reasons[0])
        self.assertEqual(
            mesh_life.advise(MeshFacts("aluminium", 4, damaged=True), self.house_settings).verdict, "re-mesh"
        )


class PaceTests(CoreCase):
    def test_a_young_mesh_borrows_the_pace_of_its_kind(self):
        # By hand: 30 days are borrowed; 2 cycles in 10 days and 0.1 a day of its kind make (2 + 3) ÷ 40 = 0.125 a day.
        expected, spread = loss.pace(2, 10, 0.1, self.house_settings)
        self.assertAlmostEqual(expected, 0.125)
        old, less = loss.pace(80, 800, 0.3, self.house_settings)
        self.assertAlmostEqual(old, 0.107, places=3)
        self.assertLess(less, spread / 3)

    def test_an_unsure_pace_widens_the_days(self):
        belief = loss.shop_belief([], self.house_settings)
        history = [TensionObservation(1, 0, 25), TensionObservation(9, 1, 24)]
        sure, unsure = (
            loss.forecast(history, belief, self.house_settings, 0.3, 20, spread).crossing for spread in (0.0, 1.2)
        )
        self.assertLess(unsure.low, sure.low)


class WordsTests(CoreCase):
    def crossing(self, mean, a_day=0.2):
        belief = loss.shop_belief([], self.house_settings)
        history = [TensionObservation(d, 0, mean) for d in (1, 5, 9)]
        return loss.forecast(history, belief, self.house_settings, a_day)

    def test_the_days_that_matter_are_named(self):
        soon = self.crossing(22)
        self.assertIn("more likely than not crossed 20 N/cm in", soon.crossing.reason)
        self.assertIn(f"one in ten such would have crossed by day {soon.one_in_ten:.0f}", soon.crossing.reason)
        self.assertTrue(soon.crossing.low <= soon.one_in_ten <= soon.crossing.value)

    def test_what_holds_says_by_when_one_in_ten_would_not(self):
        holds = self.crossing(28, 0)
        self.assertIn("more likely than not still above 20 N/cm", holds.crossing.reason)
        self.assertIn("one in ten", holds.crossing.reason)
