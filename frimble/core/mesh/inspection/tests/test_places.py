"""Where a frame's inside lies in a photo, and what stands out of clean mesh, on pictures known to the pixel."""

import cv2
import numpy as np

from frimble.core.mesh.blemishes import BLEMISHES
from frimble.core.mesh.inspection.inside import find_inside, laid_upright
from frimble.core.mesh.inspection.kinds import FAULTS, MeshFault
from frimble.core.mesh.inspection.places import Stain, holes, stains
from frimble.core.testing.case import CoreCase


def framed(corners, size=(900, 1200), mesh=0.5, beyond=0.9):
    """(h, w) light: a dark frame whose inside has these corners, a light table beyond it."""
    light = np.full(size, beyond, np.float32)
    outer = np.array(corners, float)
    middle = outer.mean(0)
    cv2.fillConvexPoly(light, np.round(middle + (outer - middle) * 1.15).astype(np.int32), 0.01)
    cv2.fillConvexPoly(light, np.round(outer).astype(np.int32), mesh)
    return light


class InsideTests(CoreCase):
    def test_corners_are_found_within_some_pixels(self):
        # Source: where the picture was drawn.
        for corners in (
            [(200, 120), (1000, 120), (1000, 780), (200, 780)],
            [(210, 140), (990, 110), (1010, 790), (190, 770)],
        ):
            with self.subTest(corners=corners):
                found = find_inside(framed(corners))
                self.assertLess(np.abs(found.corners - np.array(corners)).max(), 6)

    def test_rounded_corners_do_not_move_them(self):
        corners = [(200, 120), (1000, 120), (1000, 780), (200, 780)]
        light = framed(corners)
        for x, y in corners:
            cv2.circle(light, (x, y), 40, 0.01, -1)
        self.assertLess(np.abs(find_inside(light).corners - np.array(corners)).max(), 6)

    def test_mesh_that_fills_the_photo_is_taken_to_its_rim(self):
        found = find_inside(np.full((600, 800), 0.5, np.float32))
        np.testing.assert_allclose(found.corners, [(0, 0), (799, 0), (799, 599), (0, 599)], atol=4)

    def test_no_bright_field_is_none(self):
        light = np.full((600, 800), 0.01, np.float32)
        light[::40, ::40] = 0.9
        self.assertIsNone(find_inside(light))

    def test_it_is_laid_upright_area_for_area(self):
        picture = np.zeros((400, 400, 3), np.uint8)
        picture[100:300, 100:300] = 200
        upright = laid_upright(picture, [(100, 100), (300, 100), (300, 300), (100, 300)], (100, 100))
        self.assertEqual(upright.shape, (100, 100, 3))
        self.assertGreater(int(upright[10:90, 10:90].min()), 190)


class PlacesTests(CoreCase):
    def mesh(self):
        rng = np.random.default_rng(8)
        passed = 1 + 0.01 * rng.standard_normal((500, 400, 3)).astype(np.float32)
        return passed, np.ones((500, 400), bool)

    def test_a_hole_passes_more_and_its_size_is_told(self):
        passed, inner = self.mesh()
        cv2.circle(passed, (150, 200), 8, (1.9, 1.9, 1.9), -1)
        (hole,) = holes(passed, inner)
        self.assertIs(hole.kind, MeshFault.HOLE)
        # Source: a disc of radius 8 px.
        self.assertAlmostEqual(hole.value, 16, delta=2)
        self.assertAlmostEqual(hole.x + hole.width / 2, 150.5, delta=1.5)

    def test_emulsion_blocks_and_a_ghost_only_shades(self):
        passed, inner = self.mesh()
        passed[60:75, 80:100] = (0.9, 0.7, 0.3)
        passed[250:380, 100:300] *= 0.88
        found = {s.kind: s for s in stains(passed, inner)}
        self.assertEqual(set(found), {MeshFault.RESIDUE, MeshFault.GHOST})
        self.assertAlmostEqual(found[MeshFault.RESIDUE].value, 0.3, delta=0.1)
        self.assertAlmostEqual(found[MeshFault.GHOST].value, 0.88, delta=0.03)
        self.assertAlmostEqual(found[MeshFault.GHOST].width, 200, delta=12)

    def test_clean_mesh_and_what_lies_outside_have_none(self):
        passed, inner = self.mesh()
        self.assertEqual([*holes(passed, inner), *stains(passed, inner)], [])
        passed[:40] = 0.2
        inner[:50] = False
        self.assertEqual([*stains(passed, inner)], [])

    def test_lengths_are_scaled_and_shares_are_not(self):
        stain = Stain(MeshFault.GHOST, 10, 20, 30, 40, 0.9).scaled(0.5, 0.25)
        self.assertEqual((stain.x, stain.y, stain.width, stain.height, stain.value), (5, 5, 15, 10, 0.9))
        hole = Stain(MeshFault.HOLE, 0, 0, 4, 4, 4.0).scaled(0.25, 0.25)
        self.assertEqual(hole.value, 1.0)

    def test_every_fault_is_a_mark_that_the_map_knows(self):
        for card in FAULTS.values():
            self.assertIn(card.mark, BLEMISHES)
