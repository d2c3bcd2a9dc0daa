import statistics

from frimble.core.instruments.tension_gauge import read_screen
from frimble.core.tension import measurement as tension_measurement
from frimble.core.testing.case import CoreCase


class TensionTests(CoreCase):
    def summary(self, warp, weft):
        readings = [
            tension_measurement.TensionReading(place, direction, value)
            for direction, values in (("warp", warp), ("weft", weft))
            for place, value in zip(tension_measurement.FIVE_PLACES, values, strict=True)
        ]
        return tension_measurement.summarise(readings, self.house_settings)

    def test_statistics_are_those_of_the_library(self):
        warp, weft = (24.0, 25.5, 24.5, 25.0, 24.0), (23.0, 23.5, 24.0, 22.5, 23.0)
        result = self.summary(warp, weft)
        # Source: Python's statistics module on the same numbers.
        self.assertAlmostEqual(result.mean, statistics.fmean(warp + weft))
        self.assertAlmostEqual(result.warp_weft_difference, statistics.fmean(warp) - statistics.fmean(weft))
        self.assertAlmostEqual(result.range, 3.0)

    def test_bands_of_the_trade(self):
        # Common practice, no source. Below 20 poor for opaque work, 20 will do, 22–24 good, 25–28 best.
        for level, verdict in (
            (19.9, "poor"),
            (20, "will do"),
            (22, "good"),
            (24, "good"),
            (25, "best"),
            (28, "best"),
            (31, "high"),
        ):
            with self.subTest(level):
                self.assertEqual(self.summary([level] * 5, [level] * 5).verdict.verdict, verdict)

    def test_the_reason_names_the_mean_and_the_band(self):
        reason = self.summary([18] * 5, [18] * 5).verdict.reason
        self.assertIn("18.0 N/cm", reason)
        self.assertIn("sinks into the goods", reason)

    def test_240_is_asked_as_24(self):
        self.assertInvalidInput(
            "x", "Was 24.0 meant?", tension_measurement.check_reading, 240, self.house_settings, "x"
        )
        self.assertInvalidInput("x", "more than 0", tension_measurement.check_reading, 0, self.house_settings, "x")
        self.assertInvalidInput("x", "more than 0", tension_measurement.check_reading, -3, self.house_settings, "x")

    def test_one_direction_alone_is_refused(self):
        readings = [tension_measurement.TensionReading("centre", "warp", 24)]
        self.assertInvalidInput(
            "weft", "Measure weft too", tension_measurement.summarise, readings, self.house_settings
        )

    def test_one_slack_corner_leads_whatever_the_mean(self):
        # Common practice, no source. A corner at half the tension prints out of register; its mean of 22 says "good".
        found = self.summary([24, 25, 24, 25, 12], [24, 25, 24, 25, 12])
        self.assertEqual(found.verdict.verdict, "slack in one place")
        self.assertTrue(found.verdict.verdict.due)
        self.assertIn("Lower left stands at 12.0", found.verdict.reason)
        self.assertIn("Mean 22.0", found.verdict.reason)
        self.assertEqual(self.summary([24, 25, 24, 25, 21], [24, 25, 24, 25, 21]).verdict.verdict, "good")

    def test_a_gap_between_warp_and_weft_leads_too(self):
        found = self.summary([27] * 5, [22] * 5)
        self.assertEqual(found.verdict.verdict, "uneven")
        self.assertIn("differ by 5.0", found.verdict.reason)
        self.assertIn("a second shows a slip", " ".join(found.remarks))

    def test_a_mesh_slack_all_over_is_that_first(self):
        found = self.summary([16, 16, 16, 16, 9], [16, 16, 16, 16, 9])
        self.assertEqual(found.verdict.verdict, "poor")
        self.assertIn("Lower left stands at 9.0", found.remarks[0])

    def test_one_place_is_enough_and_said_as_less_sure(self):
        readings = [tension_measurement.TensionReading("centre", d, 24) for d in tension_measurement.DIRECTIONS]
        found = tension_measurement.summarise(readings, self.house_settings)
        self.assertEqual(found.verdict.verdict, "good")
        self.assertIn("1 of 5 places, so less sure", found.remarks[0])

    def test_screens_of_one_job_match_within_two(self):
        # From memory: screens of one job within ±2 N/cm.
        match = tension_measurement.match_within_job
        self.assertEqual(match({"a": 24, "b": 21, "c": 23}, self.house_settings).verdict, "match")
        result = match({"a": 26, "b": 21}, self.house_settings)
        self.assertEqual(result.verdict, "do not match")
        self.assertIn("b at 21.0 and a at 26.0", result.reason)

    def test_the_simulated_gauge_reads_about_the_truth_and_the_same_twice(self):
        readings = read_screen(24, seed=5)
        self.assertEqual(readings, read_screen(24, seed=5))
        self.assertAlmostEqual(tension_measurement.summarise(readings, self.house_settings).mean, 24, delta=1)
