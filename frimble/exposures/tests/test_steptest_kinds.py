"""Each kind of step test plans what its arithmetic says, and says of itself what the pages need."""

import itertools

from django.template.loader import get_template
from django.test import SimpleTestCase

from frimble.core.conclusions import InvalidInput
from frimble.core.settings import HouseSettings
from frimble.exposures.steptests.kinds import KINDS, USUAL, choices, screens

HOUSE = HouseSettings()


class KindTests(SimpleTestCase):
    def plan(self, key, lag_s=0.0, **typed):
        return KINDS[key].plan({"guess_s": 20.0} | typed, HOUSE, lag_s)

    def test_each_has_its_part_of_the_page_and_its_fields(self):
        for kind in KINDS.values():
            with self.subTest(kind.key):
                self.assertTrue(get_template(kind.part))
                self.assertIn((kind.key, kind.words), choices())
                first, second = kind.fields(), kind.fields()
                self.assertEqual(list(first), list(second))
                # A form changes its fields: two must not share them.
                self.assertFalse({id(f) for f in first.values()} & {id(f) for f in second.values()})
        self.assertEqual(KINDS[USUAL.key], USUAL)

    def test_a_moving_card_lays_its_steps_evenly_on_the_scale_of_light(self):
        plan = self.plan("card", steps=7, series="sqrt2", card="cover")
        # Source: geometric series; each step is √2 of the next, and the guess lies in the middle.
        ratios = [a / b for a, b in itertools.pairwise(plan.times_s)]
        self.assertEqual(len(ratios), 6)
        for ratio in ratios:
            self.assertAlmostEqual(ratio, 2**0.5, delta=0.03)
        self.assertAlmostEqual(plan.times_s[3], 20, delta=0.3)
        edges = USUAL.edges({"own_film": False, "length_mm": 210.0}, plan, HOUSE)
        self.assertEqual([round(b - a, 6) for a, b in itertools.pairwise(edges)], [30.0] * 7)

    def test_the_shops_own_film_has_its_own_edges(self):
        plan = self.plan("card", steps=7, series="sqrt2", card="cover")
        own = USUAL.edges({"own_film": True, "length_mm": 210.0}, plan, HOUSE)
        self.assertEqual(len(own), 8)
        self.assertEqual(list(own), sorted(own))

    def test_a_factor_film_is_exposed_for_twice_the_guess(self):
        plan = self.plan("factor", factors="1 0.7 0.5 0.35 0.25")
        # Source: arithmetic; the share 0.5 of twice the guess is the guess.
        self.assertAlmostEqual(plan.total_s, 40, delta=0.01)
        self.assertAlmostEqual(plan.times_s[2], 20, delta=0.01)
        self.assertEqual(KINDS["factor"].edges({}, plan, HOUSE), ())

    def test_unreadable_factors_are_refused_beside_their_field(self):
        with self.assertRaises(InvalidInput) as refused:
            self.plan("factor", factors="1 half")
        self.assertEqual(refused.exception.field, "factors")

    def test_a_grey_scale_passes_half_the_light_in_two_steps(self):
        plan = self.plan("grey")
        # Source: ISO 5-2; steps of density 0.15 pass √2 less each, 21 of them.
        self.assertEqual(len(plan.times_s), 21)
        self.assertAlmostEqual(plan.times_s[0] / plan.times_s[2], 2, delta=0.02)
        self.assertTrue(KINDS["grey"].by_solid_step)

    def test_one_screen_for_each_time_counts_this_screen_and_the_others(self):
        plan = self.plan("screens", others="q-015, Q-016; Q-017", series="sqrt2")
        self.assertEqual(len(plan.times_s), 4)
        self.assertEqual(screens.codes({"others": "q-015, Q-016; Q-017"}), ["Q-015", "Q-016", "Q-017"])
        self.assertEqual(plan.total_s, max(plan.times_s))
        self.assertEqual(KINDS["screens"].start, "To the screens")

    def test_the_lamps_lag_is_added_where_one_exposure_gives_every_step(self):
        for key, typed in (("grey", {}), ("factor", {"factors": "1 0.5 0.25"})):
            without, lagging = self.plan(key, **typed), self.plan(key, lag_s=0.4, **typed)
            self.assertAlmostEqual(lagging.total_s - without.total_s, 0.4, delta=0.01)
            self.assertEqual(lagging.times_s, without.times_s)

    def test_what_is_read_otherwise_or_goes_on_several_is_said_by_the_kind(self):
        self.assertEqual({k for k, kind in KINDS.items() if kind.by_factors}, {"factor", "grey"})
        self.assertEqual({k for k, kind in KINDS.items() if kind.of_several}, {"screens"})
