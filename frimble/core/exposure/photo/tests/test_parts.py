"""The parts of reading a photo, each against something worked out another way."""

import math
from dataclasses import replace
from functools import cache

import cv2
import numpy as np
from scipy import integrate, sparse, special

from frimble.core.conclusions import RuleViolation
from frimble.core.exposure.photo import closing, concluding, curing, finding, lighting, measuring, sizes
from frimble.core.exposure.photo.curing import Cure
from frimble.core.exposure.target.geometry import PITCH_WIDTHS
from frimble.core.simulation.photo import (
    COLOURS,
    HiddenStencil,
    PhoneCamera,
    photograph,
    stencil_light,
)
from frimble.core.simulation.screen.light import spread_that_closes
from frimble.core.testing.case import CoreCase
from frimble.core.testing.step_photos import DPI, edges_mm, film

RATIO, FULL = 5.0, 40.0
TIMES = tuple(FULL * 1.3**k for k in range(-3, 6))


@cache
def photographed(uneven=0.08, level=0.7, **coat):
    """(picture, target, stencil) of an ordinary test on an uneven table."""
    target, drawn = film(9)
    stencil = HiddenStencil(FULL / RATIO, RATIO, 40.0, 3.0, 0.0, 0.0, COLOURS["blue"])
    lit = stencil_light(drawn, DPI, edges_mm(target), TIMES, stencil)
    data = photograph(lit, PhoneCamera(width=2800, tilt_deg=(5, -4), turn_deg=3, uneven=uneven, level=level), 21)
    picture = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR)[:, :, ::-1]
    return np.ascontiguousarray(picture), target, stencil


def openness(width, time, spread, dense=0.7):
    """How open a field of openings looks, by adaptive integration over one pitch."""
    pitch, gel = PITCH_WIDTHS * width, FULL / RATIO

    def light_through(x):
        dark = sum(
            special.ndtr((x - n * pitch + width / 2) / spread) - special.ndtr((x - n * pitch - width / 2) / spread)
            for n in (-2, -1, 0, 1, 2)
        )
        cured = min(max(math.log(max(1 - dark, 1e-9) * time / gel) / math.log(RATIO), 0), 1)
        return 10 ** (-dense * cured)

    mean = integrate.quad(light_through, 0, pitch / 2, limit=200)[0] / (pitch / 2)
    return (mean - 10**-dense) / (1 - 10**-dense) * PITCH_WIDTHS


class FindingTests(CoreCase):
    def test_every_marker_is_found_where_it_is(self):
        picture, target, _ = photographed()
        place = finding.find(picture, target)
        self.assertEqual(place.found, len(target.fiducials))
        self.assertLess(place.off_mm, 0.15)
        self.assertFalse(place.mirrored)

    def test_the_homography_is_the_general_librarys(self):
        # Source: OpenCV's plain least-squares homography on the same corners; the bend of this lens is none.
        picture, target, _ = photographed()
        place = finding.find(picture, target)
        corners, _, _ = finding._corners(picture, {f.number for f in target.fiducials})
        mm = np.concatenate([finding._corners_mm(f) for f in target.fiducials if f.number in corners])
        seen = np.concatenate([corners[f.number] for f in target.fiducials if f.number in corners])
        plain, _ = cv2.findHomography(mm, seen, 0)
        there = cv2.perspectiveTransform(mm.reshape(-1, 1, 2), plain).reshape(-1, 2)
        self.assertLess(np.abs(place.at(mm) - there).max(), 1.0)
        self.assertLess(abs(place.camera.lens.a), 0.005)

    def test_markers_in_another_order_are_another_film(self):
        picture, target, _ = photographed()
        numbers = [f.number for f in target.fiducials]
        turned = [replace(f, number=n) for f, n in zip(target.fiducials, numbers[5:] + numbers[:5], strict=True)]
        with self.assertRaises(RuleViolation):
            finding.find(picture, replace(target, fiducials=tuple(turned)))


class MeasuringTests(CoreCase):
    def measured(self, **given):
        picture, target, stencil = photographed(**given)
        return measuring.measure(measuring.straighten(finding.find(picture, target), target), target), stencil

    def test_density_rises_with_ln_time_and_stops_at_full_cure(self):
        # Source: Jacobs (1992), working curve, worked out here step by step.
        result, stencil = self.measured()
        of_full = np.clip(np.log(np.array(TIMES) / stencil.gel_s) / math.log(RATIO), 0, 1)
        self.assertLess(np.abs(result.density / stencil.colour[result.channel] - of_full).max(), 0.04)

    def test_the_tables_unevenness_does_not_reach_the_densities(self):
        even, _ = self.measured(uneven=0.0)
        uneven, _ = self.measured(uneven=0.08)
        self.assertLess(np.abs(even.density - uneven.density).max(), 0.02)
        self.assertLess(uneven.differs.max(), 0.03)
        self.assertEqual(uneven.glare, ())

    def test_openings_close_from_the_finest(self):
        result, _ = self.measured()
        longest = result.open_share[-1]
        self.assertTrue(np.all(np.diff(longest) > 0))
        self.assertTrue(np.all(result.open_share[-1] < result.open_share[4]))
        self.assertTrue(np.all(result.lines[-1] > result.lines[4]))

    def test_dots_are_as_open_as_drawn_just_past_full_cure(self):
        # By hand: with little creeping a field of dots is as open as it was drawn.
        target, drawn = film(9)
        stencil = HiddenStencil(FULL / RATIO, RATIO, 24.0, 3.0, 0.0, 0.0, COLOURS["blue"])
        lit = stencil_light(drawn, DPI, edges_mm(target), TIMES, stencil)
        data = photograph(lit, PhoneCamera(width=2800, uneven=0.0), 5)
        picture = np.ascontiguousarray(cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR)[:, :, ::-1])
        result = measuring.measure(measuring.straighten(finding.find(picture, target), target), target)
        tints = sorted({p.tint for p in target.patches_of_kind("dots")})
        self.assertLess(np.abs(result.dots[3] - tints).max(), 0.025)
        self.assertTrue(np.all(np.diff(result.dots[3:, 0]) < 0))

    def test_openings_are_as_open_as_the_integral_of_their_light(self):
        # Source: scipy's adaptive quadrature of the same light and the same working curve.
        result, stencil = self.measured()
        for step in (4, 5, 6):
            for width, share in zip(result.widths_um[1:], result.open_share[step, 1:], strict=True):
                expected = openness(width, TIMES[step], stencil.spread_um, stencil.colour[result.channel])
                self.assertAlmostEqual(share, expected, delta=0.06)

    def test_sizes_are_shares_of_what_was_drawn_each_at_its_place(self):
        # By hand: half of every opening and of the ninth dots, lines a fifth wider than drawn.
        target, _ = film(9)
        step = concluding.PhotoStep(4, FULL, "good", 0.4, 1, 0, None, None, (0.5,) * 7, (1.2,) * 5, (0.05, 0.45))
        for size in sizes.sizes(step, target):
            share = {"openings": 0.5, "lines": 1.2, "dots": 0.5}[size.kind]
            self.assertAlmostEqual(size.measured / size.drawn, share, delta=0.005)
        self.assertEqual(len(sizes.sizes(step, target)), 7 + 5 + 2)

    def test_threads_do_not_move_the_mean_of_a_patch(self):
        # By hand: a ripple of the mesh averages to nothing, wherever in it the patch begins.
        means = []
        for phase in np.linspace(0, 2 * math.pi, 7):
            ripple = (120 + 60 * np.cos(np.arange(70) * 0.7 + phase)).astype(np.uint8)
            means.append(measuring._mean_light(np.broadcast_to(ripple[:, None, None], (70, 40, 3)))[0])
        self.assertLess(np.ptp(means) / np.mean(means), 0.005)

    def test_an_overexposed_photo_is_refused(self):
        with self.assertRaises(RuleViolation) as caught:
            self.measured(level=1.6)
        self.assertIn("burnt out", caught.exception.reason)

    def test_weights_blind_to_the_stencil_do_not_see_it(self):
        for colour in COLOURS.values():
            mix = lighting._blind_to(np.array(colour))
            self.assertAlmostEqual(float(mix.sum()), 1)
            self.assertAlmostEqual(float(mix @ np.array(colour)), 0, places=6)
        # A grey stencil cannot be unseen: the even mix stays.
        self.assertTrue(np.allclose(lighting._blind_to(np.full(3, 0.6)), 1 / 3))

    def test_a_field_with_levels_beside_it_is_solved_as_one_system(self):
        # Source: numpy's dense solver on the whole of it.
        rng = np.random.default_rng(5)
        half = np.tril(np.triu(rng.standard_normal((12, 12)), -2), 2)
        inner, border = half @ half.T + 12 * np.eye(12), rng.standard_normal((12, 3))
        corner, right, low = 40 * np.eye(3), rng.standard_normal(12), rng.standard_normal(3)
        x, y = lighting._solved(sparse.csr_matrix(inner), border, corner, right, low)
        whole = np.linalg.solve(np.block([[inner, border], [border.T, corner]]), np.append(right, low))
        self.assertTrue(np.allclose(np.append(x, y), whole, atol=1e-5))

    def test_glare_that_touches_no_patch_of_a_step_is_said_of_the_test(self):
        measured = replace(self.measured()[0], lit=())
        with self.assertRaises(RuleViolation) as caught:
            concluding._refuse_glare(measured, True)
        self.assertIn("Glare lies on the test:", caught.exception.reason)

    def test_a_blurred_edge_is_measured_by_its_steepest_place(self):
        # Source: scipy's normal distribution: a step blurred by sigma is its cumulative.
        for sigma in (1.5, 3.0, 5.0):
            run = 0.2 + 0.5 * special.ndtr(np.arange(-20, 21) / sigma)
            self.assertAlmostEqual(measuring._edge_sigma(run, 0.5), sigma, delta=0.08 * sigma)


class CuringTests(CoreCase):
    def densities(self, full, times=TIMES, thick=0.8, noise=0.0, seed=1):
        x = np.clip(np.log(np.array(times) * RATIO / full) / math.log(RATIO), 0, 1)
        return thick * x + np.random.default_rng(seed).normal(0, noise, len(times))

    def cure(self, density, times=TIMES):
        return curing.find_cure(times, density, np.full(len(times), 0.01), self.house_settings)

    def test_the_knee_is_found_wherever_it_lies_between_steps(self):
        for full in (28, 33, 40, 46):
            result = self.cure(self.densities(full))
            self.assertAlmostEqual(result.full_s / full, 1, delta=0.04)
            self.assertTrue(result.range_s()[0] < full < result.range_s()[1])

    def test_noise_widens_and_does_not_shift(self):
        result = [self.cure(self.densities(40, noise=0.02, seed=k)) for k in range(30)]
        self.assertAlmostEqual(float(np.mean([f.ln_full for f in result])), math.log(40), delta=0.03)
        held = [f.range_s()[0] < 40 < f.range_s()[1] for f in result]
        self.assertGreaterEqual(sum(held), 25)

    def test_no_knee_in_sight_is_told_as_such(self):
        self.assertGreater(self.cure(self.densities(200)).above, 0.5)
        self.assertGreater(self.cure(self.densities(5)).below, 0.2)

    def test_steps_that_came_off_as_a_whole_tell_nothing(self):
        density = self.densities(40)
        density[0] = 0.0
        self.assertAlmostEqual(self.cure(density).full_s / 40, 1, delta=0.05)
        self.assertIsNone(self.cure(np.where(np.arange(9) < 7, 0.0, density)))


class ClosingTests(CoreCase):
    cure = Cure(math.log(FULL), 0.02, math.log(RATIO), 0.7, 0.0, 0.0, 0.01)

    def test_the_expected_openness_is_the_integral(self):
        # Source: scipy's adaptive quadrature of the same light and the same working curve.
        for width, time, spread in ((127, 60, 40), (169, 90, 30), (254, 140, 55), (508, 60, 45)):
            one = np.array([float(spread)]), np.array([0.0])
            result = closing._expected(np.array([float(time)]), width, *one, 0.0, self.cure)[0, 0]
            self.assertAlmostEqual(result, openness(width, time, spread), delta=0.02)

    def test_the_creeping_is_found_again_from_what_it_did(self):
        widths = (84.67, 127.0, 169.33, 211.67, 338.67)
        times = [t for t in TIMES if t >= FULL]
        for spread in (28, 40, 55):
            shares = np.array([[openness(w, t, spread) for w in widths] for t in times])
            result = closing.find_creep(times, shares, widths, np.zeros(len(times)), self.cure)
            self.assertAlmostEqual(result.spread_um / spread, 1, delta=0.06)
            true = HiddenStencil(FULL / RATIO, RATIO, spread, 9.0, 0, 0.0).closes_s(150)
            self.assertAlmostEqual(result.closes(150)[0], math.log(true), delta=0.12)
            self.assertLess(result.misfit, 0.03)

    def test_wider_openings_close_later_and_a_leak_closes_all(self):
        creep = closing.Creep(np.array([40.0]), np.array([0.0]), np.array([1.0]), 0.0, 0.0, 8.0)
        ends = [creep.closes(w)[0] for w in (85, 127, 169, 254)]
        self.assertEqual(ends, sorted(ends))
        leaking = closing.Creep(np.array([40.0]), np.array([0.0]), np.array([1.0]), 0.05, 0.0, 8.0)
        # By hand: through black that lets a twentieth through, all has gelled at twenty times the gel time.
        self.assertAlmostEqual(leaking.closes(2000)[0], math.log(8 * 20), delta=0.01)


class SimulatorTests(CoreCase):
    """The simulated stencil follows the law it is said to follow, worked out apart from it."""

    def test_light_through_plain_areas_is_the_working_curve(self):
        target, drawn = film(9)
        stencil = HiddenStencil(8.0, 5.0, 30.0, 3.0, 0.0, 0.0, (0.9, 0.4, 0.1))
        lit = stencil_light(drawn, DPI, edges_mm(target), TIMES, stencil)
        px = 1 / target.pixel_mm
        for k, time in enumerate(TIMES):
            solid = target.patches_of(k + 1, "solid")[0]
            x, y = (round(v * px) for v in solid.middle)
            share = min(1.0, math.log(time / 8) / math.log(5))
            self.assertAlmostEqual(lit[y, x, 0] / 65535, 10 ** (-0.9 * share), delta=0.005)
            opened = target.patches_of(k + 1, "open")[0]
            x, y = (round(v * px) for v in opened.middle)
            self.assertAlmostEqual(lit[y, x, 0] / 65535, 1.0, delta=0.001)

    def test_a_leak_scums_at_its_own_time(self):
        # By hand: black of density 1 lets a tenth through, so it gels at ten times the gel time.
        stencil = HiddenStencil(8.0, 5.0, 30.0, 1.0, 0.0, 0.0)
        self.assertAlmostEqual(stencil.closes_s(5000), 80, delta=0.1)

    def test_the_spread_that_closes_an_opening_closes_it(self):
        spread = spread_that_closes(150, 12)
        self.assertAlmostEqual(HiddenStencil(3.0, 5.0, spread, 9.0, 0.0, 0.0).closes_s(150), 36, delta=0.01)
