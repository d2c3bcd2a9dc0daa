"""What became of a stencil, and which recipe does best."""

from frimble.core.press.feedback import Hold
from frimble.core.stencil.outcome import Ending, by_recipe, ending
from frimble.core.testing.case import CoreCase


class EndingTests(CoreCase):
    def test_each_end_by_what_tells_it(self):
        # Common practice, no source.
        for known, wanted in (
            ((False, "", 0, True), Ending.FAILED),
            ((True, Hold.BROKE, 800, True), Ending.BROKE),
            ((True, Hold.PINHOLES, 80, False), Ending.PINHOLES),
            ((True, Hold.HELD, 0, False), Ending.HELD),
            ((None, "", 300, True), Ending.HELD),
            ((True, "", 0, True), Ending.UNPRINTED),
            ((None, "", 0, False), Ending.STANDS),
        ):
            with self.subTest(known=known):
                self.assertIs(ending(*known), wanted)

    def test_recipes_are_ranked_by_the_rule_of_succession(self):
        # Source: Laplace's rule, (s + 1) ÷ (n + 2): 1 of 1 is 0.67, 9 of 10 is 0.83, 0 of 1 is 0.33.
        many = [("many", Ending.HELD, 100)] * 9 + [("many", Ending.BROKE, 40)]
        rows = by_recipe([("once", Ending.HELD, 500), *many, ("never", Ending.FAILED, 0), ("new", Ending.STANDS, 0)])
        self.assertEqual([r.recipe for r in rows], ["many", "once", "never"])
        self.assertEqual((rows[0].number, rows[0].held, rows[0].impressions), (10, 9, 940))
