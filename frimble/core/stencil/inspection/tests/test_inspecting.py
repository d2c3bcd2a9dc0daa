"""Inspection by photo: what was put into a stencil is found where it lies, and what cannot be told is refused."""

import unittest
from dataclasses import replace

import cv2
import numpy as np
from skimage.registration import phase_cross_correlation

from frimble.core.film.scan.coding import encode
from frimble.core.photo.light import linear
from frimble.core.simulation.stencil_photo import Fault, Shot, camera, make_stencil, photograph
from frimble.core.stencil.inspection import finding
from frimble.core.stencil.inspection.comparing import Limits
from frimble.core.stencil.inspection.inspecting import inspect
from frimble.core.stencil.inspection.kinds import KINDS, FindingKind
from frimble.core.stencil.inspection.levelling import Levelled
from frimble.core.stencil.inspection.reflections import veiled
from frimble.core.stencil.inspection.tests.pictures import DPI, FAULTS, PX_MM, SHOT, film, opened, photo


def inspected(shot: Shot = SHOT, faults=FAULTS, **more):
    return inspect(opened(photo(shot, faults)), film(), DPI, Limits(), **more)


def at(found, fault):
    """The findings whose box holds the fault's middle."""
    return [
        d
        for d in found.findings
        if d.x_mm - 0.5 <= fault.x_mm <= d.x_mm + d.width_mm + 0.5
        and d.y_mm - 0.5 <= fault.y_mm <= d.y_mm + d.height_mm + 0.5
    ]


class FaultTests(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.found = inspected()

    def test_each_fault_is_found_in_its_place_and_nothing_else(self):
        # Source: the simulated stencil, whose faults are known.
        self.assertEqual(self.found.refused, "")
        self.assertEqual(len(self.found.findings), len(FAULTS))
        for fault in FAULTS:
            (one,) = at(self.found, fault)
            self.assertEqual(one.kind, fault.kind)
        self.assertFalse(self.found.passed)

    def test_the_side_is_told_and_the_whole_is_seen(self):
        self.assertEqual(self.found.side, "print")
        self.assertGreater(self.found.seen_share, 0.99)

    def test_sizes_are_true(self):
        # Source: area of a disc, π d² / 4.
        for fault in FAULTS[:2]:
            self.assertAlmostEqual(at(self.found, fault)[0].value, fault.size_mm, delta=0.15)
        self.assertAlmostEqual(at(self.found, FAULTS[2])[0].value, np.pi * 3.4**2 / 4, delta=1.2)
        self.assertAlmostEqual(at(self.found, FAULTS[4])[0].value, 0.5, delta=0.1)

    def test_what_is_closed_is_told_as_a_share_of_its_opening(self):
        # Source: geometry, a disc of 1.2 mm in an ellipse of 20 by 15 mm with a hole of 5 by 4 mm.
        share = 1.2**2 / 4 / (20 * 15 - 5 * 4)
        self.assertAlmostEqual(at(self.found, FAULTS[3])[0].value, share, delta=0.6 * share)

    def test_every_kind_says_why_and_what_to_do(self):
        self.assertEqual(set(KINDS), set(FindingKind))
        for card in KINDS.values():
            self.assertTrue(card.why and card.do)


class SoundTests(unittest.TestCase):
    def test_a_sound_stencil_passes_from_either_side_upright_or_turned(self):
        for shot in (
            replace(SHOT, turn_deg=0, tilt_deg=0, mirrored=False),
            replace(SHOT, turn_deg=95, colour=(0.12, 0.75, 0.3)),
        ):
            found = inspected(shot, ())
            self.assertEqual(found.refused, "")
            self.assertEqual(found.findings, ())
            self.assertEqual(found.side, "print" if shot.mirrored else "squeegee")
            self.assertTrue(found.passed)

    def test_the_corners_may_be_given(self):
        homography = camera(make_stencil(film(), PX_MM, ()), SHOT)
        corners = np.array([[[0, 0], [90, 0], [90, 110], [0, 110]]], np.float64)
        found = inspected(corners=[tuple(c) for c in cv2.perspectiveTransform(corners, homography)[0]])
        self.assertEqual((found.refused, found.side, len(found.findings)), ("", "print", len(FAULTS)))


def bent(picture: np.ndarray, k1: float) -> np.ndarray:
    """The picture as a lens with this barrel gives it.

    Source: Brown, Photogrammetric Engineering 37 (1971), first radial term.
    """
    high, wide = picture.shape[:2]
    v, u = np.mgrid[0:high, 0:wide].astype(np.float32)
    x, y = (u - wide / 2) / wide, (v - high / 2) / wide
    grows = 1 + k1 * 4 * (x * x + y * y)
    return cv2.remap(picture, x * grows * wide + wide / 2, y * grows * wide + high / 2, cv2.INTER_LINEAR)


class PlaceTests(unittest.TestCase):
    def test_a_lens_that_bends_hides_no_fault_and_makes_none(self):
        for k1 in (-0.03, 0.02):
            found = inspect(bent(opened(photo()), k1), film(), DPI, Limits())
            self.assertEqual(len(found.findings), len(FAULTS))
            for fault in FAULTS:
                self.assertEqual([d.kind for d in at(found, fault)], [fault.kind])

    def test_lone_register_marks_far_from_all_shapes_are_no_faults(self):
        # Source: the simulated stencil: a word in the middle, a mark in each corner, one pinhole and nothing else.
        sheet = np.zeros((round(260 * PX_MM), round(200 * PX_MM)), np.uint8)

        def px(*mm):
            return tuple(round(v * PX_MM) for v in mm)

        for row, word in enumerate(("QUAY", "FAIR", "Lugger")):
            place, thick = px(60, 105 + 26 * row), round(2 * PX_MM)
            cv2.putText(sheet, word, place, cv2.FONT_HERSHEY_TRIPLEX, PX_MM, 255, thick, cv2.LINE_AA)
        for x, y in ((6, 6), (194, 6), (6, 254), (194, 254)):
            cv2.line(sheet, px(x - 4, y), px(x + 4, y), 255, round(0.3 * PX_MM))
            cv2.line(sheet, px(x, y - 4), px(x, y + 4), 255, round(0.3 * PX_MM))
        black = sheet > 127
        shot = Shot(turn_deg=31, tilt_deg=9, tilt_towards_deg=200, mirrored=True, fills=0.85)
        data = photograph(make_stencil(black, PX_MM, [Fault("pinhole", 100, 200, 0.8)]), shot, 5)
        found = inspect(opened(data), black, DPI, Limits())
        self.assertEqual((found.refused, [d.kind for d in found.findings]), ("", [FindingKind.PINHOLE]))

    def test_the_film_lies_where_the_camera_saw_it(self):
        light = finding.light_of(opened(photo()))
        found = finding.find_film(light, film(), PX_MM)
        true = camera(make_stencil(film(), PX_MM, ()), SHOT)
        points = np.array([[[10, 10], [80, 10], [80, 100], [10, 100], [45, 55]]], np.float64)
        off = found.camera.seen(points) - cv2.perspectiveTransform(points, true)
        # Source: the simulated camera; some 15 pixels are a millimetre.
        self.assertLess(float(np.abs(off).max()), 15.0)
        straight, _ = finding.refined(light, found, film(), PX_MM, 10.0)
        expected = cv2.resize(film().astype(np.float32), straight.shape[::-1], interpolation=cv2.INTER_AREA)
        # Source: phase correlation of another library.
        shift = phase_cross_correlation(expected, np.nan_to_num(straight), upsample_factor=10)[0]
        self.assertLess(float(np.abs(shift).max()), 1.0)


class RefusedTests(unittest.TestCase):
    def test_another_film_is_refused(self):
        found = inspect(opened(photo()), film()[::-1, ::-1].T.copy(), DPI, Limits())
        other = np.zeros_like(film())
        cv2.circle(view := other.astype(np.uint8), (500, 600), 300, 1, -1)
        self.assertIn("not found", inspect(opened(photo()), view > 0, DPI, Limits()).refused)
        # Turned and mirrored the same film is the same film.
        self.assertEqual(found.refused, "")

    def test_a_blurred_photo_is_refused(self):
        blurred = cv2.GaussianBlur(opened(photo()), (0, 0), 9)
        found = inspect(blurred, film(), DPI, Limits())
        self.assertTrue("blurred" in found.refused)
        self.assertEqual(found.findings, ())

    def test_less_than_half_is_refused(self):
        found = inspect(opened(photo())[:, :850].copy(), film(), DPI, Limits())
        self.assertTrue(found.refused)

    def test_something_else_is_refused(self):
        rng = np.random.default_rng(3)
        noise = rng.integers(0, 255, (1200, 1600, 3), dtype=np.uint8)
        grey = np.full((1200, 1600, 3), 128, np.uint8)
        for picture in (noise, grey):
            self.assertIn("not found", inspect(picture, film(), DPI, Limits()).refused)

    def test_a_reflection_over_the_image_is_refused(self):
        picture = opened(photo()).astype(np.float32)
        ys, xs = np.mgrid[0 : picture.shape[0], 0 : picture.shape[1]]
        glare = np.exp(-(((xs - 1100) / 160) ** 2 + ((ys - 850) / 120) ** 2))
        found = inspect(np.clip(picture + 320 * glare[..., None], 0, 255).astype(np.uint8), film(), DPI, Limits())
        self.assertIn("reflected", found.refused)

    def test_a_small_or_faint_one_is_no_fault_either(self):
        # Common practice, no source. What is mirrored adds as much light in every colour, on stencil and on open mesh.
        sound = linear(opened(photo(faults=())))
        ys, xs = np.mgrid[0 : sound.shape[0], 0 : sound.shape[1]]
        for x, y, wide, light in ((1180, 900, 45, 0.3), (700, 500, 140, 0.28), (1300, 1150, 60, 0.5)):
            mirrored = light * np.exp(-(((xs - x) / wide) ** 2 + ((ys - y) / wide) ** 2))
            seen = encode(np.clip(sound + mirrored[..., None], 0, 1), "srgb", 8)
            found = inspect(seen, film(), DPI, Limits())
            with self.subTest(x):
                self.assertIn("reflected", found.refused)

    def test_a_hole_that_the_level_makes_dim_is_no_reflection(self):
        # Source: blur of a phone's lens, sigma 0.15 mm, beside light that falls off over some millimetres.
        far = np.full((600, 800), 50.0)
        ys, xs = np.mgrid[0:600, 0:800]
        away = np.hypot(xs - 400, ys - 300) / 10
        hole = cv2.GaussianBlur(np.where(away < 2.6, 0.6, 0.0).astype(np.float32), (0, 0), 1.5)
        fading = (0.7 * np.exp(-((away / 5) ** 2))).astype(np.float32)
        broad = np.where(away < 7, 0.6, 0.0).astype(np.float32)
        for share, reflected in ((hole, False), (fading, True), (broad, True)):
            self.assertEqual(veiled(Levelled(share, 0.1, 0.03, 0.01), far, 10.0), reflected)
