"""What a proof rests on, the best time, tones, remedies, and proofs held against photos."""

import math

import numpy as np

from frimble.core.conclusions import RuleViolation
from frimble.core.mesh.geometry import geometry
from frimble.core.simulation.screen.standing import stencil
from frimble.core.statistics.interval import Interval
from frimble.core.stencil.proof.best_time import best_time, busiest
from frimble.core.stencil.proof.comparing import compare, trust
from frimble.core.stencil.proof.constants import Cures, constants
from frimble.core.stencil.proof.kinds import ProofFinding, ProofKind
from frimble.core.stencil.proof.proofing import cloth_of
from frimble.core.stencil.proof.remedies import remedies
from frimble.core.stencil.proof.tones import tone_curve
from frimble.core.testing.case import CoreCase

_PX_MM = 50.0


class AroundCase(CoreCase):
    def setUp(self):
        self.mesh = geometry(77, 48, self.house_settings)

    def known(self, closes_s=80.0, over_um=12.0, density=(3.4, 0.06), full=(40.0, 36.0, 45.0)):
        return constants(self.mesh, True, over_um, Interval(*full), closes_s, density, self.house_settings)


class ConstantsTests(AroundCase):
    def test_an_ordinary_coat_has_the_house_s_cure_over_gel_and_a_thinner_one_less(self):
        # Source: working curve: full cure over gel is exp(H / Dp); the house says 5 for an ordinary coat on 43-80.
        cloth = geometry(43, 80, self.house_settings)
        over = self.house_settings["coat.eom_share"] * cloth.fabric_thickness_um
        ordinary = constants(cloth, False, over, Interval(40, 36, 45), None, (3, 0.1), self.house_settings)
        self.assertAlmostEqual(ordinary.cure_over_gel, self.house_settings["exposure.cure_over_gel"])
        self.assertLess(self.known().cure_over_gel, 5)

    def test_the_spread_is_the_one_that_closes_the_wanted_detail_at_the_window_s_end(self):
        # Source: the middle of a slit by the error function: at the window's end it has just the gel's light.
        known = self.known(closes_s=80)
        light = known.light(80)
        wanted = self.house_settings["steptest.wanted_opening_um"]
        self.assertAlmostEqual(light.finest_open_um(), wanted, places=6)
        self.assertIn("closed at 80 s here", known.rests_on[-1])

    def test_without_a_window_or_with_one_that_says_nothing_the_house_s_figure_stands(self):
        for closes in (None, 5.0):
            known = self.known(closes_s=closes)
            self.assertEqual(known.spread_um, self.house_settings["exposure.spread_yellow_um"])

    def test_what_cures_fast_closes_more_and_holds_more(self):
        known = self.known()
        fast, slowly = known.light(50, Cures.FAST), known.light(50, Cures.SLOWLY)
        self.assertGreater(fast.finest_open_um(), slowly.finest_open_um())
        self.assertLessEqual(fast.finest_held_um(), slowly.finest_held_um())

    def test_a_thicker_coat_gels_as_soon_and_cures_later(self):
        # Source: Jacobs: exp(ΔH / Dp).
        known = self.known()
        thick = known.with_coat(30, self.house_settings)
        factor = math.exp(18 / self.house_settings["coat.penetration_um"])
        self.assertAlmostEqual(thick.full_s.value, 40 * factor)
        self.assertAlmostEqual(thick.light(50).gel_s, known.light(50).gel_s)


class BestTimeTests(AroundCase):
    def lines(self, black_um=150.0, clear_um=300.0):
        film = np.zeros((600, 600), bool)
        step = round((black_um + clear_um) / 1000 * _PX_MM)
        for x in range(50, 550, step):
            film[60:540, x : x + round(black_um / 1000 * _PX_MM)] = True
        return film

    def test_fine_openings_are_kept_by_no_more_than_full_cure(self):
        # Common practice, no source: full cure first; openings close with every second beyond it.
        found = best_time(self.lines(200), _PX_MM, self.known(), cloth_of(self.mesh, self.house_settings))
        self.assertLess(found.time_s, 1.3 * 40)
        self.assertGreaterEqual(found.low_s, 40 * 0.99)
        closed = [t.closed for t in found.tried]
        self.assertEqual(closed, sorted(closed))
        washed = [t.washed for t in found.tried]
        self.assertEqual(washed, sorted(washed, reverse=True))

    def test_a_film_that_leaks_has_no_time(self):
        leaky = self.known(density=(0.09, 0.06))
        with self.assertRaises(RuleViolation):
            best_time(self.lines(), _PX_MM, leaky, cloth_of(self.mesh, self.house_settings))

    def test_the_busiest_square_comes_first_and_empty_ones_not_at_all(self):
        film = np.zeros((100, 150), bool)
        film[60:90, 110:140:4] = True
        film[10:40, 10:40] = True
        self.assertEqual(busiest(film, 50), [(50, 100), (0, 0)])


class ToneTests(AroundCase):
    def tints(self, lpi=45.0):
        """Square dots of ten coverages, each 8 mm broad."""
        pitch = _PX_MM * 25.4 / lpi
        columns = []
        for coverage in np.arange(0.05, 1, 0.1):
            y, x = np.mgrid[0 : round(10 * _PX_MM), 0 : round(8 * _PX_MM)] % pitch
            side = math.sqrt(coverage) * pitch
            columns.append((x < side) & (y < side))
        return np.concatenate(columns, axis=1)

    def test_an_unchanged_stencil_changes_no_tone(self):
        film = self.tints()
        for tone in tone_curve(film, film.astype(np.uint8), _PX_MM, 45):
            self.assertAlmostEqual(tone.film, tone.stencil, places=6)

    def test_light_makes_every_tone_less_open_by_its_edge(self):
        # Source: light that creeps under an edge takes from every dot; the holes of shadows may break away instead.
        film, light = self.tints(), self.known().light(48)
        tones = tone_curve(film, stencil(film, _PX_MM, light, 20).open_, _PX_MM, 45)
        self.assertGreaterEqual(len(tones), 6)
        self.assertTrue(all(tone.stencil < tone.film for tone in tones if tone.film < 0.5))

    def test_solid_shapes_are_no_tones(self):
        film = np.zeros((600, 600), bool)
        film[100:400, 100:500] = True
        self.assertEqual(tone_curve(film, film.astype(np.uint8), _PX_MM, 45), [])


class RemedyTests(AroundCase):
    def test_a_finer_mesh_for_dots_and_lines_and_none_where_none_holds(self):
        # Source: common practice: a dot holds from one opening and two threads on; a line from one opening.
        meshes = [
            (name, geometry(n, d, self.house_settings)) for name, n, d in (("43-80", 43, 80), ("120-34", 120, 34))
        ]
        floor = meshes[1][1].opening_um + 2 * 34

        def told(kind, value):
            return remedies([ProofFinding(kind, 0, 0, 1, 1, value, "")], 40, None, meshes)

        self.assertIn("hold from 120-34 on", told(ProofKind.DOT_LOST, floor + 1)[0])
        self.assertIn("No mesh here holds dots", told(ProofKind.DOT_LOST, floor - 1)[0])
        self.assertIn("from 120-34 on", told(ProofKind.WASHES_AWAY, 60)[0])
        self.assertIn("make it broader", told(ProofKind.WASHES_AWAY, 20)[0])
        self.assertIn("Another stroke", told(ProofKind.SAW_TOOTH, 20)[0])
        self.assertEqual(remedies([], 40, None, meshes), [])


class TrustTests(CoreCase):
    def test_places_that_meet_within_a_millimetre_came_true(self):
        # Source: by hand.
        held = compare([(10, 10, 1, 1), (50, 50, 1, 1)], [(11.5, 10, 1, 1), (80, 20, 1, 1)])
        self.assertEqual((held.said, held.came, held.unsaid), (2, 1, 1))
        found = trust([held, held])
        self.assertEqual((found.said_came.value, found.came_said.value, found.number), (0.5, 0.5, 2))
        self.assertIsNone(trust([]).said_came)
