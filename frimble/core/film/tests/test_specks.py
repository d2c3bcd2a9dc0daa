"""Lone dark marks on clear film: which are dust, how large they are, and which belong to what was set."""

from frimble.core.film.check import check_scan
from frimble.core.film.findings import Finding, limits_for
from frimble.core.film.scan.grid import Scan
from frimble.core.simulation.scanner import ScannerOptics, SimulatedFilm, scan
from frimble.core.testing.case import CoreCase


class SpeckTests(CoreCase):
    def setUp(self):
        super().setUp()
        self.film = SimulatedFilm(80, 60, 600)
        self.film.solid(5, 5, 25, 25)

    def found(self, kind="speck") -> list[Finding]:
        codes, _ = scan(self.film, ScannerOptics(), 5)
        check = check_scan(Scan(codes, float(self.film.dpi)), limits_for(self.house_settings))
        return [f for f in check.findings if f.kind == kind]

    def test_a_lone_speck_is_met_where_it_lies_and_as_wide(self):
        # Source: the disc that was drawn; a scanner's blur spreads its light and keeps the sum.
        for diameter in (0.15, 0.3, 0.5):
            with self.subTest(diameter):
                self.film = SimulatedFilm(80, 60, 600)
                self.film.solid(5, 5, 25, 25)
                self.film.speck(55, 40, diameter)
                (speck,) = self.found()
                self.assertAlmostEqual(speck.x_mm + speck.width_mm / 2, 55, 1)
                self.assertAlmostEqual(speck.y_mm + speck.height_mm / 2, 40, 1)
                self.assertLess(abs(speck.value / diameter - 1), 0.15)

    def test_one_smaller_than_what_counts_is_left_out(self):
        self.film.speck(55, 40, self.house_settings["film.least_pinhole_mm"] * 0.6)
        self.assertEqual(self.found(), [])

    def test_a_full_stop_belongs_to_its_word(self):
        # Common practice, no source: nobody wants to be asked about every stop and dot.
        self.film.text(40, 20, 5, "Tide i.j.", 600)
        self.assertEqual(self.found(), [])

    def test_a_row_of_dots_was_drawn(self):
        for k in range(9):
            self.film.dot(40 + 2 * k, 45, 0.5)
        self.assertEqual(self.found(), [])

    def test_a_speck_far_from_the_words_is_told_beside_them(self):
        self.film.text(40, 12, 4, "Quay fair", 600)
        self.film.speck(20, 50, 0.3)
        self.assertEqual(len(self.found()), 1)

    def test_a_speck_fails_no_film(self):
        # Common practice, no source: dark dust leaves a small opening that a drop of filler closes.
        self.film.speck(55, 40, 0.3)
        self.assertEqual([f.harmless for f in self.found()], [True])
