"""Nets of holes and what only looks like one, drawn by hand."""

import cv2
import numpy as np

from frimble.core.film.detection.components import components_of
from frimble.core.film.detection.halftones.nets import nets_of
from frimble.core.film.detection.marks import _with_holes
from frimble.core.film.scan.grid import Levels, Scan
from frimble.core.testing.case import CoreCase

_DPI, _SIDE, _PITCH = 600.0, 140, 14
_BLACK, _LEAK, _HOLE = 5, 110, 230


class NetTests(CoreCase):
    def seen(self, picture):
        """What is brighter than black in a grey picture, as a scan with its levels."""
        scan = Scan(picture, _DPI)
        levels = Levels(
            240.0, float(_BLACK), float(scan.light(np.uint8(240))), float(scan.light(np.uint8(5))), 1.0, 1.0
        )
        return components_of((picture > 60).astype(np.uint8) * 255), scan, levels

    def nets(self, picture):
        found, *seen = self.seen(picture)
        return found, nets_of(picture, found, *seen)

    def draw_net(self, picture):
        """Holes joined by leaks, from the picture's corner on; their middles in a row."""
        middles = np.arange(27, _SIDE + 20, _PITCH)
        for at in middles.tolist():
            picture[at - 2 : at + 3, 20 : _SIDE + 20] = _LEAK
            picture[20 : _SIDE + 20, at - 2 : at + 3] = _LEAK
        for x in middles.tolist():
            for y in middles.tolist():
                cv2.circle(picture, (x, y), 4, _HOLE, -1)
        return middles

    def test_the_holes_of_a_net_come_apart(self):
        # Source: the holes as drawn.
        picture = np.full((_SIDE + 40, _SIDE + 40), _BLACK, np.uint8)
        middles = self.draw_net(picture)
        found, nets = self.nets(picture)
        self.assertEqual((len(found.areas), list(nets)), (1, [0]))
        told = nets[0].centres + found.boxes[0, :2]
        drawn = np.array([(x, y) for x in middles for y in middles])
        self.assertEqual(len(told), len(drawn))
        self.assertLess(np.abs(np.array(sorted(told.tolist())) - np.array(sorted(drawn.tolist()))).max(), 0.5)

    def test_holes_of_a_net_and_of_pairs_beside_it_are_told_once(self):
        # Source: the holes as drawn: a net, sixty by themselves and fourteen pairs.
        picture = np.full((420, 420), _BLACK, np.uint8)
        middles = self.draw_net(picture).tolist()
        drawn = [(x, y) for x in middles for y in middles]
        drawn += [(200 + 20 * (k % 10), 20 + 30 * (k // 10)) for k in range(60)]
        for x in range(20, 412, 28):
            picture[249:252, x : x + 11] = _LEAK
            drawn += [(x, 250), (x + 11, 250)]
        for place in drawn:
            cv2.circle(picture, place, 4, _HOLE, -1)
        told = _with_holes(picture, *self.seen(picture)).centres
        self.assertEqual(sorted(map(tuple, np.rint(told).astype(int).tolist())), sorted(drawn))

    def test_a_drawn_grid_is_no_net(self):
        # Source: lines as drawn, alike bright all along.
        picture = np.full((_SIDE + 40, _SIDE + 40), _BLACK, np.uint8)
        for at in range(27, _SIDE + 20, _PITCH):
            picture[at - 2 : at + 3, 20 : _SIDE + 20] = _HOLE
            picture[20 : _SIDE + 20, at - 2 : at + 3] = _HOLE
        found, nets = self.nets(picture)
        self.assertEqual((len(found.areas), nets), (1, {}))

    def test_a_small_shape_is_none(self):
        picture = np.full((80, 80), _BLACK, np.uint8)
        cv2.putText(picture, "B", (12, 60), cv2.FONT_HERSHEY_SIMPLEX, 1.6, _HOLE, 6)
        found, nets = self.nets(picture)
        self.assertEqual((len(found.areas), nets), (1, {}))
