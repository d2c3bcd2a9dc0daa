"""Hours as people write them."""

from frimble.core.conclusions import InvalidInput
from frimble.core.planning.hours import hours_of_day, hours_of_week
from frimble.core.testing.case import CoreCase

MORNING, AFTERNOON = (420, 720), (750, 960)


class HoursTests(CoreCase):
    """Source: by hand: 7:00 is minute 420 of the day, noon 720, 12:30 750, 16:00 960."""

    def test_a_day_with_its_lunch(self):
        for text in ("7-12, 12:30-16", "7:00–12:00,12:30–16:00", " 07:00 - 12 , 12:30 - 16 "):
            self.assertEqual(hours_of_day(text), (MORNING, AFTERNOON))
        self.assertEqual((hours_of_day("away"), hours_of_day(" "), hours_of_day("0-24")), ((), (), ((0, 1440),)))

    def test_a_week_of_which_days_are_named(self):
        week = hours_of_week("Mon-Thu 7-12, 12:30-16; Fri, sunday 7-12; Saturday away")
        self.assertEqual(week, ((MORNING, AFTERNOON),) * 4 + ((MORNING,), (), (MORNING,)))
        self.assertEqual(hours_of_week("7-12"), ((MORNING,),) * 7)
        self.assertEqual(hours_of_week("Tue 7-12")[:3], ((), (MORNING,), ()))
        self.assertEqual(hours_of_week("7-12; Sun away"), ((MORNING,),) * 6 + ((),))
        self.assertEqual(hours_of_week(""), (None,) * 7)

    def test_what_cannot_be_says_how_it_is_written(self):
        for text, words in (
            ("12-7", "ends before it begins"),
            ("7-12, 11-16", "overlap"),
            ("7-25", "no time of the day"),
            ("7:75-9", "no time of the day"),
            ("early", "cannot be read"),
            ("Mon-Fri", "cannot be read"),
            ("Mon 7-12; Mon 13-16", "Monday is named twice"),
            ("Mon, Mon 7-12", "Monday is named twice"),
            ("7-12; 13-16", "with a comma between them"),
            ("Fri-Mon 7-12", "no run of days"),
            ("Mon-Tue-Wed 7-12", "no run of days"),
            ("Xyz 7-12", "no day of the week"),
            ("T 7-12", "no day of the week"),
            ("Mon 7-12 and more", "cannot be read"),
            ("7-12, ", "cannot be read as hours"),
        ):
            with self.subTest(text), self.assertRaisesRegex(InvalidInput, words):
                hours_of_week(text)
