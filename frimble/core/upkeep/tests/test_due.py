"""When something is due again."""

from datetime import date

from frimble.core.testing.case import CoreCase
from frimble.core.upkeep.due import DueState, due

_TODAY = date(2026, 3, 1)


class DueTests(CoreCase):
    def test_days_are_counted_over_the_end_of_a_month_and_a_leap_year(self):
        # Source: the calendar: 31 days from 30 January 2026 are 2 March; from 30 January 2028, a leap year, 1 March.
        self.assertEqual(due(date(2026, 1, 30), 31, _TODAY, 14).on, date(2026, 3, 2))
        self.assertEqual(due(date(2028, 1, 30), 31, date(2028, 3, 1), 14).on, date(2028, 3, 1))

    def test_late_today_soon_and_later(self):
        # Source: by hand.
        for last, state, words in (
            (date(2026, 2, 1), DueState.LATE, "14 days late."),
            (date(2026, 2, 15), DueState.SOON, "Due today."),
            (date(2026, 2, 16), DueState.SOON, "In 1 day."),
            (None, DueState.NEVER_DONE, "Nobody has recorded it yet."),
        ):
            with self.subTest(last):
                found = due(last, 14, _TODAY, 7)
                self.assertEqual((found.state, found.words), (state, words))
        self.assertEqual(due(date(2026, 2, 28), 14, _TODAY, 7).state, DueState.LATER)

    def test_never_or_every_moment_is_refused(self):
        for days in (0, 4000):
            self.assertInvalidInput("every_days", "Every so many days", due, None, days, _TODAY, 7)
