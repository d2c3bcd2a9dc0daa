"""Life of meshes, reclaim, racks and stock-takes."""

from frimble.core.film.placement import PlacedBox
from frimble.core.mesh import blemishes
from frimble.core.mesh import life as mesh_life
from frimble.core.mesh.blemishes import Blemish
from frimble.core.mesh.life import MeshFacts, RemakeCost
from frimble.core.statistics import survival
from frimble.core.stencil import reclaim
from frimble.core.storage import racks as rack_rules
from frimble.core.storage.racks import ScreenFacts, SlotFacts
from frimble.core.testing.case import CoreCase


class MeshLifeTests(CoreCase):
    def advise(self, kind="aluminium", **facts):
        return mesh_life.advise(MeshFacts(kind, facts.pop("cycles", 10), **facts), self.house_settings)

    def test_advice_names_the_remedy_its_frame_allows(self):
        # Common practice, no source. Below 20 is poor; roller and draw-bar frames are re-tensioned, others re-meshed.
        self.assertEqual(self.advise("roller", tension_n_per_cm=18).verdict, "re-tension")
        self.assertEqual(self.advise("draw_bar", tension_n_per_cm=18).verdict, "re-tension")
        slack = self.advise(tension_n_per_cm=18)
        self.assertEqual(slack.verdict, "re-mesh")
        self.assertIn("below 20", slack.reasons[0])
        self.assertEqual(self.advise("roller", tension_n_per_cm=25, damaged=True).verdict, "re-mesh")
        self.assertEqual(self.advise(tension_n_per_cm=25, ghost_prints=True).verdict, "keep for coarse work")
        self.assertEqual(self.advise(tension_n_per_cm=25).verdict, "keep")

    def test_lives_of_others_are_told(self):
        lives = survival.kaplan_meier([20, 30, 40, 50], [True] * 4)
        answer = mesh_life.advise(MeshFacts("aluminium", 25, 24.0), self.house_settings, lives=lives)
        # Source: arithmetic; of 30, 40 and 50 cycles at 25: (5 + 15 + 25) / 3 = 15 more.
        self.assertAlmostEqual(answer.left, 15)
        self.assertIn("75 % lived beyond 25 cycles; those that did had 15 more", answer.reasons[-1])

    def test_cost_of_a_use(self):
        # Source: arithmetic; (18 + 12) / 30 + 1.5.
        self.assertAlmostEqual(mesh_life.cost_per_use(18, 12, 30, 1.5), 2.5)
        self.assertInvalidInput("cycles", "between", mesh_life.cost_per_use, 18, 12, 0, 1)

    def test_keep_or_reclaim(self):
        remake = RemakeCost(40, 6)
        # Source: arithmetic; 0.5 × (40 × 0.6 + 6) = 15 against 60 days × 0.05 = 3.
        keep = mesh_life.keep_or_reclaim(0.5, 60, remake, 9, 9, self.house_settings)
        self.assertEqual(keep.verdict, "keep")
        self.assertAlmostEqual(keep.value, 12)
        # The last slot and the last screen cost 2.5 times as much each: 60 × 0.05 × 6.25 = 18.75.
        scarce = mesh_life.keep_or_reclaim(0.5, 60, remake, 1, 1, self.house_settings)
        self.assertEqual(scarce.verdict, "reclaim")
        self.assertAlmostEqual(scarce.value, 15 - 18.75)
        self.assertEqual(mesh_life.keep_or_reclaim(0.9, 800, remake, 9, 9, self.house_settings).verdict, "reclaim")
        self.assertInvalidInput(
            "chance", "between 0 and 100", mesh_life.keep_or_reclaim, 2, 1, remake, 1, 1, self.house_settings
        )
        for field, odd in (("minutes", mesh_life.RemakeCost(-5, 1)), ("goods", mesh_life.RemakeCost(5, -1))):
            self.assertInvalidInput(
                field, "between 0", mesh_life.keep_or_reclaim, 0.5, 1, odd, 1, 1, self.house_settings
            )


class ReclaimTests(CoreCase):
    def test_ink_goes_before_emulsion_and_haze_last(self):
        # Common practice, no source. Ink remover, rinse, emulsion remover with about 30 s, pressure rinse, look, haze.
        names = [s.name for s in reclaim.steps(self.house_settings, old=True, haze=True)]
        self.assertLess(names.index("ink remover"), names.index("emulsion remover"))
        self.assertLess(names.index("emulsion remover"), names.index("second round"))
        self.assertLess(names.index("look"), names.index("haze remover"))
        dwell = {s.name: s.dwell_s for s in reclaim.steps(self.house_settings)}
        self.assertEqual(dwell["emulsion remover"], 30)
        self.assertNotIn("haze remover", dwell)
        pads = {s.pad for s in reclaim.steps(self.house_settings, haze=True) if s.pad}
        self.assertEqual(pads, {"ink pad", "emulsion pad", "haze pad"})

    def test_a_ghost_under_an_image_is_told(self):
        image = PlacedBox("image", "Pennant", 150, 200, 250, 180)
        ghost, haze = Blemish("ghost", 380, 300, 60, 40), Blemish("haze", 160, 210, 20, 20)
        (answer,) = blemishes.in_the_way([ghost, haze], [image])
        self.assertIn("Pennant would lie on a ghost image that prints at 380, 300 mm", answer)
        self.assertEqual(blemishes.in_the_way([Blemish("ghost", 401, 300, 60, 40)], [image]), [])

    def test_a_blemish_lies_on_its_frame(self):
        self.assertEqual(blemishes.checked_blemish("hole", 10, 10, 5, 5, (580, 790)).words, "hole or tear")
        self.assertInvalidInput(
            "x_mm", "would reach 600", blemishes.checked_blemish, "hole", 560, 10, 40, 5, (580, 790)
        )
        self.assertInvalidInput("kind", "Choose one of", blemishes.checked_blemish, "dragon", 1, 1, 1, 1, (580, 790))


class RackTests(CoreCase):
    SLOTS = (
        SlotFacts("A-01", 600, 820, dark=False, taken_by="Q-001"), SlotFacts("A-02", 600, 820, dark=False),
        SlotFacts("B-01", 700, 950, dark=False), SlotFacts("D-01", 600, 820, dark=True),
    )  # fmt: skip

    def test_the_tightest_fitting_slot_is_offered(self):
        bare, live = ScreenFacts("Q-9", 580, 790, live_emulsion=False), ScreenFacts("Q-9", 580, 790, live_emulsion=True)
        self.assertEqual(rack_rules.best_slot(bare, self.SLOTS, self.house_settings).code, "A-02")
        # Common practice, no source. Coated screens in dark places only.
        self.assertEqual(rack_rules.best_slot(live, self.SLOTS, self.house_settings).code, "D-01")
        self.assertEqual(
            rack_rules.best_slot(ScreenFacts("Q-9", 660, 910, False), self.SLOTS, self.house_settings).code, "B-01"
        )
        self.assertIsNone(rack_rules.best_slot(ScreenFacts("Q-9", 910, 1220, False), self.SLOTS, self.house_settings))

    def test_a_stock_take_lists_what_does_not_agree(self):
        recorded = {"Q-1": "A-01", "Q-2": "A-02", "Q-3": "A-03", "Q-4": "", "Q-5": "B-01"}
        seen = {"A-01": "Q-1", "A-02": "Q-3", "A-03": "", "A-04": "X-9", "A-05": "Q-4"}
        result = rack_rules.stock_take(recorded, seen, recorded)
        self.assertEqual(result.right, ("Q-1",))
        self.assertEqual(
            result.misplaced,
            (("Q-3", "stands in A-02, written down in A-03"), ("Q-4", "stands in A-05, written down in no slot")),
        )
        self.assertEqual(result.missing, (("Q-2", "written down in A-02, which holds Q-3"),))
        self.assertEqual(result.unknown, (("X-9", "A-04"),))
        # B-01 was not walked past: nothing is said of Q-5.
        self.assertNotIn("Q-5", dict(result.missing))
