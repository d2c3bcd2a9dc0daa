"""Which screen for which colour."""

import random
from dataclasses import replace
from itertools import permutations

import numpy as np
from scipy.optimize import linear_sum_assignment

from frimble.core.mesh.blemishes import Blemish
from frimble.core.planning.choosing.assignment import assigned, fitting_for
from frimble.core.planning.choosing.beginning import one_by_one
from frimble.core.planning.choosing.suitability import Candidate, Candidates, Want, ganged_mm, suitability
from frimble.core.testing.case import CoreCase

_WANT = Want("J-1 white", "J-1", "43-80", "P1 S1", ((300, 400),))
_SCREEN = Candidate(
    "Q-1", "43-80", 120, "clean, bare mesh", tension_n_per_cm=25, poor_below=15, image_most_mm=(400, 500), cycles=4
)
_HOLE, _HAZE = Blemish("hole", 100, 100, 10, 10), Blemish("haze", 300, 400, 10, 10)


class RankingTests(CoreCase):
    def test_each_limit_is_named(self):
        # Common practice, no source: mesh, state, coat, size, tension and marks decide; a held screen is another's.
        for change, words in (
            ({"mesh": "77-48"}, "carries 77-48"),
            ({"minutes": None, "where": "is on press"}, "is on press"),
            ({"formula": "P2 S2"}, "is coated P2 S2"),
            ({"image_most_mm": (299, 500)}, "takes an image of 299 × 500 mm at most"),
            ({"tension_n_per_cm": 12.0}, "is slack: 12.0 N/cm, 15 at least"),
            ({"marks": (_HOLE, _HOLE, _HAZE)}, "has 2 places that print through"),
            ({"held_for": "J-2 black"}, "held for J-2 black"),
        ):
            with self.subTest(words):
                self.assertEqual(suitability(_WANT, replace(_SCREEN, **change), self.house_settings).limits, (words,))
        self.assertTrue(suitability(_WANT, _SCREEN, self.house_settings).fits)

    def test_only_marks_under_the_image_count_once_its_place_is_known(self):
        # Source: by hand: on 580 × 790 mm an image of 300 × 400 in the middle lies from 140, 195 on; 30 mm left from 110.
        marked = replace(_SCREEN, marks=(_HOLE, Blemish("ghost", 120, 300, 15, 10)), frame_mm=(580, 790))
        limits = {
            centre: suitability(replace(_WANT, centre_mm=centre), marked, self.house_settings).limits
            for centre in (None, (0, 0), (-30, 0))
        }
        self.assertEqual(limits[None], ("has 2 places that print through",))
        self.assertEqual(limits[0, 0], ())
        self.assertEqual(limits[-30, 0], ("has a place that prints through under the image",))

    def test_the_very_stencil_that_is_wanted_needs_no_way_and_no_coat(self):
        # Common practice, no source: a kept stencil is inspected and printed again.
        kept = replace(
            _SCREEN, minutes=None, where="ink out, to be reclaimed first", formula="P2", stencil_of="7", stencil_min=3
        )
        found = suitability(replace(_WANT, film="7"), kept, self.house_settings)
        self.assertTrue(found.fits)
        self.assertIn("carries the stencil of its film, 3 min to press", found.reasons)
        self.assertFalse(suitability(replace(_WANT, film="8"), kept, self.house_settings).fits)

    def test_images_go_beside_or_under_each_other(self):
        # Source: by hand, 30 mm between: 200 + 30 + 150 beside, 100 + 30 + 300 under each other.
        sizes = [(200, 100), (150, 300)]
        self.assertEqual(ganged_mm(sizes, (380, 300), 30), (380, 300))
        self.assertEqual(ganged_mm(sizes, (379, 430), 30), (200, 430))
        self.assertIsNone(ganged_mm(sizes, (379, 429), 30))
        self.assertEqual(ganged_mm([(200, 100)], (200, 100), 30), (200, 100))

    def test_what_is_coated_and_taut_comes_first_and_the_nearest_misfit_before_the_farther(self):
        # Common practice, no source.
        coated = replace(_SCREEN, code="Q-2", minutes=40, formula="P1 S1")
        slacker = replace(coated, code="Q-3", tension_n_per_cm=24)
        small = replace(_SCREEN, code="Q-4", image_most_mm=(100, 100))
        smaller = replace(small, code="Q-5", marks=(_HOLE,))
        there = Candidates([smaller, small, slacker, _SCREEN, coated], self.house_settings)
        self.assertEqual([s.candidate.code for s in there.fitting(_WANT)], ["Q-2", "Q-3", "Q-1"])
        self.assertEqual([s.candidate.code for s in there.others(_WANT)], ["Q-4", "Q-5"])


class AssignmentTests(CoreCase):
    def test_the_choice_for_all_is_the_cheapest_of_every_possible_one(self):
        # Source: every permutation tried; the first colour takes what the second alone could use.
        wants = [
            Want(f"J-{k} c", f"J-{k}", "43-80", "P1 S1", (size,))
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
        self.assertEqual(found.saves_at_most_min, 0)
        in_turn = one_by_one(wants, fitting_for(wants, Candidates(screens, self.house_settings)))
        self.assertEqual(len(in_turn), 3)
        by_code = {s.code: s for s in screens}
        self.assertLessEqual(found.cost_min, cost([by_code[in_turn[w.key]] for w in wants]) + 0.2)

    def test_many_like_colours_find_each_a_screen_and_no_exchange_costs_less(self):
        # Source: scipy's linear_sum_assignment, which knows no tensions within a job: here each job has one colour.
        rng = random.Random(7)
        wants = [Want(f"J-{k}", f"J-{k}", "43-80", "P1 S1", ((rng.choice((200, 350)), 300),)) for k in range(45)]
        screens = [
            replace(
                _SCREEN,
                code=f"Q-{k:03d}",
                minutes=rng.choice((40, 90, 139)),
                tension_n_per_cm=rng.choice((18.0, 22.5, 24.9)),
                image_most_mm=rng.choice(((250, 400), (400, 500))),
                cycles=rng.randrange(4),
            )
            for k in range(150)
        ]
        found = assigned(wants, screens, self.house_settings)
        suits = [[suitability(want, screen, self.house_settings) for screen in screens] for want in wants]
        costs = np.array([[s.cost_min if s.fits else 1e6 for s in row] for row in suits])
        least = costs[linear_sum_assignment(costs)].sum()
        self.assertEqual(len(set(found.chosen.values())), 45)
        self.assertAlmostEqual(found.cost_min, least, places=3)
        self.assertEqual(found.saves_at_most_min, 0)

    def test_no_screen_is_given_twice_whose_stencil_one_colour_wants_and_whose_mesh_another(self):
        # Source: by hand: both have the stencil of film 7; two colours want it, the third a screen of the mesh.
        kept = replace(_SCREEN, stencil_of="7", stencil_min=3)
        screens = [replace(kept, code="Q-1", minutes=100), replace(kept, code="Q-2", minutes=50)]
        screens.append(replace(_SCREEN, code="Q-3", minutes=139))
        wants = [Want(f"J-{film} {k}", f"J-{k}", "43-80", "P1 S1", film=film) for k, film in enumerate("778")]
        found = assigned(wants, screens, self.house_settings)
        self.assertEqual(found.chosen, {"J-7 0": "Q-1", "J-7 1": "Q-2", "J-8 2": "Q-3"})

    def test_without_time_to_search_what_might_be_saved_is_told(self):
        # Source: by hand: all four screens are taken; the job of two gets the nearest in tension, 1 N/cm apart.
        wants = [Want(key, key[0], "43-80", "P1 S1") for key in ("a red", "b gold", "c white", "c black")]
        screens = [replace(_SCREEN, code=f"Q-{k}", tension_n_per_cm=t) for k, t in enumerate((24.9, 22.9, 21.9, 19.9))]
        found = assigned(wants, screens, self.house_settings, seconds=0)
        self.assertEqual({found.chosen["c white"], found.chosen["c black"]}, {"Q-1", "Q-2"})
        self.assertAlmostEqual(found.saves_at_most_min, 10)

    def test_in_a_large_room_it_is_never_worse_than_each_in_its_turn(self):
        # Source: the cost summed by hand; scipy's linear_sum_assignment is below it, since it knows no tensions in a job.
        rng = random.Random(3)
        wants = [Want(str(k), f"J-{k // 3}", "43-80", "P1 S1") for k in range(60)]
        screens = [
            replace(_SCREEN, code=f"Q-{k:03d}", minutes=100 + k % 37, tension_n_per_cm=rng.randrange(180, 260) / 10)
            for k in range(500)
        ]
        each = {s.code: suitability(wants[0], s, self.house_settings) for s in screens}

        def cost(chosen):
            jobs = [[each[chosen[str(k + n)]].candidate.tension_n_per_cm for n in range(3)] for k in range(0, 60, 3)]
            return sum(each[code].cost_min for code in chosen.values()) + sum(10 * (max(t) - min(t)) for t in jobs)

        in_turn = one_by_one(wants, fitting_for(wants, Candidates(screens, self.house_settings)))
        for seconds in (0, 1):
            found = assigned(wants, screens, self.house_settings, seconds)
            with self.subTest(seconds):
                self.assertEqual(len(set(found.chosen.values())), 60)
                self.assertAlmostEqual(found.cost_min, cost(found.chosen), places=3)
                self.assertLess(found.cost_min, cost(in_turn))
                least = sum(sorted(one.cost_min for one in each.values())[:60])
                self.assertGreaterEqual(found.cost_min - found.saves_at_most_min, least - 1e-6)

    def test_what_a_best_choice_cannot_need_is_left_out_and_nothing_else(self):
        # Source: every choice of two of five screens tried.
        wants = [Want(key, "J-1", "43-80", "P1 S1") for key in "ab"]
        for seed in range(30):
            rng = random.Random(seed)
            tensions = [rng.choice((None, 20.0, 22.0, 24.0, 26.0)) for _ in range(5)]
            screens = [
                replace(_SCREEN, code=f"Q-{k}", minutes=rng.randrange(100, 160, 10), tension_n_per_cm=tension)
                for k, tension in enumerate(tensions)
            ]
            found = assigned(wants, screens, self.house_settings)

            def cost(pair):
                both = [suitability(wants[0], screen, self.house_settings).cost_min for screen in pair]
                taut = [s.tension_n_per_cm for s in pair if s.tension_n_per_cm is not None]
                return sum(both) + 10 * (max(taut) - min(taut) if taut else 0)

            with self.subTest(seed):
                self.assertAlmostEqual(found.cost_min, min(map(cost, permutations(screens, 2))), places=3)

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
        other = Want("J-2 red", "J-2", "43-80", "P1 S1", ((450, 100),))
        found = assigned([_WANT, other], twins, self.house_settings)
        self.assertIn("None fits. The nearest is Q-", found.without["J-2 red"])
        self.assertIn("400 × 500 mm at most", found.without["J-2 red"])
        self.assertEqual(assigned([other], [], self.house_settings).without, {"J-2 red": "There is no screen."})
