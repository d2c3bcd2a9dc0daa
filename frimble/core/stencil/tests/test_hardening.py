"""Whether a stencil is hardened for its run."""

import unittest

from frimble.core.settings import HouseSettings
from frimble.core.stencil.hardening import StencilForRun, advise
from frimble.core.verdicts import HardenVerdict

SETTINGS = HouseSettings()


class AdviceTests(unittest.TestCase):
    """Common practice, no source: water-based inks and long runs ask for it, as long again in the light."""

    def verdict(self, **stencil):
        return advise(StencilForRun(**stencil), SETTINGS).verdict

    def test_water_and_long_runs_ask_for_it(self):
        self.assertEqual(self.verdict(ink="water", resists=("water",)), HardenVerdict.OFFERED)
        long = SETTINGS["press.long_run"]
        self.assertEqual(
            self.verdict(ink="solvent", resists=("solvent",), impressions=int(long)), HardenVerdict.OFFERED
        )
        self.assertEqual(self.verdict(ink="solvent", resists=("solvent",), impressions=50), HardenVerdict.NOT_NEEDED)

    def test_nothing_known_is_asked_and_done_is_done(self):
        self.assertEqual(self.verdict(), HardenVerdict.NOT_KNOWN)
        self.assertEqual(self.verdict(ink="water", hardened="light"), HardenVerdict.DONE)

    def test_an_emulsion_that_does_not_stand_the_ink_is_said_so(self):
        self.assertIn("another emulsion", advise(StencilForRun(ink="water", resists=("solvent",)), SETTINGS).reason)

    def test_the_light_is_as_long_again(self):
        self.assertIn(
            "As long again in the light: 40 s", advise(StencilForRun(ink="water", given_s=40.0), SETTINGS).light
        )
        self.assertEqual(advise(StencilForRun(ink="water"), SETTINGS).light, "")
