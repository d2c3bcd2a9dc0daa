"""What differs between a stencil and its film, on plain drawings: chips among fine openings, edges that only run."""

import cv2
import numpy as np

from frimble.core.stencil.inspection.comparing import Limits, differences, sharpness_mm
from frimble.core.stencil.inspection.kinds import FindingKind
from frimble.core.stencil.inspection.levelling import Levelled
from frimble.core.testing.case import CoreCase

_PX_MM, _BLUR_MM = 10.0, 0.15
_PITCH_MM, _DOT_MM = 0.85, 0.6


def dots(size_mm: float = _DOT_MM) -> np.ndarray:
    """(h, w) bool of 40 by 30 mm, round dots of a halftone in the middle of it."""
    film = np.zeros((300, 400), np.uint8)
    for x in np.arange(8, 32, _PITCH_MM):
        for y in np.arange(6, 24, _PITCH_MM):
            centre = round(x * _PX_MM * 16), round(y * _PX_MM * 16)
            cv2.circle(film, centre, round(size_mm / 2 * _PX_MM * 16), 1, -1, cv2.LINE_8, 4)
    return film > 0


def seen(open_: np.ndarray) -> Levelled:
    """What a camera makes of it."""
    share = cv2.GaussianBlur(open_.astype(np.float32), (0, 0), _BLUR_MM * _PX_MM)
    return Levelled(share, 0.08, 0.04, 0.01)


def found(open_: np.ndarray, film: np.ndarray):
    return differences(seen(open_), film, _PX_MM, _BLUR_MM, Limits())


def with_hole(open_: np.ndarray, x: float, y: float, size_mm: float) -> np.ndarray:
    hole = np.zeros(open_.shape, np.uint8)
    cv2.circle(hole, (round(x * _PX_MM), round(y * _PX_MM)), round(size_mm / 2 * _PX_MM), 1, -1)
    return open_ | (hole > 0)


class HairlineTests(CoreCase):
    """A line of the film of 0.1 mm that lies between two rows of places, 0.1 mm each."""

    def dashed(self) -> np.ndarray:
        """(h, w) share of each place that is open on the film."""
        share = np.zeros((300, 400), np.float32)
        for left in range(100, 300, 50):
            share[150:152, left : left + 20] = 0.49
        return share

    def test_it_is_no_fault_where_it_stands_as_the_film_has_it(self):
        # Source: the drawing: what is seen is the film itself, blurred.
        share = self.dashed()
        # Where no place counts as open by more than half, its light is that of holes.
        self.assertEqual({d.kind for d in found(share, share > 0.5)}, {FindingKind.PINHOLE})
        self.assertEqual(found(share, share), [])

    def test_a_clear_one_across_an_opening_is_none_either(self):
        # Source: as above.
        share = 1 - self.dashed()
        share[:40], share[-40:] = 0, 0
        self.assertEqual(found(share, share), [])

    def test_a_hole_away_from_it_is_still_found(self):
        # Source: the drawing: a hole of 0.8 mm, 7 mm away.
        share = self.dashed()
        (one,) = found(np.maximum(share, with_hole(np.zeros(share.shape, bool), 30, 8, 0.8)), share)
        self.assertEqual(one.kind, FindingKind.PINHOLE)


class HalftoneTests(CoreCase):
    def test_a_chip_among_dots_is_one_breakdown_in_its_place(self):
        # Source: the drawing: a disc of 1.8 mm in which no stencil stands between the dots.
        film = dots()
        (one,) = found(with_hole(film, 20, 15, 1.8), film)
        self.assertEqual(one.kind, FindingKind.BREAKDOWN)
        self.assertAlmostEqual(one.x_mm + one.width_mm / 2, 20, delta=0.7)
        self.assertAlmostEqual(one.y_mm + one.height_mm / 2, 15, delta=0.7)
        # Only what was stencil counts: a disc's area less the dots in it.
        gone = (with_hole(film, 20, 15, 1.8) & ~film).sum() / _PX_MM**2
        self.assertAlmostEqual(one.value, gone, delta=0.35 * gone)

    def test_two_chips_apart_are_two(self):
        film = dots()
        both = with_hole(with_hole(film, 13, 11, 1.8), 27, 19, 1.8)
        self.assertEqual([d.kind for d in found(both, film)], [FindingKind.BREAKDOWN] * 2)

    def test_dots_as_on_the_film_are_no_fault(self):
        self.assertEqual(found(dots(), dots()), [])

    def test_dots_that_are_evenly_larger_or_smaller_are_no_fault(self):
        # Source: common practice: light spreads a little in every stencil.
        for size in (_DOT_MM - 0.1, _DOT_MM + 0.1):
            self.assertEqual([d for d in found(dots(size), dots()) if d.kind is FindingKind.BREAKDOWN], [])


class EdgeTests(CoreCase):
    def bars(self, *widths_mm):
        """Open bars side by side, and clear lines of the same widths between them."""
        film, x = np.zeros((300, 400), bool), 4.0
        for wide in widths_mm:
            film[40:260, round(x * _PX_MM) : round((x + wide) * _PX_MM)] = True
            x += 2 * wide + 1
        return film

    def test_bars_whose_edges_run_a_little_are_no_fault(self):
        film = self.bars(0.5, 1.0, 2.0)
        for kernel in (cv2.MORPH_DILATE, cv2.MORPH_ERODE):
            moved = cv2.morphologyEx(film.astype(np.uint8), kernel, np.ones((3, 3), np.uint8)) > 0
            self.assertEqual(found(moved, film), [])

    def test_a_hole_apart_from_all_edges_is_a_pinhole_of_its_size(self):
        film = self.bars(2.0, 3.0)
        (one,) = found(with_hole(film, 30, 20, 0.8), film)
        self.assertEqual(one.kind, FindingKind.PINHOLE)
        self.assertAlmostEqual(one.value, 0.8, delta=0.15)

    def test_holes_under_the_limit_are_none(self):
        film = self.bars(2.0, 3.0)
        self.assertEqual(found(with_hole(film, 30, 20, 0.2), film), [])

    def test_the_blur_of_a_photo_is_measured(self):
        # Source: the blur that was drawn with.
        film = self.bars(1.0, 2.0, 3.0)
        for sigma in (0.07, 0.15, 0.3):
            share = cv2.GaussianBlur(film.astype(np.float32), (0, 0), sigma * _PX_MM)
            self.assertAlmostEqual(sharpness_mm(share, film, _PX_MM), sigma, delta=0.03)

    def test_without_edges_no_blur_is_told(self):
        nothing = np.zeros((300, 400), bool)
        self.assertTrue(np.isnan(sharpness_mm(nothing.astype(np.float32), nothing, _PX_MM)))
