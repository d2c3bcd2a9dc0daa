"""Marks of a strip ranked into its grade."""

import itertools

from frimble.core.exposure.steptest.guided import FEATURES, StripMarks, rank
from frimble.core.exposure.steptest.reading import GRADES
from frimble.core.testing.case import CoreCase


class RankTests(CoreCase):
    def test_each_sign_gives_the_trades_grade(self):
        # Common practice, no source. Slime, lost lines: too short; filled detail: too long; a lost block: far too short.
        for marks, grade, why in (
            (StripMarks("good", "good", "good"), "good", "clear"),
            (StripMarks("lost", "lost", "lost"), "under", "blocks washed away"),
            (StripMarks("good", "lost", "good"), "short", "lines are lost"),
            (StripMarks("good", "good", "good", slimy=True), "short", "slimy"),
            (StripMarks("good", "good", "good", pale=True), "short", "colour"),
            (StripMarks("good", "good", "weak"), "closing", "begin to close"),
            (StripMarks("good", "good", "filled"), "over", "filled"),
        ):
            with self.subTest(marks):
                self.assertEqual(rank(marks).grade, grade)
                self.assertIn(why, rank(marks).reason)

    def test_lines_that_stand_may_still_be_over_exposed(self):
        # Common practice, no source. Lines that hold say nothing against too much light: the openings do.
        self.assertEqual(rank(StripMarks("good", "good", "filled")).grade, "over")

    def test_too_little_and_too_much_at_once_points_to_the_film(self):
        result = rank(StripMarks("good", "weak", "filled"))
        self.assertEqual(result.grade, "short")
        self.assertIn("film's density", result.reason)

    def test_every_combination_has_a_grade_and_worse_marks_never_a_better_one(self):
        for blocks, lines, openings in itertools.product(*(known for _, known in FEATURES.values())):
            for slimy, pale in itertools.product((False, True), repeat=2):
                result = rank(StripMarks(blocks, lines, openings, slimy, pale))
                self.assertIn(result.grade, GRADES)
                if slimy or pale or lines != "good" or blocks != "good":
                    self.assertIn(result.grade, ("under", "short"))

    def test_an_unknown_mark_names_what_is_known(self):
        self.assertInvalidInput("lines", "good, weak, lost", rank, StripMarks("good", "filled", "good"))
