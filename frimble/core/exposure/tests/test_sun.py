"""The sun without a meter: its height by almanac values, and what hour and sky make of a time."""

from datetime import datetime

from frimble.core.conclusions import RuleViolation
from frimble.core.exposure.light.kinds import KINDS
from frimble.core.exposure.light.source import fading
from frimble.core.exposure.light.sun import SunAt, unmetered_factor
from frimble.core.testing.case import CoreCase

_NOON = datetime(2026, 6, 21, 12)


class SunTests(CoreCase):
    def test_the_suns_height_is_the_almanacs(self):
        # Source: astronomy; at noon the sun stands 90° − latitude + 23.4° high at midsummer, − 23.4° at midwinter, and on
        # the equator overhead at the equinoxes, six hours later on the horizon.
        for at, latitude, height in (
            (_NOON, 50, 63.4),
            (datetime(2026, 12, 21, 12), 50, 16.6),
            (datetime(2026, 3, 21, 12), 0, 90),
            (datetime(2026, 3, 21, 18), 0, 0),
            (_NOON, -33, 33.6),
        ):
            with self.subTest(at=at, latitude=latitude):
                self.assertAlmostEqual(SunAt(at, "clear", latitude).height_deg, height, delta=0.6)

    def test_a_lower_sun_and_a_worse_sky_want_longer_and_are_little_sure(self):
        noon, evening = SunAt(_NOON, "clear", 50), SunAt(_NOON.replace(hour=17), "clear", 50)
        later, clouded = unmetered_factor(noon, evening), unmetered_factor(noon, SunAt(_NOON, "overcast", 50))
        self.assertGreater(later.value, 1.2)
        # From memory: overcast takes two thirds to four fifths of the ultraviolet.
        self.assertTrue(2.5 < clouded.value < 5)
        self.assertAlmostEqual(unmetered_factor(noon, noon).value, 1)
        self.assertGreater(later.high / later.low, 2.5)
        self.assertIn("nobody metered", later.why)

    def test_a_sun_near_the_horizon_is_refused(self):
        noon = SunAt(_NOON, "clear", 50)
        with self.assertRaisesRegex(RuleViolation, "cannot be told without a meter"):
            unmetered_factor(noon, SunAt(_NOON.replace(hour=20), "clear", 50))


class LampKindTests(CoreCase):
    def test_an_led_keeps_its_light_far_longer_than_an_arc(self):
        # Common practice, no source. LEDs are rated for tens of thousands of hours, arcs and tubes for one or two thousand.
        left = {kind: fading([], 2000, self.house_settings, kind).value for kind in ("led", "metal_halide", "tubes")}
        self.assertGreater(left["led"], 0.9)
        self.assertLess(left["metal_halide"], 0.8)
        self.assertLess(left["tubes"], 0.8)

    def test_kinds_are_ordered_as_the_trade_knows_them(self):
        # From memory: LEDs and arcs in a minute or so, tubes in some, halogen and household bulbs in many minutes.
        order = ("led", "metal_halide", "tubes", "uv_bulb", "halogen", "bulb")
        times = [KINDS[k].usual_s for k in order]
        self.assertEqual(times, sorted(times))
