"""A bare mesh by photo: what is left on it, where, and when nothing can be said."""

import numpy as np

from frimble.core.mesh.inspection.inside import find_inside
from frimble.core.mesh.inspection.inspecting import inspect_mesh
from frimble.core.mesh.inspection.kinds import MeshFault
from frimble.core.photo.light import linear
from frimble.core.simulation.bare_mesh_photo import BareShot, Left, photograph
from frimble.core.testing.case import CoreCase

_SIZE_MM = (400.0, 500.0)
GHOST = Left("ghost", 80, 90, 220, 160, 0.88, (1.0, 0.8, 0.7))
DROP = Left("residue", 300, 380, 12, 9, 0.4, (1.0, 0.6, 0.3))
HOLE = Left("hole", 60, 430, 3, 3)


def taken(*left: Left, **how) -> np.ndarray:
    """A photo of what was put on the mesh."""
    shot = BareShot(_SIZE_MM, **({"size": (1500, 2000)} | how))
    return photograph(left, shot, np.random.default_rng(5))


class InspectMeshTests(CoreCase):
    def test_what_was_left_is_found_where_it_lies(self):
        # Source: what was put onto the simulated mesh.
        found = {f.kind: f for f in inspect_mesh(taken(GHOST, DROP, HOLE), _SIZE_MM).findings}
        self.assertEqual(set(found), {MeshFault.GHOST, MeshFault.RESIDUE, MeshFault.HOLE})
        for kind, put in ((MeshFault.RESIDUE, DROP), (MeshFault.HOLE, HOLE)):
            self.assertAlmostEqual(found[kind].x + found[kind].width / 2, put.x_mm + put.width_mm / 2, delta=4)
            self.assertAlmostEqual(found[kind].y + found[kind].height / 2, put.y_mm + put.height_mm / 2, delta=4)
        self.assertAlmostEqual(found[MeshFault.RESIDUE].value, DROP.passes, delta=0.15)
        self.assertAlmostEqual(found[MeshFault.HOLE].value, HOLE.width_mm, delta=1)

    def test_a_clean_mesh_has_nothing_on_it(self):
        answer = inspect_mesh(taken(uneven=0.5), _SIZE_MM)
        self.assertEqual((answer.refused, answer.findings), ("", ()))
        self.assertTrue(answer.passed)

    def test_a_ghost_alone_passes_and_emulsion_or_a_hole_does_not(self):
        # Common practice, no source: a stain that does not close the mesh may be coated over.
        self.assertTrue(inspect_mesh(taken(GHOST), _SIZE_MM).passed)
        self.assertFalse(inspect_mesh(taken(DROP), _SIZE_MM).passed)
        self.assertFalse(inspect_mesh(taken(HOLE), _SIZE_MM).passed)

    def test_without_a_size_places_are_shares_of_the_sides(self):
        (drop,) = inspect_mesh(taken(DROP)).findings
        self.assertAlmostEqual(drop.x, DROP.x_mm / _SIZE_MM[0], delta=0.02)
        self.assertAlmostEqual(drop.y, DROP.y_mm / _SIZE_MM[1], delta=0.02)

    def test_corners_lay_a_turned_photo_upright(self):
        upright = taken(DROP)
        corners = find_inside(linear(np.ascontiguousarray(upright[:, :, 1]))).corners
        turned = np.ascontiguousarray(np.rot90(upright, -1))
        # Source: a quarter turn clockwise takes x, y to height − 1 − y, x.
        here = [(upright.shape[0] - 1 - y, x) for x, y in corners]
        (drop,) = inspect_mesh(turned, _SIZE_MM, here).findings
        self.assertAlmostEqual(drop.x, DROP.x_mm, delta=4)
        self.assertAlmostEqual(drop.y, DROP.y_mm, delta=4)

    def test_a_light_table_beyond_the_frame_is_not_the_mesh(self):
        for beyond in (0.01, 0.95):
            with self.subTest(beyond=beyond):
                (drop,) = inspect_mesh(taken(DROP, beyond=beyond), _SIZE_MM).findings
                self.assertAlmostEqual(drop.x, DROP.x_mm, delta=4)

    def test_what_says_nothing_is_refused(self):
        dark = np.zeros((1000, 1400, 3), np.uint8)
        burnt = np.full((1000, 1400, 3), 255, np.uint8)
        half = taken()
        half[:, : half.shape[1] // 2] //= 8
        for name, photo, words in (("dark", dark, "No mesh"), ("burnt", burnt, "burnt out"), ("half", half, "")):
            with self.subTest(name):
                answer = inspect_mesh(photo, _SIZE_MM if name == "half" else None)
                self.assertTrue(answer.refused)
                self.assertIn(words, answer.refused)
                self.assertFalse(answer.passed)
