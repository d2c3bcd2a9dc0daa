"""What the press says: cure against the trade's figures, and what follows for the screen room."""

import unittest

from frimble.core.conclusions import InvalidInput
from frimble.core.press.cure import judge_cure
from frimble.core.press.feedback import Fit, Hold, InkFault, Opacity, Print, ScreenPrinted, Sharpness, advice
from frimble.core.settings import HouseSettings
from frimble.core.verdicts import CureVerdict

SETTINGS = HouseSettings()


class CureTests(unittest.TestCase):
    def verdict(self, temperature_c, seconds, ink="plastisol", blend=False):
        return judge_cure(ink, temperature_c, seconds, blend, SETTINGS)

    def test_plastisol_by_its_surface(self):
        # Common practice, no source: 320 to 330 °F at the surface, held about 5 to 12 s.
        fahrenheit = lambda f: (f - 32) / 1.8  # noqa: E731
        for degrees in (320, 325, 330):
            self.assertEqual(self.verdict(fahrenheit(degrees), 8).verdict, CureVerdict.CURED)
        self.assertEqual(self.verdict(fahrenheit(290), 8).verdict, CureVerdict.UNDER)
        self.assertEqual(self.verdict(fahrenheit(360), 8).verdict, CureVerdict.HOT)
        self.assertEqual(self.verdict(163, 2).verdict, CureVerdict.UNDER)

    def test_at_the_edge_a_reading_is_given_what_readings_differ_by(self):
        self.assertEqual(self.verdict(158, 8).verdict, CureVerdict.CURED)
        self.assertEqual(self.verdict(156, 8).verdict, CureVerdict.UNDER)

    def test_untimed_and_other_inks_are_not_known(self):
        untimed = self.verdict(163, None)
        self.assertEqual(untimed.verdict, CureVerdict.NOT_KNOWN)
        self.assertIn("stretch test", untimed.next_best_measurement)
        self.assertTrue(self.verdict(150, 60, ink="water").refused)
        self.assertIn("Say which ink", self.verdict(150, 60, ink="").reason)

    def test_dye_moves_on_blends(self):
        # Common practice, no source.
        self.assertIn("dye moves into light ink", self.verdict(163, 8, blend=True).reason)
        self.assertNotIn("dye", self.verdict(163, 8).reason)

    def test_fahrenheit_is_asked(self):
        with self.assertRaisesMessage("If it is °F, type 160 °C."):
            self.verdict(320, 8)
        with self.assertRaisesMessage("must be between 40 and 230"):
            self.verdict(12, 8)

    def assertRaisesMessage(self, words):
        return self.assertRaisesRegex(InvalidInput, words.replace("(", r"\("))


class AdviceTests(unittest.TestCase):
    """Common practice, no source: ink first, then tension, then the coat."""

    def words(self, screen=None, **seen):
        return [a.words for a in advice(Print(**seen), screen or ScreenPrinted(tension=24.0), SETTINGS)]

    def test_a_good_print_asks_for_nothing(self):
        good = {"opacity": Opacity.OPAQUE, "sharpness": Sharpness.SHARP, "fit": Fit.FITS, "hold": Hold.HELD}
        self.assertEqual(self.words(**good), [])
        self.assertEqual(self.words(), [])

    def test_a_fault_of_the_ink_comes_before_the_screen(self):
        said = self.words(ink_fault=InkFault.WATERY, sharpness=Sharpness.SOFT)
        self.assertIn("Ink first: watery", said[0])
        self.assertEqual(len(said), 2)

    def test_tension_is_blamed_when_it_is_slack_or_moved_and_not_else(self):
        slack = self.words(ScreenPrinted(tension=16.0), fit=Fit.OFF)
        self.assertIn("slack, 16.0 N/cm", slack[0])
        moved = self.words(ScreenPrinted(tension=23.0, tension_before=26.0), fit=Fit.LITTLE)
        self.assertIn("fell by 3.0 to 23.0 N/cm", moved[0])
        self.assertIn("its tension is not it", self.words(fit=Fit.OFF)[0])
        self.assertIn("nobody measured this mesh", self.words(ScreenPrinted(), sharpness=Sharpness.SOFT)[0])

    def test_cover_is_tension_then_thickness_then_mesh(self):
        thin = {"opacity": Opacity.THIN}
        self.assertIn("sinks in", self.words(ScreenPrinted(tension=15.0, eom_um=30.0), **thin)[0])
        self.assertIn("Measure the next", self.words(**thin)[0])
        lean = ScreenPrinted(tension=24.0, eom_um=12.0, eom_aim_um=25.0)
        self.assertIn("12 µm where such coats have 25", self.words(lean, **thin)[0])
        full = ScreenPrinted(tension=24.0, eom_um=26.0, eom_aim_um=25.0)
        self.assertIn("coarser mesh next time", self.words(full, **thin)[0])

    def test_what_broke_leads_to_its_causes(self):
        found = advice(Print(hold=Hold.BROKE, sharpness=Sharpness.LOST), ScreenPrinted(tension=24.0), SETTINGS)
        self.assertEqual([a.looks_into for a in found], [("fine_lines_of_stencil_lost",), ("breaks_down_on_press",)])
