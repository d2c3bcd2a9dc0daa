"""The parts of the film check, each against an answer known without it."""

import numpy as np

from frimble.core.film.detection import solids
from frimble.core.film.detection.halftones.lattice import find_lattice
from frimble.core.film.findings import finest_floor_mm, limits_for
from frimble.core.film.scan import evening
from frimble.core.film.scan.curve import coding_curve, wedge_curve
from frimble.core.film.scan.grid import Scan, cells_of, coarser, levels_of
from frimble.core.film.scan.skew import skew_deg
from frimble.core.film.wedge.definition import Wedge
from frimble.core.film.wedge.patches import measure_patches, straighten
from frimble.core.mesh.geometry import geometry
from frimble.core.simulation.scanner import WEDGE_DENSITIES, ScannerOptics, SimulatedFilm, scan
from frimble.core.testing.case import CoreCase

_STEP_MM = 0.34


class LatticeTests(CoreCase):
    def grid(self, pitch=13.0, angle=0.0, side=12, jitter=0.0):
        rows, columns = np.mgrid[:side, :side].reshape(2, -1) * pitch
        turn = np.radians(angle)
        x = columns * np.cos(turn) - rows * np.sin(turn)
        y = columns * np.sin(turn) + rows * np.cos(turn)
        noise = np.random.default_rng(1).normal(0, jitter, (side * side, 2)) if jitter else 0
        return np.column_stack([x, y]) + noise

    def test_a_square_lattice_is_meant_to_its_last_corner(self):
        for angle in (0, 15, 22.5, 45, 75):
            result = find_lattice(self.grid(angle=angle, jitter=0.2), np.full(144, 20.0), 30)
            self.assertTrue(result.meant.all(), angle)
            self.assertEqual(len(set(result.patch)), 1)
            self.assertAlmostEqual(float(np.median(result.pitch)), 13, delta=0.1)

    def test_marks_strewn_at_random_are_not_meant(self):
        # Source: a Poisson scatter of 200 points has no lattice; drawn by numpy.
        points = np.random.default_rng(4).uniform(0, 4000, (200, 2))
        result = find_lattice(points, np.random.default_rng(5).uniform(4, 60, 200), 30)
        self.assertLess(result.meant.mean(), 0.03)

    def test_a_stranger_far_from_the_lattice_is_not_drawn_in(self):
        points = np.vstack([self.grid(), [[400.0, 400.0]]])
        result = find_lattice(points, np.full(145, 20.0), 30)
        self.assertFalse(result.meant[-1])
        self.assertEqual(result.patch[-1], -1)

    def test_a_dotted_line_is_meant(self):
        points = np.column_stack([np.arange(8) * 40.0, np.zeros(8)])
        self.assertTrue(find_lattice(points, np.full(8, 100.0), 20).meant.all())

    def test_a_grain_is_meant(self):
        points = np.random.default_rng(6).uniform(0, 200, (400, 2))
        self.assertGreater(find_lattice(points, np.full(400, 9.0), 35).meant.mean(), 0.95)

    def test_two_rulings_are_two_patches(self):
        points = np.vstack([self.grid(pitch=13), self.grid(pitch=20) + np.array([400, 0])])
        result = find_lattice(points, np.full(288, 20.0), 10)
        self.assertEqual(len(set(result.patch[result.patch >= 0])), 2)

    def test_one_or_two_marks_are_no_pattern(self):
        for n in (0, 1, 2):
            self.assertFalse(find_lattice(np.zeros((n, 2)), np.ones(n), 10).meant.any())


class SolidTests(CoreCase):
    def field(self, dmax=3.0, noise=0.02, shape=(120, 120)):
        return dmax + np.random.default_rng(2).normal(0, noise, shape), np.ones(shape, bool)

    def weak(self, density, solid, ceiling=4.0, dmax=3.0):
        return solids.weak_areas(density, solid, _STEP_MM, dmax, 0.05, ceiling, limits_for(self.house_settings))

    def test_an_even_black_has_no_weak_area_and_no_bands(self):
        density, solid = self.field(noise=0.05)
        self.assertEqual(self.weak(density, solid), [])
        self.assertEqual(solids.banding(density, solid, _STEP_MM), [])

    def test_a_weak_box_is_found_where_it_lies(self):
        density, solid = self.field()
        density[40:60, 70:100] = 1.9
        result = self.weak(density, solid)
        self.assertEqual(len(result), 1)
        self.assertAlmostEqual(result[0].value, 1.9, delta=0.05)
        self.assertAlmostEqual(result[0].x_mm, 70 * _STEP_MM, delta=1)
        self.assertAlmostEqual(result[0].height_mm, 20 * _STEP_MM, delta=1.2)

    def test_a_film_weak_all_over_is_the_films_density_not_an_area(self):
        density, solid = self.field(dmax=2.0)
        self.assertEqual(self.weak(density, solid, dmax=2.0), [])

    def test_bands_both_ways(self):
        for axis in (0, 1):
            density, solid = self.field()
            place = np.arange(120) * _STEP_MM
            bands = 0.4 * (np.cos(2 * np.pi * place / 3.0) > 0.7)
            density -= bands[:, None] if axis == 0 else bands[None, :]
            result = solids.banding(density, solid, _STEP_MM)
            self.assertEqual(len(result), 1, axis)
            self.assertAlmostEqual(result[0].value, 0.4, delta=0.15)

    def test_the_black_is_what_most_cells_share(self):
        light = np.full((60, 60), 10**-3.0)
        light[:20] = 10**-1.8
        black = solids.black_of(light, np.ones_like(light, bool))
        self.assertAlmostEqual(-np.log10(black.light), 3.0, places=3)
        self.assertIsNone(solids.black_of(light, np.zeros_like(light, bool)))


class WedgeCurveTests(CoreCase):
    def scan16(self):
        return Scan(np.zeros((10, 10), np.uint16), 600.0, "linear")

    def test_the_curve_gives_back_gain_and_flare(self):
        densities = np.array(WEDGE_DENSITIES)
        share = 0.93 * 10**-densities + 0.0012
        wedge = Wedge(0, 0, 10, tuple(WEDGE_DENSITIES))
        curve = wedge_curve(self.scan16(), wedge, share, 4.0)
        # Source: ISO 5-2, D = −log10 T, with the light model put in above solved for it.
        for wanted in (0.2, 1.0, 2.3, 2.9, 3.2):
            self.assertAlmostEqual(float(curve.of(0.93 * 10**-wanted + 0.0012)), wanted, delta=0.01)
        self.assertTrue((np.diff(curve.density) >= 0).all())
        self.assertLessEqual(curve.ceiling, 3.35 + 0.3)

    def test_a_bent_wedge_still_gives_a_rising_curve_through_its_patches(self):
        densities = np.linspace(0.1, 2.5, 9)
        share = 10 ** -(densities + 0.1 * np.sin(densities * 3))
        curve = wedge_curve(self.scan16(), Wedge(0, 0, 10, tuple(densities)), share, 4.0)
        np.testing.assert_allclose(curve.of(share), densities, atol=0.02)

    def test_a_falling_wedge_is_the_same_wedge_turned_round(self):
        densities = tuple(reversed(WEDGE_DENSITIES))
        share = 10 ** -np.array(densities)
        curve = wedge_curve(self.scan16(), Wedge(0, 0, 10, densities), share, 4.0)
        self.assertAlmostEqual(float(curve.of(0.01)), 2.0, delta=0.01)

    def test_a_sheet_of_cells_is_read_by_the_same_curve(self):
        # Source: the curve itself, point by point; numpy's interp.
        densities = tuple(reversed(WEDGE_DENSITIES))
        curve = wedge_curve(self.scan16(), Wedge(0, 0, 10, densities), 10 ** -np.array(densities), 4.0)
        light = 10 ** -np.random.default_rng(4).uniform(-0.3, 6, (80, 90)).astype(np.float32)
        light[0, :3] = 0, -1, 1
        self.assertLess(np.abs(curve.over(light) - curve.of(light)).max(), 0.001)

    def test_the_codings_ceilings(self):
        # From memory: 8 bits linear tell up to about 2.3; the sRGB toe reaches a density further (÷ 12.92 is 1.11).
        linear = coding_curve(Scan(np.zeros((9, 9), np.uint8), 600.0, "linear"))
        self.assertAlmostEqual(linear.ceiling, 2.31, delta=0.02)
        self.assertAlmostEqual(coding_curve(Scan(np.zeros((9, 9), np.uint8), 600.0)).ceiling, 2.31 + 1.11, delta=0.03)
        self.assertGreater(coding_curve(self.scan16()).ceiling, 4.5)

    def test_a_wedge_that_turned_with_the_film_is_followed(self):
        film = SimulatedFilm(150, 80, 300)
        film.solid(10, 10, 60, 30)
        film.step_wedge(10, 55, 10)
        for skew in (-2.5, 0.0, 2.0):
            codes, _ = scan(film, ScannerOptics(skew_deg=skew, bits=16), 1)
            scanned = Scan(codes, 300.0)
            laid = straighten(scanned, Wedge(*film.wedge))
            # What counts is that every patch is measured within itself; the last is near the scanner's own noise.
            measured = -np.log10(measure_patches(scanned, laid))
            np.testing.assert_allclose(measured[:-1], WEDGE_DENSITIES[:-1], atol=0.04)


class LightTests(CoreCase):
    def read(self, film, optics):
        codes, _ = scan(film, optics, 1)
        scanned = Scan(codes, float(film.dpi))
        cells = cells_of(scanned)
        return scanned, cells, levels_of(scanned, cells)

    def film(self):
        film = SimulatedFilm(120, 100, 300)
        film.solid(30, 30, 50, 40)
        return film

    def test_levels_are_those_that_were_drawn(self):
        _, _, levels = self.read(self.film(), ScannerOptics(noise=0.001))
        # Source: ISO 5-2, T = 10^−D, of the sheet's own 0.06 and 3.2.
        self.assertAlmostEqual(levels.clear, 10**-0.06, delta=0.01)
        self.assertAlmostEqual(levels.black, 10**-3.2, delta=0.0002)

    def test_vignetting_is_taken_off(self):
        read = self.read(self.film(), ScannerOptics(vignetting=0.15, noise=0.001))
        surface = evening.illumination(*read)
        # The simulated lens loses half of its vignetting along each half-axis, all of it in the corners.
        middle, corner = float(surface(60.0, 50.0)), float(surface(1.0, 1.0))
        self.assertAlmostEqual(corner / middle, 0.85, delta=0.015)

    def test_a_sheet_with_little_clear_film_is_left_as_it_is(self):
        film = SimulatedFilm(120, 100, 300)
        film.solid(0, 0, 120, 80)
        surface = evening.illumination(*self.read(film, ScannerOptics()))
        self.assertEqual(float(surface(3.0, 3.0)), 1.0)

    def test_skew_of_a_frame_and_of_nothing(self):
        for turn in (-3.0, 1.5):
            codes, _ = scan(self.film(), ScannerOptics(skew_deg=turn), 1)
            scanned = Scan(codes, 300.0)
            self.assertAlmostEqual(skew_deg(coarser(scanned.grey(), scanned), scanned), turn, delta=0.3)
        film = SimulatedFilm(60, 60, 300)
        film.dot(30, 30, 30)
        codes, _ = scan(film, ScannerOptics(skew_deg=2), 1)
        plain = Scan(codes, 300.0)
        self.assertEqual(skew_deg(coarser(plain.grey(), plain), plain), 0.0)


class LimitTests(CoreCase):
    def test_the_mesh_gives_the_floor(self):
        coarse = limits_for(self.house_settings, geometry(43, 80, self.house_settings), "43-80")
        # Source: w + 2d; 10 000/43 − 80 + 160 µm.
        self.assertAlmostEqual(coarse.line_mm, (10_000 / 43 + 80) / 1000)
        self.assertEqual(coarse.dot_mm, coarse.line_mm)
        fine = limits_for(self.house_settings, geometry(140, 31, self.house_settings), "140-31")
        self.assertEqual(fine.line_mm, self.house_settings["film.least_line_mm"])
        self.assertLess(fine.dot_mm, fine.line_mm)

    def test_the_finest_usual_mesh(self):
        # Source: 165 threads of 27 µm: 10 000/165 + 27 µm.
        self.assertAlmostEqual(finest_floor_mm(self.house_settings), (10_000 / 165 + 27) / 1000)
