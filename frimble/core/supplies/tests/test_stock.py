"""Stock, use and the day to order by."""

import statistics

from frimble.core.supplies.stock import Moved, Movement, outlook, stock, use_a_day
from frimble.core.testing.case import CoreCase


def moved(days_ago, kind, amount):
    return Movement(days_ago, Moved(kind), amount)


class StockTests(CoreCase):
    def test_ins_less_outs_from_the_last_count_on(self):
        # Source: arithmetic: counted 3, then 2 in and 1.5 out.
        movements = [moved(1, "out", 1.5), moved(9, "in", 5), moved(4, "counted", 3), moved(2, "in", 2)]
        self.assertAlmostEqual(stock(movements), 3.5)

    def test_used_before_it_was_bought_is_refused(self):
        movements = [moved(5, "out", 1), moved(2, "in", 5)]
        self.assertInvalidInput("amount", "more would be out", stock, movements)


class UseTests(CoreCase):
    def test_weekly_use_and_its_interval(self):
        # Source: Python's statistics on the same weeks; 1.645 standard errors either side.
        weeks = [2.0, 3.0, 1.0, 2.5]
        movements = [moved(28, "in", 20)]
        for k in range(len(weeks)):
            # Spread evenly over each week: a count at its end.
            movements.append(moved(28 - 7 * (k + 1), "counted", 20 - sum(weeks[: k + 1])))
        found = use_a_day(movements)
        error = statistics.stdev(weeks) / 2
        self.assertAlmostEqual(found.value * 7, statistics.mean(weeks))
        self.assertAlmostEqual(found.low * 7, statistics.mean(weeks) - 1.6449 * error, places=3)
        self.assertAlmostEqual(found.high * 7, statistics.mean(weeks) + 1.6449 * error, places=3)

    def test_taken_out_twice_in_one_moment_is_taken_out_at_once(self):
        # Source: arithmetic: 1 and 2 at one moment are 3.
        twice = [moved(30, "in", 20), moved(5, "out", 1), moved(5, "out", 2)]
        at_once = [moved(30, "in", 20), moved(5.001, "out", 1), moved(5, "out", 2)]
        self.assertAlmostEqual(use_a_day(twice).value, use_a_day(at_once).value, places=3)

    def test_two_weeks_tell_nothing(self):
        self.assertIsNone(use_a_day([moved(20, "in", 5), moved(10, "out", 1)]))
        self.assertIsNone(use_a_day([]))


class OutlookTests(CoreCase):
    def steady(self, there):
        """One litre a week for eight weeks, evenly; so much is left."""
        counts = [moved(56 - 7 * k, "counted", there + 8 - k) for k in range(1, 9)]
        return [moved(56, "in", there + 8), *counts]

    def test_the_day_to_order_is_what_lasts_less_what_the_supplier_takes(self):
        # Source: by hand: 4 l at 1 l a week last 28 days; with 10 days to come, order within 18.
        found = outlook(self.steady(4), "l", 10)
        self.assertAlmostEqual(found.lasts_days.value, 28)
        self.assertEqual(found.order_in_days, 18)
        self.assertIn("Order within 18 days", found.reason)

    def test_planned_screens_come_off_first(self):
        # Source: by hand: 3 of 4 l planned leave 7 days, less than the supplier takes.
        found = outlook(self.steady(4), "l", 10, planned=3)
        self.assertEqual((round(found.lasts_days.value), found.order_in_days), (7, 0))
        short = outlook(self.steady(4), "l", 10, planned=5)
        self.assertIn("The planned screens take 5 l. Order now.", short.reason)

    def test_without_records_it_says_what_it_needs(self):
        found = outlook([moved(3, "in", 5)], "sheets", 5)
        self.assertIsNone(found.order_in_days)
        self.assertIn("3 weeks of records tell", found.reason)
        self.assertEqual(outlook([], "sheets", 5).order_in_days, 0)
        unused = outlook([moved(40, "in", 5), moved(1, "counted", 5)], "l", 5)
        self.assertIn("none is used", unused.reason)
