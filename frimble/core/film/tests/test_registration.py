"""Separations compared by their marks, against shifts, turns and stretches put in on purpose."""

import numpy as np
from skimage.transform import SimilarityTransform

from frimble.core.conclusions import InvalidInput
from frimble.core.film import registration
from frimble.core.film.findings import limits_for
from frimble.core.film.scan.grid import Scan
from frimble.core.simulation.scanner import ScannerOptics, SimulatedFilm, scan
from frimble.core.testing.case import CoreCase

_PLACES = ((8, 8), (112, 8), (8, 72), (112, 72))


def plate(shift=(0, 0), stretch=1.0, seed=1, places=_PLACES, skew=0.0):
    film = SimulatedFilm(120, 80, 400)
    film.solid(40, 20, 30, 30)
    film.text(40, 65, 6, "+ Tide x 14")
    for x, y in places:
        cx, cy = 60 + (x - 60) * stretch + shift[0], 40 + (y - 40) * stretch + shift[1]
        film.line([(cx - 3, cy), (cx + 3, cy)], 0.3)
        film.line([(cx, cy - 3), (cx, cy + 3)], 0.3)
    codes, _ = scan(film, ScannerOptics(skew_deg=skew), seed)
    return Scan(codes, 400.0)


class RegisterTests(CoreCase):
    def test_two_films_of_one_separation_stacked(self):
        marks = registration.find_marks(plate())
        same = registration.compare(marks, registration.find_marks(plate((0.3, 0.2), seed=3)))
        # A shift is laid out by hand; only what is left counts.
        self.assertEqual(registration.judge_stack(same, 0.25).verdict, "may be stacked")
        grown = registration.compare(marks, registration.find_marks(plate(stretch=1.004, seed=4)))
        answer = registration.judge_stack(grown, 0.25)
        self.assertEqual(answer.verdict, "do not stack")
        # Source: geometry; 0.4 % of the 61 mm from the middle to a corner mark.
        self.assertAlmostEqual(answer.value, 0.004 * np.hypot(52, 32), delta=0.03)
        self.assertIn(f"a gap {0.25 - answer.value:.2f} mm", answer.reason)

    def test_marks_are_found_and_letters_are_not(self):
        result = registration.find_marks(plate())
        self.assertEqual(len(result), 4)
        for mark in result:
            nearest = min(_PLACES, key=lambda p: np.hypot(*(mark - p)))
            np.testing.assert_allclose(mark, nearest, atol=0.03)

    def test_shift_and_stretch_are_measured(self):
        fit = registration.compare(
            registration.find_marks(plate()), registration.find_marks(plate((0.4, -0.25), 1.004, 2))
        )
        self.assertAlmostEqual(fit.shift_mm[0], 0.4, delta=0.03)
        self.assertAlmostEqual(fit.shift_mm[1], -0.25, delta=0.03)
        self.assertAlmostEqual(fit.stretch, 0.004, delta=0.0004)
        self.assertAlmostEqual(fit.turn_deg, 0, delta=0.05)
        # Source: geometry; the outer marks lie 61 mm from the middle, 0.4 % of which is 0.24 mm.
        self.assertAlmostEqual(fit.left_mm, 0.24, delta=0.04)

    def test_the_similarity_agrees_with_a_general_library(self):
        reference = np.array(_PLACES, float)
        turn = np.radians(0.6)
        other = reference @ np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]]) * 1.002 + (0.3, 0.1)
        # Source: scikit-image's SimilarityTransform estimated on the same points.
        theirs = SimilarityTransform.from_estimate(reference, other)
        fit = registration.compare(reference, other)
        self.assertAlmostEqual(fit.stretch, theirs.scale - 1, places=6)
        self.assertAlmostEqual(-fit.turn_deg, np.degrees(theirs.rotation), places=6)

    def test_a_turn_of_the_scan_is_told_with_its_sign(self):
        fit = registration.compare(registration.find_marks(plate()), registration.find_marks(plate(skew=0.8, seed=3)))
        self.assertAlmostEqual(fit.turn_deg, 0.8, delta=0.05)
        self.assertLess(fit.left_mm, 0.05)

    def test_the_verdict_goes_by_the_finest_line(self):
        limits = limits_for(self.house_settings)
        marks = [registration.find_marks(plate()), registration.find_marks(plate((1.0, 0), seed=4))]
        self.assertEqual(registration.judge(registration.compare_all(marks)[0], limits.line_mm).verdict, "fits")
        stretched = registration.find_marks(plate(stretch=1.005, seed=5))
        answer = registration.judge(registration.compare(marks[0], stretched), limits.line_mm)
        self.assertEqual(answer.verdict, "does not fit")
        self.assertIn("larger", answer.reason)

    def test_too_few_marks_are_refused(self):
        one = registration.find_marks(plate(places=_PLACES[:1]))
        with self.assertRaises(InvalidInput) as caught:
            registration.compare(registration.find_marks(plate()), one)
        self.assertIn("1 register mark in common", str(caught.exception))
        with self.assertRaises(InvalidInput):
            registration.compare_all([one])


class WantedMarksTests(CoreCase):
    def test_four_marks_far_apart_are_asked(self):
        # Common practice, no source. Four at least, in the corners: two leave stretch untold, marks close together turn.
        corners = [(10, 10), (290, 10), (10, 190), (290, 190)]
        self.assertEqual(registration.marks_missing(corners, (300, 200)), "")
        self.assertIn("No register mark: print four", registration.marks_missing([], (300, 200)))
        self.assertIn("3 register marks: print four", registration.marks_missing(corners[:3], (300, 200)))
        near = [(10, 10), (40, 10), (10, 190), (40, 190)]
        self.assertIn("span 30 × 180 mm", registration.marks_missing(near, (300, 200)))
