"""The step-test film: whole pixels, true scale, and files that say the same."""

import io
import re

import cv2
import numpy as np
import pypdfium2
from PIL import Image

from frimble.core.exposure.target import geometry, writers
from frimble.core.exposure.target.drawing import DICTIONARY
from frimble.core.testing.case import CoreCase

MM_PER_INCH = 25.4


class FilmTests(CoreCase):
    def setUp(self):
        self.film = geometry.design(9, 600, self.house_settings)

    def test_lines_are_whole_pixels_and_say_their_true_width(self):
        for dpi in (300, 600, 720, 1200, 1440):
            film = geometry.design(9, dpi, self.house_settings)
            for width in film.opening_widths_um:
                pixels = width / (MM_PER_INCH * 1000 / dpi)
                with self.subTest(dpi=dpi, width=width):
                    self.assertAlmostEqual(pixels, round(pixels), places=3)
        # Source: 1 inch = 25.4 mm; a 600 dpi pixel is 42.3 µm.
        self.assertAlmostEqual(self.film.pixel_um, 42.333, places=2)
        self.assertEqual(self.film.opening_widths_um[:2], (84.67, 127.0))

    def test_the_ruling_on_the_film_has_the_black_it_says(self):
        drawn = writers.raster(self.film)
        px = 1 / self.film.pixel_mm
        for patch in self.film.patches_of_kind("openings")[:7]:
            x, y, high = (round(v * px) for v in (patch.x_mm, patch.y_mm, patch.height_mm))
            part = drawn[y : y + high, x : x + round(patch.ruled_mm * px)]
            self.assertAlmostEqual(float((part == 0).mean()), 1 / 3, places=6)

    def test_a_field_of_dots_has_the_black_it_says(self):
        for dpi in (600, 720, 1440):
            film = geometry.design(9, dpi, self.house_settings)
            drawn, pitch = writers.raster(film), geometry.dot_pitch_px(film.pixel_mm)
            for patch in film.patches_of(4, "dots"):
                x, y = (round(v / film.pixel_mm) for v in (patch.x_mm, patch.y_mm))
                high, wide = (round(v / film.pixel_mm) // pitch * pitch for v in (patch.height_mm, patch.width_mm))
                with self.subTest(dpi=dpi, tint=patch.tint):
                    self.assertAlmostEqual(float((drawn[y : y + high, x : x + wide] == 0).mean()), patch.tint, places=5)
                    self.assertAlmostEqual(min(patch.tint, 1 - patch.tint), 0.1, delta=0.015)

    def test_every_step_has_two_open_and_two_solid_patches_far_apart_and_markers_lie_on_all_sides(self):
        for steps in (3, 9, 21):
            film = geometry.design(steps, 600, self.house_settings)
            for step in film.steps:
                for kind in ("open", "solid"):
                    ys = [p.y_mm for p in film.patches_of(step.index, kind)]
                    self.assertGreater(max(ys) - min(ys), 100)
            xs, ys = zip(*(f.middle for f in film.fiducials), strict=True)
            self.assertGreaterEqual(min(f.width_mm for f in film.fiducials), 9.99)
            self.assertGreaterEqual(len(film.fiducials), 6)
            self.assertTrue(min(xs) < 20 and max(xs) > 257 and min(ys) < 20 and max(ys) > 170)

    def test_markers_on_the_film_are_read_by_a_general_library(self):
        # Black ground on the film washes open and is bright on the light table: the film itself shows them inverted.
        wide = cv2.aruco.DetectorParameters()
        wide.adaptiveThreshWinSizeMax = 91
        detector = cv2.aruco.ArucoDetector(cv2.aruco.getPredefinedDictionary(DICTIONARY), wide)
        lit = cv2.resize(255 - writers.raster(self.film), None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
        lit = cv2.copyMakeBorder(lit, 60, 60, 60, 60, cv2.BORDER_CONSTANT, value=0)
        _, numbers, _ = detector.detectMarkers(lit)
        self.assertEqual(set(numbers.ravel().tolist()), {f.number for f in self.film.fiducials})

    def test_nothing_of_a_strip_lies_on_another_part(self):
        for patch in self.film.patches_of_kind("openings") + self.film.patches_of_kind("solid"):
            strip = self.film.steps[patch.step - 1]
            self.assertGreaterEqual(patch.x_mm, strip.x_mm)
            self.assertLessEqual(patch.x_mm + patch.width_mm, strip.x_mm + strip.width_mm + 1e-6)
            for other in self.film.patches:
                if other is not patch and other.step == patch.step:
                    apart = other.y_mm >= patch.y_mm + patch.height_mm or other.y_mm + other.height_mm <= patch.y_mm
                    self.assertTrue(apart, (patch.kind, other.kind))

    def test_png_pdf_and_svg_are_of_one_size(self):
        image = Image.open(io.BytesIO(writers.png(self.film)))
        self.assertEqual(image.mode, "1")
        self.assertAlmostEqual(image.size[0] / image.info["dpi"][0] * MM_PER_INCH, self.film.width_mm, places=1)
        page = pypdfium2.PdfDocument(writers.pdf(self.film))[0]
        # Source: ISO 216, A4 is 210 by 297 mm; a point of PDF is 1/72 inch (ISO 32000-1).
        self.assertAlmostEqual(page.get_size()[0] / 72 * MM_PER_INCH, 297, places=1)
        result = page.render(scale=600 / 72, grayscale=True).to_numpy()
        result = result[..., 0] if result.ndim == 3 else result
        dark = np.nonzero((result < 128).any(0))[0]
        drawn = np.nonzero((writers.raster(self.film) < 128).any(0))[0]
        self.assertAlmostEqual(np.ptp(dark), np.ptp(drawn), delta=2)
        width = re.search(rb'width="([\d.]+)mm"', writers.svg(self.film))[1]
        self.assertAlmostEqual(float(width), self.film.width_mm, places=3)

    def test_the_scale_bar_is_two_hundred_millimetres_on_the_film(self):
        bar = self.film.scale_bar
        self.assertAlmostEqual(bar.width_mm, 200, delta=self.film.pixel_mm)

    def test_geometry_comes_back_from_its_file(self):
        again = geometry.from_json(writers.geometry(self.film).decode())
        self.assertEqual(len(again.patches), len(self.film.patches))
        self.assertAlmostEqual(again.steps[4].x_mm, self.film.steps[4].x_mm, places=3)

    def test_what_is_no_film_is_refused(self):
        self.assertInvalidInput("target", "cannot be read", geometry.from_json, "{}")
        self.assertInvalidInput("target", "cannot be read", geometry.from_json, "not json")
        self.assertInvalidInput("target", "step-test film 1", geometry.from_json, '{"format": "other"}')
        self.assertInvalidInput("steps", "between 3 and 21", geometry.design, 2, 600, self.house_settings)
        self.assertInvalidInput("dpi", "between 300 and 2880", geometry.design, 9, 72, self.house_settings)
