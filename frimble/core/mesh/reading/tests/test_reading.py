"""A mesh read off a close photo: count, angle, opening, thread, and when nothing can be said."""

import cv2
import numpy as np

from frimble.core.mesh.reading.answer import nearest
from frimble.core.mesh.reading.reading import read_mesh
from frimble.core.mesh.reading.strip import HEIGHT_MM, LENGTH_MM, black_cells, find_strip
from frimble.core.simulation.mesh_photo import CloseShot, photograph
from frimble.core.testing.case import CoreCase

_STRIP_PX_MM = 20


def strip_raster() -> np.ndarray:
    """(h, w) bool of the printed strip, black True, twenty pixels a mm."""
    raster = np.zeros((round(HEIGHT_MM * _STRIP_PX_MM), round(LENGTH_MM * _STRIP_PX_MM)), bool)
    for x, y, side in black_cells():
        left, top, right, bottom = (round(v * _STRIP_PX_MM) for v in (x, y, x + side, y + side))
        raster[top:bottom, left:right] = True
    return raster


class ReadMeshTests(CoreCase):
    def shot(self, count, thread, strip=None, **how):
        shot = CloseShot(count, thread, **({"size": (1400, 1050)} | how))
        return photograph(shot, np.random.default_rng(7), strip)

    def test_counts_of_usual_meshes_are_true_to_two_in_a_hundred(self):
        # Source: the count that the simulated cloth was woven with.
        for count, thread, px_mm, turn in ((43, 80, 45.0, 8.0), (77, 48, 60.0, 41.0), (140, 31, 80.0, 80.0)):
            with self.subTest(count=count):
                reading = read_mesh(self.shot(count, thread, px_mm=px_mm, turn_deg=turn), self.house_settings, px_mm)
                self.assertEqual(reading.refused, "")
                self.assertAlmostEqual(reading.count_per_cm / count, 1, delta=0.02)
                self.assertLess(reading.count_low, count)
                self.assertGreater(reading.count_high, count)
                self.assertAlmostEqual(reading.angle_deg, turn, delta=1)
                self.assertIn(f"{count}-{thread}", nearest(reading))

    def test_opening_and_thread_add_up_to_the_pitch(self):
        # Source: ISO 9044, pitch = opening + wire diameter.
        reading = read_mesh(self.shot(43, 80, px_mm=45.0), self.house_settings, 45.0)
        self.assertAlmostEqual(reading.opening_um + reading.thread_um, 10_000 / reading.count_per_cm, delta=0.1)
        self.assertAlmostEqual(reading.thread_um, 80, delta=8)
        self.assertEqual(nearest(reading)[0], "43-80")

    def test_a_thread_of_two_pixels_is_not_measured(self):
        reading = read_mesh(self.shot(140, 31, px_mm=60.0), self.house_settings, 60.0)
        self.assertAlmostEqual(reading.count_per_cm, 140, delta=2.8)
        self.assertIsNone(reading.thread_um)
        self.assertIsNone(reading.opening_um)

    def test_the_strip_tells_the_scale_and_takes_the_tilt_out(self):
        # Source: the size the strip is printed in; a camera tilted by 8° sees a length shortened to cos 8° = 0.990.
        photo = self.shot(54, 64, strip_raster(), px_mm=45.0, tilt_deg=8, tilt_towards_deg=60)
        reading = read_mesh(photo, self.house_settings)
        self.assertAlmostEqual(reading.count_per_cm / 54, 1, delta=0.02)
        self.assertIn("scale strip", reading.rests_on)

    def test_the_strip_is_found_by_its_own_size(self):
        grey = cv2.copyMakeBorder(np.where(strip_raster(), 0, 255).astype(np.uint8), 40, 40, 40, 40, 0, value=255)
        scale = find_strip(grey)
        along, across = np.linalg.norm(scale.px_per_mm(), axis=0)
        self.assertAlmostEqual(along, _STRIP_PX_MM, delta=0.1)
        self.assertAlmostEqual(across, _STRIP_PX_MM, delta=0.2)

    def test_without_a_scale_nothing_is_guessed(self):
        self.assertIn("scale", read_mesh(self.shot(43, 80, px_mm=45.0), self.house_settings).refused)

    def test_too_coarse_a_photo_is_refused(self):
        # Source: sampling theorem, two pixels a period at the least.
        for px_mm in (15.0, 20.0):
            with self.subTest(px_mm=px_mm):
                reading = read_mesh(self.shot(140, 31, px_mm=px_mm, blur_px=1.0), self.house_settings, px_mm)
                self.assertTrue(reading.refused)
                self.assertIsNone(reading.count_per_cm)

    def test_what_is_no_weave_is_refused(self):
        rng = np.random.default_rng(1)
        blank = np.clip(190 + rng.normal(0, 4, (1050, 1400, 3)), 0, 255).astype(np.uint8)
        words = np.full((1050, 1400, 3), 255, np.uint8)
        for k in range(20):
            cv2.putText(words, "Quay Fair, Lugger Week", (20, 50 + 50 * k), 0, 1.4, (0, 0, 0), 3)
        stripes = np.repeat(((np.sin(np.arange(1400) / 2) + 1) * 120)[None, :, None], 1050, 0).repeat(3, 2)
        for name, picture in (("blank", blank), ("words", words), ("stripes", stripes.astype(np.uint8))):
            with self.subTest(name):
                self.assertIn("No weave", read_mesh(picture, self.house_settings, 50.0).refused)

    def test_a_scale_that_gives_no_mesh_is_asked_again(self):
        refused = read_mesh(self.shot(43, 80, px_mm=45.0), self.house_settings, 450.0).refused
        self.assertIn("no mesh for printing", refused)
