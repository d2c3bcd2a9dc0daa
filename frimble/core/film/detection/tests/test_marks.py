"""Marks of a scan, measured on pictures whose marks are known to the pixel."""

import cv2
import numpy as np

from frimble.core.film.detection import marks
from frimble.core.film.scan.grid import Scan, cells_of, coarser, levels_of
from frimble.core.testing.case import CoreCase
from frimble.core.units import MM_PER_INCH

DPI = 600
PIXEL_MM = MM_PER_INCH / DPI
CLEAR, BLACK = 230, 4


class MarkTests(CoreCase):
    def setUp(self):
        super().setUp()
        self.codes = np.full((900, 1200), CLEAR, np.uint8)
        self.codes[100:800, 100:700] = BLACK

    def scan(self) -> Scan:
        return Scan(self.codes, float(DPI), "linear")

    def seen(self):
        """(scan, levels, bright marks, dark marks)."""
        scan = self.scan()
        cells = cells_of(scan)
        levels = levels_of(scan, cells)
        grey = scan.grey()
        dark = marks.dark_marks(grey, coarser(grey, scan), scan, cells, levels)
        return scan, levels, marks.bright_marks(grey, scan, cells, levels), dark

    def nearest(self, found, column, row) -> int:
        return int(np.hypot(*(found.centres - np.array([column, row])).T).argmin())

    def test_a_square_hole_is_met_where_it_is_and_as_large(self):
        self.codes[300:306, 400:408] = CLEAR
        _, _, bright, _ = self.seen()
        k = self.nearest(bright, 403.5, 302.5)
        # Source: the centre of pixels a to b lies at (a + b) / 2.
        np.testing.assert_allclose(bright.centres[k], (403.5, 302.5))
        self.assertEqual(bright.boxes[k].tolist(), [400, 300, 8, 6])
        self.assertEqual(bright.areas[k], 48)

    def test_blur_does_not_change_the_light_a_hole_passes(self):
        # Source: a lens spreads light and keeps its sum; the area of a disc is π/4 of its diameter squared.
        sheet = np.full(self.codes.shape, float(BLACK))
        cv2.circle(sheet, (400 * 16, 300 * 16), 5 * 16, float(CLEAR), -1, cv2.LINE_8, 4)
        area = (sheet > BLACK).sum() * PIXEL_MM**2
        for sigma in (0.4, 0.9, 1.4):
            with self.subTest(sigma):
                self.codes[200:400, 300:500] = np.rint(cv2.GaussianBlur(sheet, (0, 0), sigma))[200:400, 300:500]
                scan, levels, bright, _ = self.seen()
                box = bright.boxes[self.nearest(bright, 400, 300)]
                passed = marks.passed_light(scan, levels, box, black_is_ground=True)
                self.assertLess(abs(passed / area - 1), 0.06)

    def test_the_diameter_is_that_of_a_disc_of_the_area(self):
        # Source: geometry, π/4 × 0.2² = 0.0314 mm².
        self.assertAlmostEqual(marks.diameter_mm(0.031416), 0.2, 4)
        self.assertEqual(marks.diameter_mm(-1), 0)

    def test_a_hole_in_the_black_is_surrounded_and_one_at_its_edge_by_half(self):
        scan, levels, *_ = self.seen()
        inside, at_edge, outside = ([x, 400, 4, 4] for x in (400, 698, 900))
        self.assertEqual(marks.dark_about(scan, levels, np.array(inside), 0.08, 0.3), 1)
        # Source: geometry; the edge runs through the middle of the frame.
        self.assertAlmostEqual(marks.dark_about(scan, levels, np.array(at_edge), 0.08, 0.3), 0.5, 1)
        self.assertEqual(marks.dark_about(scan, levels, np.array(outside), 0.08, 0.3), 0)

    def test_a_mark_over_two_tiles_is_met_once(self):
        wide = np.full((400, 2400), CLEAR, np.uint8)
        wide[50:350, 50:2300] = BLACK
        wide[200:206, 1020:1029] = CLEAR  # tiles meet at 1024
        self.codes = wide
        _, _, bright, _ = self.seen()
        self.assertEqual(len(bright.areas), 1)
        self.assertEqual(bright.areas[0], 54)

    def test_a_dark_speck_and_a_dark_shape_are_kept_apart(self):
        self.codes[400:410, 900:912] = BLACK
        _, _, _, dark = self.seen()
        speck = self.nearest(dark, 905.5, 404.5)
        self.assertFalse(dark.larger[speck])
        self.assertEqual(dark.areas[speck], 120)
        shape = int(dark.shape_at(np.array([400]), np.array([400]))[0])
        self.assertTrue(dark.larger[shape])
        self.assertEqual(dark.shape_at(np.array([1000]), np.array([400]))[0], -1)

    def test_a_shape_has_its_outline_in_its_box(self):
        _, _, _, dark = self.seen()
        shape = int(dark.shape_at(np.array([400]), np.array([400]))[0])
        outline = dark.outline(shape)
        # Source: the rectangle that was drawn fills its own box.
        self.assertEqual(outline.min(), 1)
        self.assertAlmostEqual(outline.shape[0] * dark.shrink, 700, delta=2 * dark.shrink)
        self.assertAlmostEqual(outline.shape[1] * dark.shrink, 600, delta=2 * dark.shrink)
