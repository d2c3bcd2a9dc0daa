"""Two step tests against each other, the wash that belongs to a test, and other ways to a stencil."""

import math

from scipy import stats

from frimble.core.conclusions import RuleViolation
from frimble.core.exposure.steptest import comparison
from frimble.core.exposure.steptest.window import EdgeFit, WindowFit
from frimble.core.stencil import alternatives
from frimble.core.stencil.wash import against_protocol
from frimble.core.testing.case import CoreCase

MADE = {"mesh": "43-80 white", "coat": "P1 S1", "film": "Inkjet dye"}


def edge(value, sd=0.05, bracketed=True):
    return EdgeFit(value, value * math.exp(-1.645 * sd), value * math.exp(1.645 * sd), sd, 0.06, bracketed)


def side(name, cured, closes=None, screen="Q-014", **made):
    return comparison.Side(name, MADE | made, WindowFit(cured, closes, 1), screen)


class TrialTests(CoreCase):
    def compare(self, one, other):
        return comparison.compare(one, other, self.house_settings)

    def test_two_screens_widen_the_answer(self):
        one, film = side("Test 1", edge(20)), {"film": "Oiled sheet"}
        near = self.compare(one, side("Test 2", edge(23), **film))
        apart = self.compare(one, side("Test 2", edge(23), screen="Q-015", **film))
        self.assertEqual((near.verdict, apart.verdict), ("a difference", "no difference seen"))
        self.assertIn("two screens, Q-014 and Q-015", apart.reason)
        # Source: scipy, normal distribution: independent variances add.
        spread = math.hypot(0.05, 0.05, self.house_settings["steptest.screens_differ"])
        self.assertAlmostEqual(math.log(apart.high / apart.value), stats.norm(0, spread).interval(0.9)[1], places=3)

    def test_one_difference_is_what_moved_the_time(self):
        answer = self.compare(side("Test 1", edge(20)), side("Test 2", edge(30), film="Oiled sheet"))
        self.assertEqual(answer.verdict, "a difference")
        self.assertIn("Only the film differs", answer.reason)
        # Source: scipy, normal distribution of a difference of two independent logarithms.
        low, high = stats.norm(math.log(1.5), math.sqrt(2) * 0.05).interval(0.9)
        self.assertAlmostEqual(answer.value, 1.5)
        self.assertAlmostEqual(answer.low, math.exp(low), places=3)
        self.assertAlmostEqual(answer.high, math.exp(high), places=3)

    def test_what_chance_explains_is_no_difference(self):
        answer = self.compare(side("Test 1", edge(20)), side("Test 2", edge(21), film="Oiled sheet"))
        self.assertEqual(answer.verdict, "no difference seen")

    def test_two_differences_cannot_be_told_apart_and_none_is_a_repeat(self):
        # Common practice, no source. Change one thing at a time.
        answer = self.compare(
            side("Test 1", edge(20)), side("Test 2", edge(30), film="Oiled sheet", mesh="77-48 yellow")
        )
        self.assertEqual(answer.verdict, "cannot be told apart")
        self.assertIn("2 things differ, mesh and film", answer.reason)
        self.assertEqual(self.compare(side("1", edge(20)), side("2", edge(21))).verdict, "a repeat")

    def test_an_end_that_was_not_bracketed_is_refused(self):
        for other in (None, edge(30, bracketed=False)):
            with self.assertRaises(RuleViolation) as caught:
                self.compare(side("1", edge(20)), side("2", other))
            self.assertIn("not bracketed", caught.exception.reason)

    def test_the_wider_window_is_told(self):
        answer = comparison.headroom(side("1", edge(20), edge(30)), side("2", edge(20), edge(60)))
        # By hand: 60 ÷ 20 over 30 ÷ 20 is 2.
        self.assertAlmostEqual(answer.value, 2)
        self.assertEqual(answer.verdict, "wider")
        same = comparison.headroom(side("1", edge(20), edge(30)), side("2", edge(22), edge(33)))
        self.assertEqual(same.verdict, "as wide, for all that can be told")
        self.assertIsNone(comparison.headroom(side("1", edge(20)), side("2", edge(20), edge(60))))


class WashedTests(CoreCase):
    def told(self, washed, planned=(40, 90)):
        return against_protocol(washed, planned, self.house_settings)

    def test_a_wash_within_what_a_hand_keeps_is_the_planned_one(self):
        self.assertEqual(self.told((40, 90)), "")
        self.assertEqual(self.told((34, 110)), "")

    def test_more_washing_reads_late_and_less_reads_early(self):
        # Common practice, no source. The wash belongs to the test: more washing moves the reading.
        self.assertIn("rinsed 3 min and not 90 s: washing more takes half-cured steps away", self.told((40, 180)))
        self.assertIn("soaked 10 s and not 40 s: washing less leaves half-cured steps standing", self.told((10, 90)))

    def test_no_soak_at_all_where_none_was_planned(self):
        self.assertEqual(self.told((0, 90), (0, 90)), "")
        self.assertIn("soaked", self.told((30, 90), (0, 90)))


class OtherWaysTests(CoreCase):
    def test_only_what_the_shop_has_is_offered(self):
        self.assertEqual(alternatives.other_ways((), ()), [])
        result = alternatives.other_ways(("Q-063",), ("Yard",))
        self.assertEqual([w.name for w in result], ["Thermal film", "The sun (Yard)"])
        self.assertEqual(result[0].screens, ("Q-063",))

    def test_every_way_says_what_it_costs(self):
        # Common practice, no source. Thermal mesh is thrown away after the job; the sun wants a meter and a control strip.
        thermal, sun = alternatives.other_ways(("Q-063",), ("Yard",))
        self.assertIn("thrown away", thermal.costs)
        self.assertIn("light meter", sun.costs)
        self.assertIn("control strip", sun.costs)
