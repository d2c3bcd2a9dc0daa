"""What each term of full cure measures, held against the law it stands for."""

import math
from dataclasses import replace

from frimble.core.exposure.chart import terms
from frimble.core.exposure.chart.terms import CellFacts
from frimble.core.testing.case import CoreCase

USUAL = CellFacts(
    stencil_um=terms.STENCIL_UM,
    yellow=False,
    dmin=0.0,
    emulsion="one",
    lamp="near",
    distance_mm=terms.DISTANCE_MM,
)


class CureTermTests(CoreCase):
    def setUp(self):
        super().setUp()
        self.terms = terms.cure_terms(("near", "far"), ("one", "other"), self.house_settings)

    def believed(self, **changes) -> float:
        """Full cure, s, as common practice has it before any test."""
        measured = terms.measures(self.terms, replace(USUAL, **changes))
        return math.exp(sum(t.mean * m for t, m in zip(self.terms, measured, strict=True)))

    def shares(self, name, **changes) -> list[float]:
        measured = terms.measures(self.terms, replace(USUAL, **changes))
        return [m for t, m in zip(self.terms, measured, strict=True) if t.name == name]

    def test_an_ordinary_stencil_takes_the_time_practice_writes_down(self):
        self.assertAlmostEqual(self.believed(), terms.TIME_S)

    def test_twice_as_far_from_a_small_lamp_takes_four_times_as_long(self):
        # Source: the inverse-square law of a point source.
        self.assertAlmostEqual(self.believed(distance_mm=2 * terms.DISTANCE_MM) / self.believed(), 4)

    def test_a_large_lamp_has_no_distance(self):
        # Source: the light of a panel wider than its distance does not fall with the square of it.
        self.assertAlmostEqual(self.believed(distance_mm=None), self.believed())

    def test_clear_film_costs_what_its_density_holds_back(self):
        # Source: ISO 5-2, transmittance is 10 to the minus density: 0.3 passes half.
        self.assertAlmostEqual(self.believed(dmin=0.3) / self.believed(), 10**0.3)

    def test_a_depth_of_penetration_more_takes_e_times_as_long(self):
        # Source: the Beer-Lambert law, light falls to 1/e over each depth of penetration.
        deeper = terms.STENCIL_UM + self.house_settings["coat.penetration_um"]
        self.assertAlmostEqual(self.believed(stencil_um=deeper) / self.believed(), math.e)

    def test_thicker_fabric_counts_for_less_than_as_much_emulsion(self):
        # From memory: threads of a white mesh pass light on, so that fabric shades less than emulsion of its depth.
        more = 30.0
        fabric = self.believed(stencil_um=terms.STENCIL_UM + more, fabric_um=terms.FABRIC_UM + more)
        emulsion = self.believed(stencil_um=terms.STENCIL_UM + more)
        self.assertLess(self.believed(), fabric)
        self.assertLess(fabric, emulsion)

    def test_a_yellow_mesh_takes_the_house_factor(self):
        factor = self.house_settings["exposure.yellow_factor"]
        # Common practice, no source: dyed mesh takes half as long again to nearly twice as long.
        self.assertTrue(1.25 <= factor <= 2)
        self.assertAlmostEqual(self.believed(yellow=True) / self.believed(), factor)

    def test_a_lamp_fades_with_its_hours_and_not_for_ever(self):
        # Common practice, no source: a lamp loses its share early and is replaced or holds.
        fresh, used, old, older = (self.believed(hours=h) for h in (0, 1000, 5000, 50_000))
        self.assertLess(fresh, used)
        self.assertLess(used, old)
        self.assertEqual(old, older)

    def test_a_quicker_fading_lamp_has_aged_more_after_the_same_hours(self):
        self.assertAlmostEqual(self.believed(hours=500, fades=2.0), self.believed(hours=1000))

    def test_each_lamp_and_emulsion_is_itself_or_one_never_met(self):
        # Source: a design matrix of factors has one level for each row.
        for lamp, emulsion in (("near", "one"), ("far", "other"), ("new", "one"), ("new", "never")):
            with self.subTest(f"{lamp}, {emulsion}"):
                of_lamp = self.shares(terms.LAMP, lamp=lamp, emulsion=emulsion)
                self.assertEqual(sum(of_lamp[1:]), 1)  # the first is the lamp's usual time
                of_emulsion = self.shares(terms.EMULSION, lamp=lamp, emulsion=emulsion)
                self.assertEqual(sum(of_emulsion), 2)  # its own, and one of it under this lamp
                self.assertEqual(of_emulsion.count(1.0), 2)

    def test_what_was_never_met_shares_one_part(self):
        self.assertEqual(self.shares(terms.LAMP, lamp="new"), self.shares(terms.LAMP, lamp="newer"))
        self.assertNotEqual(self.shares(terms.LAMP, lamp="new"), self.shares(terms.LAMP, lamp="near"))

    def test_emulsions_differ_in_how_deep_light_reaches_only_off_the_ordinary(self):
        at_usual = self.shares(terms.THICKNESS, emulsion="one")
        self.assertEqual(at_usual, [0.0] * len(at_usual))
        deep = self.shares(terms.THICKNESS, emulsion="one", stencil_um=terms.STENCIL_UM + 40)
        self.assertEqual(sum(1 for share in deep if share > 0), 2)  # what all have, and what this emulsion adds


class RoomTermTests(CoreCase):
    def test_thicker_stencils_have_less_room_before_fine_detail_closes(self):
        # From memory: the thicker the stencil the narrower its latitude.
        of = terms.room_terms(("near",), self.house_settings)
        thin, thick = (
            math.exp(sum(t.mean * m for t, m in zip(of, terms.measures(of, facts), strict=True)))
            for facts in (USUAL, replace(USUAL, stencil_um=terms.STENCIL_UM + 60))
        )
        self.assertLess(thick, thin)
        self.assertGreater(thick, 1)
