"""Several plates together, what a mesh costs, and the plan of a hold-out test."""

import math

from frimble.core.conclusions import InvalidInput
from frimble.core.film import densities
from frimble.core.mesh import choice as mesh_choice
from frimble.core.mesh import geometry as mesh_geometry
from frimble.core.mesh import moire
from frimble.core.testing.case import CoreCase


class PlateTests(CoreCase):
    def pairs(self, *angles):
        return moire.judge_plates(90, 18, angles, 0, self.house_settings)[1]

    def test_the_usual_thirty_degrees_do_not_beat(self):
        # Common practice, no source. 15, 45 and 75 for the strong colours.
        self.assertFalse(any(p.conflict for p in self.pairs(15, 45, 75)))
        # Source: geometry; two equal grids 30° apart beat at 1 / (2 sin 15°) = 1.93 pitches.
        self.assertAlmostEqual(self.pairs(15, 45)[0].period_mm, 10 / 18 * 1.93185, places=4)

    def test_near_angles_conflict_and_equal_ones_do_not(self):
        self.assertTrue(self.pairs(15, 22)[0].conflict)
        # Common practice, no source. 22.5° for all simulated-process colours.
        self.assertFalse(self.pairs(22.5, 22.5)[0].conflict)
        self.assertFalse(self.pairs(0, 90)[0].conflict)

    def test_the_pair_rule_agrees_with_the_beats_of_two_grids(self):
        # Source: the same two grids by their frequency vectors, Amidror ch. 2.
        lowest = min(
            (b for b in moire.beats(18, 18, 40, 15, self.house_settings) if b.order == 1), key=lambda b: -b.period_mm
        )
        self.assertAlmostEqual(self.pairs(15, 40)[0].period_mm, lowest.period_mm, places=6)

    def test_no_angle_and_too_many_are_refused(self):
        for angles in ((), range(9)):
            with self.assertRaises(InvalidInput):
                self.pairs(*angles)


class CostTests(CoreCase):
    def cost(self, count, thread):
        return mesh_choice.cost_of(mesh_geometry.geometry(count, thread, self.house_settings), self.house_settings)

    def test_the_reference_mesh_is_one(self):
        self.assertAlmostEqual(self.cost(43, 80).exposure_white, 1)
        # From memory: yellow thread takes 1.3–2 times as long.
        self.assertTrue(1.3 <= self.cost(43, 80).exposure_yellow <= 2)

    def test_coarser_mesh_takes_more_emulsion_and_time(self):
        # Common practice, no source. Coarser mesh takes more; 24 is slow to dry and expose.
        coarse, fine = self.cost(10, 260), self.cost(120, 34)
        self.assertGreater(coarse.emulsion_ml_per_m2, 3 * fine.emulsion_ml_per_m2)
        self.assertGreater(coarse.exposure_white, 2)
        self.assertLess(fine.exposure_white, 1)

    def test_emulsion_by_hand(self):
        # Source: arithmetic; 43-80 has V = 55.1 and 15 % of 128 µm is 19.2, over 0.4 solids.
        shape = mesh_geometry.geometry(43, 80, self.house_settings)
        by_hand = (shape.ink_volume_cm3_per_m2 + 19.2) / 0.4
        self.assertAlmostEqual(self.cost(43, 80).emulsion_ml_per_m2, by_hand)


class HoldOutPlanTests(CoreCase):
    def test_doubles_until_the_wanted_density_is_proved(self):
        plan = densities.plan_hold_out(4, 20, self.house_settings)
        self.assertEqual([s.multiple for s in plan], [1, 2, 4, 8, 16, 32, 64])
        # Source: Dmax − Dmin = log10(multiple × t_work / t_gel); 64 × 5 is 2.51.
        self.assertAlmostEqual(plan[-1].density, math.log10(320))
        self.assertGreaterEqual(plan[-1].density, 2.5)

    def test_reading_the_plan_gives_its_densities_back(self):
        plan = densities.plan_hold_out(4, 20, self.house_settings)
        result = densities.from_hold_out(4, 20, plan[3].multiple, plan[4].multiple, self.house_settings)
        self.assertAlmostEqual(result.low, plan[3].density)
        self.assertAlmostEqual(result.high, plan[4].density)

    def test_long_lamps_stop_at_the_longest_exposure(self):
        plan = densities.plan_hold_out(144, 720, self.house_settings)
        self.assertLessEqual(plan[-1].time_s, 3600)

    def test_absurd_times_are_refused(self):
        with self.assertRaises(InvalidInput):
            densities.plan_hold_out(20, 20, self.house_settings)
        with self.assertRaises(InvalidInput):
            densities.plan_hold_out(0, 20, self.house_settings)
