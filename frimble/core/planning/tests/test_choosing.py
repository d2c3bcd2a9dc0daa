"""Which screen for which colour."""

from dataclasses import replace
from itertools import permutations

from frimble.core.planning.choosing import Candidate, Want, assigned, one_by_one, ranked, suitability
from frimble.core.testing.case import CoreCase

_WANT = Want("J-1 white", "J-1", "43-80", "P1 S1", (300, 400))
_SCREEN = Candidate(
    "Q-1", "43-80", 120, "clean, bare mesh", tension_n_per_cm=25, poor_below=15, image_most_mm=(400, 500), cycles=4
)


class RankingTests(CoreCase):
    def test_each_limit_is_named(self):
        # Common practice, no source: mesh, state, coat, size, tension and marks decide; a held screen is another's.
        for change, words in (
            ({"mesh": "77-48"}, "carries 77-48"),
            ({"minutes": None, "where": "is on press"}, "is on press"),
            ({"formula": "P2 S2"}, "is coated P2 S2"),
            ({"image_most_mm": (299, 500)}, "takes an image of 299 × 500 mm at most"),
            ({"tension_n_per_cm": 12.0}, "is slack: 12.0 N/cm, 15 at least"),
            ({"blemishes": 2}, "has 2 places that print through"),
            ({"held_for": "J-2 black"}, "held for J-2 black"),
        ):
            with self.subTest(words):
                self.assertEqual(suitability(_WANT, replace(_SCREEN, **change), self.house_settings).limits, (words,))
        self.assertTrue(suitability(_WANT, _SCREEN, self.house_settings).fits)

    def test_what_is_coated_and_taut_comes_first_and_the_nearest_misfit_before_the_farther(self):
        # Common practice, no source.
        coated = replace(_SCREEN, code="Q-2", minutes=40, formula="P1 S1")
        slacker = replace(coated, code="Q-3", tension_n_per_cm=24)
        small = replace(_SCREEN, code="Q-4", image_most_mm=(100, 100))
        smaller = replace(small, code="Q-5", blemishes=1)
        order = ranked(_WANT, [smaller, small, slacker, _SCREEN, coated], self.house_settings)
        self.assertEqual([s.candidate.code for s in order], ["Q-2", "Q-3", "Q-1", "Q-4", "Q-5"])


class AssignmentTests(CoreCase):
    def test_the_choice_for_all_is_the_cheapest_of_every_possible_one(self):
        # Source: every permutation tried; the first colour takes what the second alone could use.
        wants = [
            Want(f"J-{k} c", f"J-{k}", "43-80", "P1 S1", size)
            for k, size in enumerate([(100, 100), (380, 480), (200, 200)])
        ]
        screens = [
            replace(_SCREEN, code=f"Q-{k}", minutes=minutes, image_most_mm=size, tension_n_per_cm=tension)
            for k, (minutes, size, tension) in enumerate(
                [(40, (400, 500), 25), (140, (250, 250), 25), (90, (150, 150), 18), (150, (400, 500), 22)]
            )
        ]
        found = assigned(wants, screens, self.house_settings)

        def cost(order):
            suits = [suitability(w, s, self.house_settings) for w, s in zip(wants, order, strict=True)]
            return sum(s.cost_min for s in suits) if all(s.fits for s in suits) else float("inf")

        self.assertAlmostEqual(found.cost_min, min(map(cost, permutations(screens, 3))), delta=0.2)
        self.assertTrue(found.proven)
        self.assertEqual(len(one_by_one(wants, screens, self.house_settings)), 3)
        in_turn = one_by_one(wants, screens, self.house_settings)
        by_code = {s.code: s for s in screens}
        self.assertLessEqual(found.cost_min, cost([by_code[in_turn[w.key]] for w in wants]) + 0.2)

    def test_screens_of_one_job_are_alike_in_tension_where_all_else_is_equal(self):
        # Common practice, no source: screens of one job keep within a small range of tension.
        wants = [Want("a", "J-1", "43-80", "P1 S1"), Want("b", "J-1", "43-80", "P1 S1")]
        screens = [replace(_SCREEN, code=c, tension_n_per_cm=t) for c, t in (("Q-1", 30), ("Q-2", 26), ("Q-3", 26.2))]
        self.assertEqual(set(assigned(wants, screens, self.house_settings).chosen.values()), {"Q-2", "Q-3"})

    def test_ties_are_told_and_who_gets_none_learns_why(self):
        # Source: by hand.
        twins = [replace(_SCREEN, code=code) for code in ("Q-1", "Q-2")]
        found = assigned([_WANT], twins, self.house_settings)
        (code,) = found.chosen.values()
        self.assertEqual(found.ties, {_WANT.key: tuple({"Q-1", "Q-2"} - {code})})
        other = Want("J-2 red", "J-2", "43-80", "P1 S1", (450, 100))
        found = assigned([_WANT, other], twins, self.house_settings)
        self.assertIn("None fits. The nearest is Q-", found.without["J-2 red"])
        self.assertIn("400 × 500 mm at most", found.without["J-2 red"])
        self.assertEqual(assigned([other], [], self.house_settings).without, {"J-2 red": "There is no screen."})
