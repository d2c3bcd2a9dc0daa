"""Halftone patches of every coverage, drawn by a ruling, an angle and a share that are known."""

from frimble.core.film.check import check_scan
from frimble.core.film.findings import limits_for
from frimble.core.film.scan.grid import Scan
from frimble.core.simulation.scanner import ScannerOptics, SimulatedFilm, scan
from frimble.core.testing.case import CoreCase

_COVERAGES = (0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9)
_SIDE_MM, _FIRST_MM, _STEP_MM = 18, 16, 21


class TintTests(CoreCase):
    def test_each_tint_is_told_once_whether_its_dots_touch_or_not(self):
        # Source: the film as drawn; round dots of 70 % come within a tenth of the ruling of each other.
        # At seven pixels to a dot and fewer holes of 80 % hang together by twos and threes; half a tint is met as dots, too.
        for lines_per_inch, dpi in ((45, 600), (65, 600), (85, 600), (50, 300), (55, 300)):
            film = SimulatedFilm(82, 82, dpi)
            film.solid(2, 2, 12, 12)
            places = [(_FIRST_MM + k % 3 * _STEP_MM, _FIRST_MM + k // 3 * _STEP_MM) for k in range(len(_COVERAGES))]
            for (x, y), coverage in zip(places, _COVERAGES, strict=True):
                film.halftone(x, y, _SIDE_MM, _SIDE_MM, lines_per_inch, 22.5, coverage)
            codes, _ = scan(film, ScannerOptics(), 3)
            check = check_scan(Scan(codes, float(dpi)), limits_for(self.house_settings))
            self.assertEqual(len(check.tints), len(_COVERAGES), (lines_per_inch, dpi))
            self.assertEqual([f.kind for f in check.findings if f.kind in ("scratch", "pinhole", "thin_line")], [])
            for (x, y), coverage in zip(places, _COVERAGES, strict=True):
                with self.subTest(ruling=lines_per_inch, dpi=dpi, coverage=coverage):
                    here = [t for t in check.tints if abs(t.x_mm - x) < 2 and abs(t.y_mm - y) < 2]
                    self.assertEqual(len(here), 1)
                    self.assertAlmostEqual(here[0].coverage, coverage, delta=0.03)
                    self.assertAlmostEqual(here[0].ruling_lpi, lines_per_inch, delta=0.02 * lines_per_inch)
                    self.assertAlmostEqual(here[0].angle_deg % 90, 67.5, delta=3)
