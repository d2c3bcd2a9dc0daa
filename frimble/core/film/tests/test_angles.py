"""The angle sets offered for separations."""

import itertools

from frimble.core.film.angles import SETS
from frimble.core.testing.case import CoreCase


def apart(one: float, other: float) -> float:
    """Degrees between two square screens: they repeat each quarter turn."""
    turn = abs(one - other) % 90
    return min(turn, 90 - turn)


class AngleSetTests(CoreCase):
    def test_every_set_has_an_angle_for_four_plates_and_its_reason(self):
        for of in SETS:
            with self.subTest(of.name):
                self.assertEqual(len(of.angles), 4)
                self.assertTrue(all(0 <= a <= 90 for a in of.angles))
                self.assertTrue(of.reason.endswith("."))

    def test_the_three_strong_colours_lie_thirty_degrees_apart(self):
        # Source: geometry of square screens; three fit 30° apart into a quarter turn, the fourth lies 15° from two.
        four = next(of for of in SETS if of.name == "four-colour")
        cyan, magenta, yellow, black = four.angles
        for one, other in itertools.combinations((cyan, magenta, black), 2):
            self.assertEqual(apart(one, other), 30)
        self.assertEqual(sorted(apart(yellow, a) for a in (cyan, magenta, black)), [15, 15, 45])

    def test_the_set_off_the_threads_keeps_clear_of_both_thread_directions(self):
        # Common practice, no source: within 5° of the threads or of their diagonal a screen beats with the mesh.
        off = next(of for of in SETS if of.name == "four-colour, off the threads")
        for angle in off.angles:
            self.assertGreater(apart(angle, 0), 5)
            self.assertGreater(apart(angle, 45), 5)
        self.assertEqual(len({round(a % 90, 6) for a in off.angles}), 4)

    def test_plates_of_simulated_process_are_all_alike(self):
        for of in SETS:
            if of.name.startswith("simulated process"):
                self.assertEqual(len(set(of.angles)), 1)
