"""Losses in the order of what they cost."""

from frimble.core.settings import HouseSettings
from frimble.core.stencil.losses import Loss, LossStage, minutes_of, pareto
from frimble.core.testing.case import CoreCase

LOST = (
    Loss(LossStage.STENCIL, "over-exposed", "2026-10", "Lantern A", "Tamsin", "SD-08", "Q-014", 40, 1.5),
    Loss(LossStage.STENCIL, "over-exposed", "2026-11", "Lantern A", "Wim", "SD-08", "Q-016", 40, 1.5),
    Loss(LossStage.COAT, "fish-eye", "2026-11", "", "Wim", "PQ-03", "Q-017", 40, 1.0),
    Loss(LossStage.FILM, "black too weak", "2026-11"),
)


class LossTests(CoreCase):
    def test_the_dearest_comes_first_and_shares_run_up_to_one(self):
        # Source: sums by hand: a stencil 15 + 8 + 10 + 15 = 48 min at 0.6 and 1.5 = 30.3; a coat 30 min and 1 = 19; a film
        # 12 min = 7.2; over-exposed 60.6 of 86.8 in all.
        losses = pareto(LOST, "cause", 40, 365, self.house_settings)
        self.assertEqual([b.label for b in losses.bars], ["over-exposed", "fish-eye", "black too weak"])
        self.assertAlmostEqual(losses.money, 86.8)
        self.assertAlmostEqual(losses.bars[0].running, 60.6 / 86.8)
        self.assertAlmostEqual(losses.bars[-1].running, 1)
        self.assertEqual((losses.number, losses.minutes, losses.emulsion_ml), (4, 138, 120))

    def test_one_percent_is_of_what_is_begun_in_a_year(self):
        # Source: by hand: 40 begun in half a year are 80 a year, a hundredth is 0.8 of (30.3 + 30.3 + 19) ÷ 3 each.
        losses = pareto(LOST, "stage", 40, 182.5, self.house_settings)
        self.assertAlmostEqual(losses.one_percent_saves, 0.8 * 79.6 / 3)
        # A film is no stencil: three of forty were lost.
        self.assertAlmostEqual(losses.share.value, 3 / 40)

    def test_every_key_holds_every_loss(self):
        for key in ("cause", "stage", "month", "lamp", "person", "batch"):
            with self.subTest(key=key):
                losses = pareto(LOST, key, 40, 365, self.house_settings)
                self.assertEqual(sum(b.number for b in losses.bars), len(LOST))

    def test_nothing_lost_and_nothing_begun_give_no_number(self):
        losses = pareto((), "cause", 0, 365, self.house_settings)
        self.assertEqual((losses.bars, losses.money), ([], 0))
        self.assertIsNone(losses.share)
        self.assertIsNone(losses.one_percent_saves)

    def test_minutes_follow_the_houses_settings(self):
        slow = HouseSettings({"life.film_min": 60})
        self.assertEqual(minutes_of(LossStage.FILM, slow), 60)
