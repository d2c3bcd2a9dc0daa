"""What looks like a fault and was meant, and faults in awkward places."""

import cv2
import numpy as np

from frimble.core.film.check import check_scan
from frimble.core.film.findings import limits_for
from frimble.core.film.scan.grid import Scan
from frimble.core.mesh.geometry import geometry
from frimble.core.settings import HouseSettings
from frimble.core.simulation.scanner import ScannerOptics, SimulatedFilm, scan
from frimble.core.testing.case import CoreCase
from frimble.core.units import MM_PER_POINT


class BaitTests(CoreCase):
    def kinds(self, film, limits=None, **optics):
        codes, _ = scan(film, ScannerOptics(**({"skew_deg": 1.2} | optics)), 5)
        result = check_scan(Scan(codes, float(film.dpi)), limits or limits_for(self.house_settings)).findings
        return sorted(f.kind for f in result)

    def sheet(self, dpi=600):
        film = SimulatedFilm(90, 70, dpi)
        film.solid(5, 5, 30, 30)
        return film

    def test_lettering_with_counters_dots_and_stops(self):
        film = self.sheet()
        for k, words in enumerate(("Oyster 8 & 6 % B", "iijj: a.e.g; 0123", "Regatta @ 9 o'clock")):
            film.text(38, 14 + 9 * k, 5, words, 600)
        self.assertEqual(self.kinds(film), [])

    def test_reversed_lettering_and_lines_wide_enough(self):
        film = SimulatedFilm(90, 60, 600)
        film.solid(5, 5, 80, 50)
        film.text(10, 20, 6, "Tide i.j: 8 % e", 700, ink=0.0)
        for k in range(3):
            film.line([(10, 30 + 4 * k), (70, 30 + 4 * k)], 0.32, ink=0.0)
        self.assertEqual(self.kinds(film), [])

    def test_reversed_stems_side_by_side_slanted_or_running_up_the_sheet(self):
        # Common practice, no source: type is set in every direction, and i, l and t stand closer than their height.
        for slant in (0.0, 0.2):
            for upwards in (False, True):
                film = SimulatedFilm(90, 90, 600)
                film.solid(4, 4, 82, 82)
                for k, (words, size) in enumerate((("Illtide fill", 4), ("HILLTILT il", 6), ("4711 Till jilt", 3.5))):
                    x, y = (18 + 22 * k, 80) if upwards else (10, 20 + 22 * k)
                    film.text(x, y, size, words, 400, ink=0.0, slant=slant, upwards=upwards)
                with self.subTest(slant=slant, upwards=upwards):
                    told = [kind for kind in self.kinds(film) if kind in ("scratch", "pinhole")]
                    self.assertEqual(told, [])

    def test_a_pinhole_off_a_bowed_scratch_and_a_scratch_among_others(self):
        film = SimulatedFilm(70, 70, 300)
        film.solid(4, 4, 62, 62)
        bow = np.linspace(-1, 1, 12)
        film.line([(34 + 5 * t, 15 + 5 * t * t) for t in bow.tolist()], 0.2, ink=0.0)
        film.pinhole(40.5, 24, 0.3)
        for ends in (((15, 40), (16.4, 45.6)), ((23.4, 40), (21.8, 45)), ((21.5, 45.4), (19.6, 47.6))):
            film.line(ends, 0.16, ink=0.0)
        self.assertEqual(self.kinds(film, noise=0.004), ["pinhole", "scratch", "scratch", "scratch", "scratch"])

    def test_tints_from_highlight_to_shadow(self):
        film = self.sheet()
        for k, coverage in enumerate((0.08, 0.5, 0.75, 0.92)):
            film.halftone(40 + k % 2 * 22, 5 + k // 2 * 22, 18, 18, 45, 15, coverage)
        self.assertEqual(self.kinds(film), [])

    def test_random_halftones_are_no_faults_as_dots_or_as_holes(self):
        # Common practice, no source: random screens have dots of one size thrown at random, or worms of a like width.
        rng = np.random.default_rng(3)
        thrown = np.kron(rng.random((100, 100)) < 0.35, np.ones((6, 6)))
        worms = cv2.GaussianBlur(rng.standard_normal((600, 600)), (0, 0), 3.5)
        for drawn in (thrown, worms < np.quantile(worms, 0.4)):
            for ink in (drawn, 1 - drawn):
                film = self.sheet()
                film.artwork(ink, 40, 8)
                told = [kind for kind in self.kinds(film) if kind in ("scratch", "pinhole", "thin_line")]
                self.assertLessEqual(len(told), 1, told)

    def test_rows_of_one_shape_are_no_small_type(self):
        film = self.sheet()
        diamond = np.abs(np.indices((17, 17)) - 8).sum(axis=0) < 8
        film.artwork(np.tile(np.pad(diamond, 2), (20, 28)), 40, 8)
        self.assertEqual(self.kinds(film), [])

    def test_oval_dots_that_touch_in_chains_are_no_words(self):
        # From memory: dots of a chain screen meet along one axis from about two fifths of coverage.
        for coverage, angle in ((0.4, 15), (0.43, 25), (0.45, 45)):
            film = self.sheet(400)
            film.halftone(40, 5, 34, 26, 35, angle, coverage, stretch=1.8)
            codes, _ = scan(film, ScannerOptics(), 5)
            check = check_scan(Scan(codes, float(film.dpi)), limits_for(self.house_settings))
            self.assertEqual(check.findings, (), (coverage, angle))
            (tint,) = check.tints
            self.assertAlmostEqual(tint.ruling_lpi, 35, delta=1.5)
            self.assertAlmostEqual(tint.coverage, coverage, delta=0.04)

    def test_a_register_cross_and_a_ring(self):
        film = self.sheet()
        film.line([(50, 20), (62, 20)], 0.3)
        film.line([(56, 14), (56, 26)], 0.3)
        film.dot(72, 50, 14)
        film.dot(72, 50, 11, ink=0.0)
        self.assertEqual(self.kinds(film), [])

    def test_a_pinhole_close_to_an_edge(self):
        film = self.sheet()
        film.pinhole(34.4, 20, 0.15)
        self.assertEqual(self.kinds(film), ["pinhole"])

    def test_a_pinhole_in_a_thick_letter(self):
        film = self.sheet()
        film.text(40, 50, 30, "LT", 800)
        film.pinhole(44.5, 40, 0.15)
        self.assertEqual(self.kinds(film), ["pinhole"])

    def test_scratches_down_across_and_out_of_the_black(self):
        for points in ([(15, 8), (15, 30)], [(8, 15), (30, 15.2)], [(20, 20), (45, 26)]):
            film = self.sheet()
            film.scratch(points, 0.08)
            self.assertEqual(self.kinds(film), ["scratch"], points)

    def test_pinholes_beside_a_scratch_are_no_dots_of_its_letters(self):
        # From memory: dirt that scratches a film also leaves pinholes beside the scratch.
        film = self.sheet()
        film.scratch([(18, 8), (18.6, 16)], 0.12)
        film.pinhole(20.5, 10, 0.15)
        film.pinhole(16, 14, 0.15)
        self.assertEqual(self.kinds(film), ["pinhole", "pinhole", "scratch"])

    def test_a_scratch_beside_the_pieces_of_another_is_no_stem(self):
        film = self.sheet()
        film.scratch([(14, 20), (18.5, 24)], 0.12)
        for x, y in ((17, 10), (15.4, 12.2), (13.8, 14.4)):
            film.scratch([(x, y), (x - 1.1, y + 1.5)], 0.12)
        kinds = self.kinds(film)
        self.assertEqual(set(kinds), {"scratch"})
        self.assertGreaterEqual(len(kinds), 2)

    def test_a_faint_scratch_is_one_scratch_and_no_weak_area(self):
        film = self.sheet()
        film.scratch([(8, 10), (20, 18), (32, 30)], 0.07, depth=0.35)
        self.assertEqual(self.kinds(film), ["scratch"])

    def test_small_type_is_told_by_its_strokes(self):
        film = self.sheet()
        film.text(40, 20, 1.9, "printed by the estuary", 400)
        self.assertEqual(self.kinds(film), ["type"])
        # On a fine mesh and a house that trusts it the strokes hold; 1.9 mm is 5.4 pt, below the trade's 8.
        fine = limits_for(HouseSettings({"film.least_line_mm": 0.08}), geometry(140, 31, self.house_settings), "140-31")
        self.assertEqual(self.kinds(film, fine), ["type_size"])

    def test_the_size_of_type_is_told_by_its_letters(self):
        fine = limits_for(HouseSettings({"film.least_line_mm": 0.05}), geometry(140, 31, self.house_settings), "140-31")
        for points in (5, 6, 7):
            film = self.sheet()
            film.text(40, 20, points * MM_PER_POINT, "Regatta at high tide", 700)
            codes, _ = scan(film, ScannerOptics(), 5)
            check = check_scan(Scan(codes, float(film.dpi)), fine)
            answer = [f for f in check.findings if f.kind == "type_size"]
            self.assertEqual(len(answer), len(check.findings), points)
            self.assertTrue(answer, points)
            # From memory: faces differ in their heights by a tenth and more, and small letters are small capitals too.
            widest = max(answer, key=lambda f: f.width_mm)
            self.assertLess(abs(np.log(widest.value / points)), np.log(1.4), widest)
            self.assertTrue(check.passed)
        # From memory: 10 pt and above is above every floor for type without serifs.
        film = self.sheet()
        film.text(40, 20, 10 * MM_PER_POINT, "Regatta at high tide", 500)
        self.assertEqual(self.kinds(film, fine), [])

    def test_a_thin_gap_between_two_blacks(self):
        film = SimulatedFilm(90, 60, 600)
        film.solid(5, 5, 30, 40)
        film.solid(35.12, 5, 30, 40)
        self.assertEqual(len(self.kinds(film)), 1)
        self.assertIn(self.kinds(film)[0], ("thin_line", "scratch"))
        wide = SimulatedFilm(90, 60, 600)
        wide.solid(5, 5, 30, 40)
        wide.solid(35.5, 5, 30, 40)
        self.assertEqual(self.kinds(wide), [])

    def test_a_coarse_scan_still_finds_what_it_can_resolve(self):
        film = self.sheet(dpi=300)
        film.pinhole(20, 20, 0.2)
        film.weak_area(8, 8, 8, 8, 1.6)
        self.assertEqual(self.kinds(film), ["pinhole", "weak_area"])
