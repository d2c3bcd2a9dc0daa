"""Cost of screens and jobs."""

from dataclasses import replace

from frimble.core.costing.screen import ScreenFacts, changes, job_cost, screen_cost
from frimble.core.settings import HouseSettings
from frimble.core.statistics.interval import Interval
from frimble.core.testing.case import CoreCase

_FACTS = ScreenFacts("white", False, 2.4, 40, 30, 0.3, 100, 600, Interval(0.2, 0.1, 0.3))
_PRICES = {
    "cost.mesh_m2": 40.0,
    "cost.reclaim_goods": 0.5,
    "cost.ink_l": 20.0,
    "cost.ink_share": 0.5,
    "cost.mesh_cycles": 30.0,
}


class CostTests(CoreCase):
    house_settings = HouseSettings(_PRICES)

    def test_each_part_is_its_minutes_or_its_goods(self):
        # Source: by hand. 48 min at 0.6; 40 ml at 30 a litre; (0.3 m² × 40 + 30 min × 0.6) / 30; 1 in 5 lost: 1/4 more.
        found = screen_cost(_FACTS, 100, self.house_settings)
        money = {line.label: line.money for line in found.lines}
        self.assertAlmostEqual(money["hands"], 48 * 0.6)
        self.assertAlmostEqual(money["emulsion"], 1.2)
        self.assertAlmostEqual(money["wear of the mesh"], (12 + 18) / 30)
        made = 2.4 + 1.2 + 28.8 + 1.0 + 0.5
        self.assertAlmostEqual(money["lost screens' share"], made / 4)
        self.assertAlmostEqual(found.money, made * 1.25)

    def test_ink_is_deposit_times_area_times_prints(self):
        # Source: by hand: 100 µm on 600 cm², half of it printed, are 3 cm³ a print; 100 prints 0.3 l at 20.
        self.assertAlmostEqual(screen_cost(_FACTS, 100, self.house_settings).ink.money, 6.0)

    def test_a_kept_stencil_costs_its_looking_over_alone(self):
        # Source: by hand: 10 min at 0.6.
        found = screen_cost(replace(_FACTS, kept=True), 100, self.house_settings)
        self.assertAlmostEqual(found.money, 6.0)

    def test_without_a_price_a_part_is_left_out_and_named(self):
        facts = replace(_FACTS, film=None, emulsion_l=None, image_cm2=None)
        found = screen_cost(facts, 10, HouseSettings())
        self.assertEqual(found.unknown, ("film", "emulsion", "wear of the mesh", "reclaim chemicals", "ink"))

    def test_a_job_is_its_screens_and_prints_with_the_interval_of_what_is_lost(self):
        # Source: by hand from the parts above.
        found = job_cost([_FACTS, replace(_FACTS, name="gold")], 100, self.house_settings)
        made = 2.4 + 1.2 + 28.8 + 1.0 + 0.5
        self.assertAlmostEqual(found.money, 2 * (made * 1.25 + 6))
        self.assertAlmostEqual(found.a_print, found.money / 100)
        self.assertAlmostEqual(found.low, 2 * (made / 0.9 + 6))
        self.assertAlmostEqual(found.high, 2 * (made / 0.7 + 6))

    def test_changes_say_what_they_add_the_greatest_saving_first(self):
        # Source: by hand: half the ink of 6; a film dearer by 1, made 1.25 times.
        finer, dearer = replace(_FACTS, deposit_um=50), replace(_FACTS, film=3.4)
        found = changes([_FACTS], [("dearer film", 0, dearer), ("finer", 0, finer)], 100, self.house_settings)
        self.assertEqual([c.words for c in found], ["finer", "dearer film"])
        self.assertAlmostEqual(found[0].more, -3.0)
        self.assertAlmostEqual(found[1].more, 1.25)

    def test_no_prints_and_no_screens_are_refused(self):
        self.assertInvalidInput("prints", "The prints", screen_cost, _FACTS, 0, self.house_settings)
        self.assertInvalidInput("prints", "screens", job_cost, [], 10, self.house_settings)
