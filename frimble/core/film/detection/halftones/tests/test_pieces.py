"""Pieces of a tint, and tints that only lie near each other."""

import numpy as np

from frimble.core.film.detection.halftones.pieces import told_once
from frimble.core.film.detection.halftones.tints import HalftonePatch
from frimble.core.film.findings import Tint
from frimble.core.testing.case import CoreCase
from frimble.core.units import MM_PER_INCH

_PIXELS_A_MM = 24.0


def patch(x, y, side, coverage=0.5, lpi=50.0, holes=False):
    """A whole square patch of that side, mm."""
    pitch = MM_PER_INCH / lpi
    steps = np.arange(0, side, pitch)
    members = np.array([(x + across, y + down) for across in steps for down in steps]) * _PIXELS_A_MM
    tint = Tint(x, y, side, side, lpi, 22.5, coverage, 0.3, holes)
    return HalftonePatch(tint, members, pitch * _PIXELS_A_MM)


class PiecesTests(CoreCase):
    def boxes(self, *patches):
        told = sorted((p.tint for p in told_once(patches)), key=lambda t: (t.x_mm, t.y_mm))
        return [(t.x_mm, t.y_mm, t.width_mm, t.height_mm) for t in told]

    def test_pieces_of_one_screen_are_one_tint(self):
        pieces = [patch(x, y, 4) for x in (0, 6) for y in (0, 6)]
        self.assertEqual(self.boxes(*pieces), [(0, 0, 10, 10)])
        self.assertGreater(told_once(pieces)[0].gap_px, 2 * _PIXELS_A_MM)

    def test_holes_and_odd_pieces_in_a_tint_are_not_told_again(self):
        whole = patch(0, 0, 20)
        odd = patch(4, 4, 5, coverage=0.53, lpi=31)
        self.assertEqual(self.boxes(patch(3, 3, 6, holes=True), odd, whole), [(0, 0, 20, 20)])

    def test_tints_that_differ_stay_apart(self):
        # Steps of a wedge of tints, another ruling, another place.
        for other in (patch(12, 0, 10, coverage=0.55), patch(12, 0, 10, lpi=65), patch(20, 0, 10)):
            self.assertEqual(len(self.boxes(patch(0, 0, 10), other)), 2)

    def test_a_small_tint_in_the_box_of_another_of_other_coverage_is_its_own(self):
        frame = patch(0, 0, 30, coverage=0.2)
        inside = np.abs(frame.members / _PIXELS_A_MM - 15).max(axis=1) < 8
        ring = HalftonePatch(frame.tint, frame.members[~inside], frame.pitch_px)
        self.assertEqual(len(self.boxes(ring, patch(11, 11, 8, coverage=0.6))), 2)
