"""Proofs of simple films against closed forms and against what the trade knows."""

import math
from dataclasses import replace

import numpy as np
from scipy.ndimage import gaussian_filter1d
from scipy.stats import norm

from frimble.core.mesh.geometry import geometry
from frimble.core.simulation.screen.light import exposure
from frimble.core.stencil.proof.kinds import ProofKind
from frimble.core.stencil.proof.proofing import proof
from frimble.core.testing.case import CoreCase

_DPI = 2540.0
_PX_MM = 100
_LIGHT = {
    "thickness_um": 60, "over_mesh_um": 6, "time_s": 60, "full_s": 50, "gel_s": 10, "dmax": 3.2, "dmin": 0.05,
    "spread_um": 30,
}  # fmt: skip


class ProofCase(CoreCase):
    def setUp(self):
        self.fine = geometry(140, 31, self.house_settings)
        self.coarse = geometry(43, 80, self.house_settings)

    def film(self, wide=12.0, high=8.0):
        return np.zeros((round(high * _PX_MM), round(wide * _PX_MM)), bool)

    def bar(self, film, x, width, y=2.0, height=4.0, black=True):
        film[round(y * _PX_MM) : round((y + height) * _PX_MM), round(x * _PX_MM) : round((x + width) * _PX_MM)] = black

    def proof(self, film, mesh=None, **changed):
        return proof(film, _DPI, mesh or self.fine, exposure(**(_LIGHT | changed)), self.house_settings)

    def kinds(self, found):
        return [f.kind for f in found.findings]


class LightTests(CoreCase):
    def test_the_middle_of_a_slit_is_the_closed_form_and_the_convolution(self):
        # Source: normal distribution (scipy.stats); a numerical convolution (scipy.ndimage) of the same slit.
        light = exposure(**_LIGHT)
        for width in (20.0, 60.0, 150.0):
            covered = norm.cdf(width / 2 / 30) - norm.cdf(-width / 2 / 30)
            self.assertAlmostEqual(light.middle_of_slit(width), 1 - (1 - light.leak) * covered, places=9)
            row = np.ones(4001)
            row[2000 - round(width / 2) : 2001 + round(width / 2)] = light.leak
            self.assertAlmostEqual(
                gaussian_filter1d(row, 30, truncate=8)[2000], light.middle_of_slit(width + 1), places=4
            )

    def test_a_coat_cured_through_is_cured_at_the_working_curve_s_end(self):
        # Source: Jacobs: depth = Dp·ln(E/Ec); at the time of full cure it is the whole coat.
        light = exposure(**(_LIGHT | {"time_s": 50}))
        self.assertAlmostEqual(light.penetration_um * math.log(50 / 10), 60)
        self.assertAlmostEqual(light.full_share, 1.0)
        whole = exposure(**(_LIGHT | {"over_mesh_um": 60}))
        self.assertAlmostEqual(whole.hold_share, whole.full_share)

    def test_longer_light_closes_more_and_holds_finer(self):
        # Source: trade: too long closes fine openings, too short loses fine lines.
        short, long = exposure(**(_LIGHT | {"time_s": 20})), exposure(**(_LIGHT | {"time_s": 200}))
        self.assertLess(short.finest_open_um(), long.finest_open_um())
        self.assertGreater(short.finest_held_um(), long.finest_held_um())

    def test_the_ends_of_the_window(self):
        # Source: t_leak = t_gel × 10^(Dmax - Dmin); nothing gels before t_gel; nothing holds before the threads are reached.
        t_leak = 10 * 10 ** (1.2 - 0.05)
        thin = {"dmax": 1.2}
        self.assertIsNotNone(exposure(**(_LIGHT | thin | {"time_s": t_leak * 0.99})).finest_open_um())
        self.assertIsNone(exposure(**(_LIGHT | thin | {"time_s": t_leak * 1.01})).finest_open_um())
        self.assertEqual(exposure(**(_LIGHT | {"time_s": 9})).finest_open_um(), 0.0)
        threads = 10 * math.exp(6 / (60 / math.log(5)))
        self.assertIsNone(exposure(**(_LIGHT | {"time_s": threads * 0.99})).finest_held_um())
        self.assertIsNotNone(exposure(**(_LIGHT | {"time_s": threads * 1.01})).finest_held_um())

    def test_what_cannot_be_is_refused(self):
        for field, value in (
            ("time_s", 0), ("gel_s", -1), ("full_s", 10), ("over_mesh_um", 61), ("dmax", 0.05), ("dmax", 9),
            ("spread_um", 0),
        ):  # fmt: skip
            with self.subTest(field):
                self.assertInvalidInput(field, "", exposure, **(_LIGHT | {field: value}))


class FindingTests(ProofCase):
    def test_slits_close_under_the_finest_and_stay_open_over_it(self):
        # Source: the closed form above, on a raster of 10 µm a pixel.
        film = self.film()
        for k, width in enumerate((0.06, 0.12)):
            self.bar(film, 2 + 4 * k, width)
        found = self.proof(film)
        self.assertTrue(60 < found.finest_open_um < 120)
        (closed,) = found.findings
        self.assertEqual(closed.kind, ProofKind.CLOSES)
        self.assertAlmostEqual(closed.x_mm, 2, delta=0.03)
        self.assertAlmostEqual(closed.height_mm, 4, delta=0.1)
        self.assertEqual(closed.value, 1.0)
        self.assertIn(f"under {found.finest_open_um:.0f} µm close", closed.why)

    def test_an_opening_is_narrower_on_both_sides_by_where_light_gels_at_a_straight_edge(self):
        # Source: normal distribution: at x inside the edge the light is 1 - Φ(x/σ) of the clear film's.
        film = self.film()
        self.bar(film, 4, 2.0, y=0, height=8)
        creep = 0.030 * norm.ppf(1 - (10 / 60 - 10**-3.15) / (1 - 10**-3.15))
        open_mm = self.proof(film).open_[400].sum() / _PX_MM
        self.assertAlmostEqual(open_mm, 2.0 - 2 * creep, delta=0.03)

    def test_a_leaking_film_closes_everything_and_says_so(self):
        # Source: t_leak as above.
        film = self.film()
        self.bar(film, 4, 3.0)
        found = self.proof(film, dmax=0.7)
        self.assertEqual((found.opened_share, found.finest_open_um), (0.0, None))
        self.assertIn("it leaks", found.findings[0].why)

    def test_without_light_enough_the_whole_stencil_is_gone(self):
        # Source: nothing hardens down to the threads.
        film = self.film()
        self.bar(film, 4, 3.0)
        found = self.proof(film, time_s=9)
        self.assertIsNone(found.finest_standing_um)
        self.assertTrue(found.open_.all())
        self.assertIn("the whole stencil washes away", found.findings[-1].why)

    def test_fine_stencil_holds_on_fine_mesh_and_breaks_on_coarse(self):
        # Common practice, no source: a line narrower than an opening finds no thread along its length.
        film = self.film()
        self.bar(film, 3, 6.0)
        self.bar(film, 6, 0.08, y=2, height=4, black=False)
        self.assertNotIn(ProofKind.WASHES_AWAY, self.kinds(self.proof(film)))
        coarse = {"thickness_um": 140, "over_mesh_um": 20, "spread_um": 10}
        away = [f for f in self.proof(film, self.coarse, **coarse).findings if f.kind is ProofKind.WASHES_AWAY]
        self.assertEqual(len(away), 1)
        self.assertAlmostEqual(away[0].x_mm, 6, delta=0.05)
        self.assertIn("153 µm", away[0].why)

    def test_halftone_dots_under_the_mesh_s_floor_are_one_finding(self):
        # Common practice, no source: one opening and its two threads, here 153 + 160 µm.
        film = self.film()
        ys, xs = np.mgrid[0 : film.shape[0], 0 : film.shape[1]] / _PX_MM
        for k in range(25):
            film |= (xs - 4 - k % 5 * 0.6) ** 2 + (ys - 3 - k // 5 * 0.6) ** 2 < 0.1**2
        lost = [f for f in self.proof(film, self.coarse, spread_um=10).findings if f.kind is ProofKind.DOT_LOST]
        self.assertEqual(len(lost), 1)
        self.assertAlmostEqual(lost[0].value, 200, delta=8)
        self.assertNotIn(ProofKind.DOT_LOST, self.kinds(self.proof(film, spread_um=10)))

    def test_a_thin_coat_over_a_coarse_mesh_has_rough_edges(self):
        # Common practice, no source: thin emulsion over mesh follows the threads.
        film = self.film()
        self.bar(film, 4, 3.0)
        self.assertIn(ProofKind.SAW_TOOTH, self.kinds(self.proof(film, self.coarse, over_mesh_um=3)))
        self.assertNotIn(ProofKind.SAW_TOOTH, self.kinds(self.proof(film, self.coarse, over_mesh_um=30)))

    def test_a_film_turned_gives_the_same_stencil_turned(self):
        # Source: symmetry.
        film = self.film()
        self.bar(film, 3, 0.07)
        self.bar(film, 6, 2.0)
        straight, turned = self.proof(film), self.proof(np.rot90(film).copy())
        self.assertTrue((np.rot90(straight.open_) == turned.open_).all())
        self.assertEqual(self.kinds(straight), self.kinds(turned))

    def test_strips_of_a_tall_sheet_meet_without_a_seam(self):
        # Source: a bar along the whole sheet is the same in every row.
        film = self.film(3.0, 34.0)
        self.bar(film, 1, 1.0, y=0, height=34)
        rows = self.proof(film).open_[200:-200]
        self.assertTrue((rows == rows[0]).all())

    def test_a_film_without_black_is_refused(self):
        light = replace(exposure(**_LIGHT))
        self.assertInvalidInput("film", "no black", proof, self.film(), _DPI, self.fine, light, self.house_settings)
