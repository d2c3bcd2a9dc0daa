"""The lattice of a cloth from its spectrum, and the slit its threads leave, held against waves and slits known exactly."""

import math

import numpy as np

from frimble.core.mesh.reading.cell import slits
from frimble.core.mesh.reading.weave import Weave, wave, weave_of
from frimble.core.testing.case import CoreCase

_SIDE = 512


def cloth(pitch_px, angle_deg, opening, blur=0.0, base=0.2, side=_SIDE):
    """(n, n) light through a square cloth: a product of two slits, their edges blurred by so many pixels."""
    y, x = np.mgrid[0:side, 0:side].astype(float)
    turn = math.radians(angle_deg)
    across = (x * math.cos(turn) + y * math.sin(turn)) / pitch_px
    along = (y * math.cos(turn) - x * math.sin(turn)) / pitch_px

    def slit(at):
        light = np.full(at.shape, opening)
        # Source: Fourier series of a slit, each wave weakened by the Gaussian's own transform.
        for n in range(1, 12):
            strength = 2 * math.sin(math.pi * n * opening) / (math.pi * n)
            light = light + strength * math.exp(-2 * (math.pi * n * blur / pitch_px) ** 2) * np.cos(
                2 * math.pi * n * at
            )
        return light

    return (base + (1 - base) * slit(across) * slit(along)).astype(np.float32)


class WeaveTests(CoreCase):
    def test_count_and_angle_come_out_exactly(self):
        for pitch, angle in ((6.3, 0.0), (9.7, 12.0), (14.2, 45.0), (21.0, 71.0)):
            with self.subTest(pitch=pitch, angle=angle):
                weave = weave_of(cloth(pitch, angle, 0.55, 0.8))
                for vector in weave.vectors:
                    self.assertAlmostEqual(1 / np.hypot(*vector) / pitch, 1, delta=0.002)
                    turned = math.degrees(math.atan2(vector[1], vector[0]))
                    self.assertAlmostEqual((turned - angle + 45) % 90 - 45, 0, delta=0.2)

    def test_the_over_and_under_of_the_weave_is_not_taken_for_its_threads(self):
        # Source: plain weave: threads lie over at every other crossing, a chequer of twice the pitch along both ways.
        light = cloth(12.0, 20.0, 0.5, 0.8)
        y, x = np.mgrid[0:_SIDE, 0:_SIDE].astype(float)
        turn = math.radians(20)
        across = (x * math.cos(turn) + y * math.sin(turn)) / 12
        along = (y * math.cos(turn) - x * math.sin(turn)) / 12
        chequer = 0.05 * np.cos(math.pi * across) * np.cos(math.pi * along)
        weave = weave_of((light + chequer).astype(np.float32))
        self.assertAlmostEqual(1 / np.hypot(*weave.vectors[0]), 12, delta=0.1)

    def test_too_few_threads_in_view_are_not_counted_twice(self):
        # Source: Fourier series of a slit: at three quarters open its second wave is 0.71 of the first.
        for pitch, angle in ((85.0, 20.0), (100.0, 3.0)):
            with self.subTest(pitch):
                self.assertIsNone(weave_of(cloth(pitch, angle, 0.75, 2.0)))

    def test_one_thread_system_alone_is_no_weave(self):
        x = np.arange(_SIDE)
        stripes = np.repeat((0.5 + 0.4 * np.cos(2 * np.pi * x / 9))[None], _SIDE, 0).astype(np.float32)
        self.assertIsNone(weave_of(stripes))

    def test_noise_and_darkness_are_none(self):
        rng = np.random.default_rng(2)
        self.assertIsNone(weave_of(rng.uniform(0.2, 0.8, (_SIDE, _SIDE)).astype(np.float32)))
        self.assertIsNone(weave_of(np.zeros((_SIDE, _SIDE), np.float32)))

    def test_contrast_falls_as_the_blur_says(self):
        # Source: a Gaussian of σ weakens a wave of pitch p by exp(−2 π² σ² ÷ p²).
        sharp, soft = (weave_of(cloth(10.0, 5.0, 0.5, blur)).contrast for blur in (0.5, 2.0))
        self.assertAlmostEqual(soft / sharp, math.exp(-2 * math.pi**2 * (2.0**2 - 0.5**2) / 100), delta=0.03)

    def test_a_wave_is_summed_to_its_strength_and_phase(self):
        x = np.arange(200)
        values = np.repeat(np.cos(2 * np.pi * 0.05 * x + 0.7)[None], 200, 0)
        summed = wave(values, np.array([0.05, 0.0])) / values.size
        self.assertAlmostEqual(abs(summed), 0.5, places=3)
        self.assertAlmostEqual(float(np.angle(summed)), 0.7, places=2)


class SlitTests(CoreCase):
    def test_the_opening_is_found_through_blur_and_light_that_threads_pass(self):
        # Source: the slit that the cloth was made with.
        for opening, blur, base in ((0.4, 0.8, 0.1), (0.55, 1.4, 0.3), (0.68, 1.0, 0.5)):
            with self.subTest(opening=opening, blur=blur):
                light = cloth(14.0, 17.0, opening, blur, base)
                weave = weave_of(light)
                for slit in slits([light], [weave]):
                    self.assertAlmostEqual(slit.opening, opening, delta=0.02)
                    self.assertTrue(slit.resolved)

    def test_edges_that_run_into_one_another_are_not_resolved(self):
        light = cloth(8.0, 17.0, 0.5, 2.2)
        weave = weave_of(light)
        self.assertIsInstance(weave, Weave)
        self.assertFalse(all(slit.resolved for slit in slits([light], [weave])))
