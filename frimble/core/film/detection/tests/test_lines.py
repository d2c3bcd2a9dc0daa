"""Lines and gaps looked for band by band, where edges are, are those of the whole picture."""

import unittest

import numpy as np

from frimble.core.film.detection.lines import _thin, _thin_by_bands
from frimble.core.film.scan.grid import Scan, cells_of, coarser, levels_of
from frimble.core.simulation.scanner import ScannerOptics, SimulatedFilm, scan


def _scan_of(dpi: int) -> Scan:
    film = SimulatedFilm(70, 90, dpi)
    film.solid(8, 8, 25, 40)
    for k in range(12):
        film.line([(8, 55 + 2 * k), (60, 57 + 2.5 * k)], 0.1 + 0.03 * k)
        film.scratch([(10, 10 + 3 * k), (30, 12 + 3 * k)], 0.08 + 0.02 * k)
    film.halftone(40, 8, 25, 30, 45, 22.5, 0.4)
    return Scan(scan(film, ScannerOptics(skew_deg=1.1, noise=0.004), 7)[0], float(dpi))


class BandTests(unittest.TestCase):
    def test_bands_tell_what_the_whole_picture_does(self):
        # Source: the same opening or closing of the whole picture. At 800 dpi no whole number of coarser pixels is a cell.
        for dpi in (300, 600, 800):
            picture = _scan_of(dpi)
            cells = cells_of(picture)
            levels = levels_of(picture, cells)
            coarse = coarser(picture.grey(), picture)
            for gaps, side in ((True, 5), (False, 5), (True, 11), (False, 11)):
                with self.subTest(dpi=dpi, gaps=gaps, side=side):
                    whole = _thin(coarse.grey, side, levels, gaps)
                    self.assertGreater(np.count_nonzero(whole), 1000)
                    by_bands = _thin_by_bands(coarse, side, picture, cells, levels, gaps)
                    self.assertEqual(np.count_nonzero(by_bands != whole), 0)
