import math
import random

from frimble.core.exposure.steptest.reading import StepGrade, read_grades
from frimble.core.simulation.stencil import SimulatedCoat, read_test
from frimble.core.testing.case import CoreCase

EIGHT = (6, 8, 10.5, 14, 18.7, 25, 33, 44)
LETTERS = {"u": "under", "s": "short", "g": "good", "c": "closing", "o": "over"}


class ReadingTests(CoreCase):
    def read(self, letters, times=EIGHT, school="middle", openings=None, wanted=150, lines=None):
        openings = openings or [None] * len(times)
        lines = lines or [None] * len(times)
        steps = [
            StepGrade(len(times) - i, t, LETTERS[g], opening, line)
            for i, (t, g, opening, line) in enumerate(zip(times, letters, openings, lines, strict=True))
        ]
        return read_grades(steps, school, wanted, self.house_settings)

    def test_the_middle_of_two_good_steps_is_their_geometric_middle(self):
        # Common practice, no source. Between two good steps take the geometric middle: √(10.5 × 14) = 12.1 s.
        result = self.read("usggccoo")
        self.assertEqual(result.outcome, "window")
        self.assertAlmostEqual(result.recommended.value, 12.124, places=3)
        self.assertIn("10.5 s (strip 6) and 14 s (strip 5) are good", result.recommended.reason)

    def test_the_three_schools_take_the_ends_and_the_middle(self):
        # Common practice, no source. Cure first: the longest that keeps the detail; detail first: the shortest that holds.
        for school, value in (("middle", 12.124), ("cure", 14), ("detail", 10.5)):
            with self.subTest(school):
                result = self.read("usggccoo", school=school)
                self.assertAlmostEqual(result.recommended.value, value, places=3)
                self.assertAlmostEqual(result.by_school[school], value, places=3)

    def test_each_end_of_the_window_lies_between_two_steps(self):
        result = self.read("usggccoo")
        # Source: by hand; an end known only to lie between two steps is put at their geometric middle.
        self.assertAlmostEqual(result.window.cured.value, math.sqrt(8 * 10.5))
        self.assertEqual((result.window.cured.low, result.window.cured.high), (8, 10.5))
        self.assertAlmostEqual(result.window.closes.value, math.sqrt(14 * 18.7))

    def test_latitude_and_how_well_it_is_known_are_two_things(self):
        # Source: by hand; full cure between 10 and 20 s, closing between 40 and 80 s: from 14.1 to 56.6 s are two stops, a
        # time in their middle forgives half of it, a factor of two; each end is known to √(20 ÷ 10), ±41 %.
        result = self.read("usggco", times=(5, 10, 20, 40, 80, 160))
        self.assertAlmostEqual(result.window.latitude_stops, 2)
        self.assertAlmostEqual(result.window.forgives, 1)
        self.assertAlmostEqual(result.coarseness, math.sqrt(2) - 1)
        self.assertIn("Each end of the window is known to ±41 %", result.next_test)
        self.assertIn("finer steps", result.next_test)
        unknown = self.read("uussssgg").window
        self.assertEqual((unknown.latitude_stops, unknown.forgives, unknown.known_within), (None, None, None))

    def test_all_under_starts_again_at_double(self):
        # Common practice, no source. Every step under: start again at double; all over: at half.
        result = self.read("uuuuusss")
        self.assertEqual((result.outcome, result.usable, result.next_guess_s), ("all under", False, 88))
        self.assertIn("double", result.recommended.reason)

    def test_all_over_starts_again_at_half_and_asks_for_the_film(self):
        result = self.read("oooooooo")
        self.assertEqual((result.outcome, result.usable, result.next_guess_s), ("all over", False, 3))
        self.assertIn("check the film's density first", result.recommended.reason)

    def test_a_best_step_at_an_end_is_not_bracketed(self):
        # Common practice, no source. The right time is not bracketed when the best step is the first or last.
        for letters, guess, words in (
            ("uussssgg", 44, "still good"),
            ("ggccoooo", 6, "already good"),
            ("gggggggg", math.sqrt(6 * 44), "Widen both ways"),
        ):
            with self.subTest(letters):
                result = self.read(letters)
                self.assertEqual(result.outcome, "not bracketed")
                self.assertAlmostEqual(result.next_guess_s, guess)
                self.assertIn(words, result.next_test)

    def test_contradictory_grades_name_the_two_steps_and_give_no_time(self):
        result = self.read("usgsgcoo")
        self.assertEqual((result.outcome, result.usable), ("contradictory", False))
        self.assertIn(
            "Strip 6 (10.5 s) is good but Strip 5 (14 s), with more light, is short", result.contradictions[0]
        )

    def test_one_loupe_value_that_cannot_be_is_left_out_and_said(self):
        # Source: by hand; 40 µm clear at 18.7 s after 125 at 14 s cannot be, all others agree.
        result = self.read("usggccoo", openings=[None, None, 100, 125, 40, 250, 300, 400])
        self.assertAlmostEqual(result.recommended.value, 12.124, places=3)
        self.assertEqual(len(result.left_out), 1)
        self.assertIn("Strip 4 (18.7 s): 40 µm clear was not counted, since more light never opens", result.left_out[0])

    def test_of_two_that_exclude_each_other_neither_is_counted(self):
        result = self.read("usggccoo", openings=[None, None, 150, 100, 200, 250, 300, 400])
        self.assertEqual([words[:7] for words in result.left_out], ["Strip 6", "Strip 5"])

    def test_a_mark_that_turns_one_step_against_both_neighbours_is_left_out(self):
        steps = [
            StepGrade(8 - k, t, LETTERS[g], slimy=t == 14)
            for k, (t, g) in enumerate(zip(EIGHT, "usgggcoo", strict=True))
        ]
        result = read_grades(steps, "middle", 150, self.house_settings)
        self.assertEqual(result.outcome, "window")
        self.assertIn("both its neighbours say otherwise", result.left_out[0])

    def test_a_good_step_that_lost_the_wanted_detail_counts_as_closing(self):
        openings = [None, None, 125, 200, 250, 300, 400, 400]
        result = self.read("usggccoo", openings=openings, wanted=150)
        self.assertAlmostEqual(result.recommended.value, 10.5)
        coarse = self.read("usggccoo", openings=openings, wanted=200)
        self.assertAlmostEqual(coarse.recommended.value, 12.124, places=3)

    def test_a_good_step_whose_thin_lines_fell_off_counts_as_short(self):
        # Common practice, no source. Too short an exposure: lines fall off at washout.
        lines = [None, None, 250, 100, 85, 85, 85, 85]
        result = self.read("usggccoo", lines=lines)
        self.assertAlmostEqual(result.recommended.value, 14)
        self.assertIn("Strip 5 (14 s) holds a line of 100 µm.", result.recommended.reason)

    def test_a_line_lost_with_more_light_is_left_out(self):
        result = self.read("usggccoo", lines=[None, None, 85, 150, 85, 85, 85, 85])
        self.assertEqual(result.outcome, "window")
        self.assertIn("150 µm standing was not counted, since more light never loses a line", " ".join(result.left_out))

    def test_a_closed_window_gives_no_time_and_says_what_would_open_it(self):
        # Common practice, no source. Detail gone before cure: no time is right; finer mesh, thinner coat, denser film.
        result = self.read("uusscooo", times=EIGHT)
        self.assertEqual((result.outcome, result.usable), ("no good step", False))
        for remedy in ("finer or yellow mesh", "thinner coat", "denser film"):
            self.assertIn(remedy, result.recommended.reason)
        self.assertAlmostEqual(result.next_guess_s, math.sqrt(14 * 18.7))

    def test_too_few_steps_equal_times_and_unknown_grades_are_refused(self):
        self.assertInvalidInput("grades", "Three steps", self.read, "sg", times=(5, 10))
        self.assertInvalidInput("strip 1", "same time", self.read, "sgc", times=(5, 10, 10))
        self.assertInvalidInput("strip 3", "more than 0", self.read, "sgc", times=(0, 10, 20))
        self.assertInvalidInput("school", "middle", self.read, "sgc", times=(5, 10, 20), school="guess")
        self.assertInvalidInput(
            "strip 1", "must be between 1 and 5000", self.read, "sgc", times=(5, 10, 20), openings=[None, None, 9e9]
        )

    def test_recommended_times_fall_in_the_true_window_of_simulated_coats(self):
        """Coats whose constants the reading does not know, graded step by step by the simulator."""
        rng = random.Random(7)
        # Source: Jacobs, Rapid Prototyping & Manufacturing (1992): cure is logarithmic in dose; the simulator's law.
        inside = tried = 0
        for _ in range(200):
            coat = SimulatedCoat(
                gel_s=rng.uniform(1.5, 20), cure_ratio=rng.uniform(4, 6), latitude=rng.uniform(1.5, 2.2)
            )
            guess = coat.full_cure_s * rng.uniform(0.7, 1.8)
            times = [guess * 2 ** ((3.5 - k) / 2) for k in range(8)]
            result = read_grades(read_test(coat, times), "middle", coat.detail_um, self.house_settings)
            if result.outcome == "window":
                tried += 1
                inside += coat.full_cure_s <= result.recommended.value <= coat.full_cure_s * coat.latitude
        self.assertGreater(tried, 150)
        self.assertEqual(inside, tried)
