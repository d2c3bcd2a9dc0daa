"""The level of open mesh: told where shapes are, and not run away with where none are."""

import cv2
import numpy as np

from frimble.core.stencil.inspection.levelling import levelled
from frimble.core.testing.case import CoreCase

_PX_MM = 10.0


def film(*boxes):
    """(h, w) bool of 120 by 90 mm, open in boxes of mm: left, top, width, height."""
    sheet = np.zeros((900, 1200), bool)
    for x, y, wide, high in boxes:
        sheet[y * 10 : (y + high) * 10, x * 10 : (x + wide) * 10] = True
    return sheet


def table(seed: int) -> np.ndarray:
    """(h, w) light of a panel that waves round its middle."""
    coarse = np.random.default_rng(seed).normal(1, 0.06, (4, 4)).astype(np.float32)
    return cv2.resize(coarse, (1200, 900), interpolation=cv2.INTER_CUBIC)


class LevelTests(CoreCase):
    def shares(self, seed, openings, fine):
        """Share of open mesh in the middle of the fine opening, with only so much light through the coat."""
        sheet = film(*openings, fine)
        light = table(seed) * np.where(sheet, 0.4, 0.04)
        level = levelled(light.astype(np.float32), sheet, _PX_MM)
        x, y, wide, high = fine
        return float(level.share[(y * 10 + high * 5), (x * 10 + wide * 5)])

    def test_where_no_wide_opening_is_near_the_level_stays_even(self):
        # Source: the table that was drawn: its light waves by 6 %, the share of open mesh is 1 everywhere.
        wide = ((60, 10, 20, 25), (85, 15, 25, 20), (70, 45, 20, 15))
        shares = [self.shares(seed, wide, (6, 78, 24, 1)) for seed in range(12)]
        self.assertLess(max(abs(s - 1) for s in shares), 0.25)

    def test_where_openings_are_all_over_it_is_true_within_some_percent(self):
        wide = tuple((x, y, 12, 10) for x in (5, 35, 65, 95) for y in (5, 30, 55, 75))
        shares = [self.shares(seed, wide, (22, 48, 10, 3)) for seed in range(6)]
        self.assertLess(max(abs(s - 1) for s in shares), 0.06)

    def test_stencil_that_is_as_bright_as_open_mesh_tells_nothing(self):
        sheet = film((10, 10, 40, 40))
        self.assertIsNone(levelled(np.where(sheet, 0.4, 0.38).astype(np.float32), sheet, _PX_MM))

    def test_what_the_photo_does_not_reach_is_not_known(self):
        sheet = film((10, 10, 40, 40), (70, 40, 30, 30))
        light = np.where(sheet, 0.4, 0.04).astype(np.float32)
        light[:, :50] = np.nan
        share = levelled(light, sheet, _PX_MM).share
        self.assertTrue(np.isnan(share[:, :45]).all())
        self.assertAlmostEqual(float(share[550, 850]), 1, delta=0.02)
