"""The film check on sheets whose truth is known and that no rule was tuned on."""

import cv2
import numpy as np
from skimage import measure

from frimble.core.conclusions import InvalidInput
from frimble.core.film.check import check_scan
from frimble.core.film.findings import limits_for
from frimble.core.film.scan.coding import codes_of, light_of
from frimble.core.film.scan.grid import Scan
from frimble.core.film.wedge.definition import Wedge, checked_wedge, parse_wedge
from frimble.core.simulation.scanner import WEDGE_DENSITIES, ScannerOptics, SimulatedFilm, scan
from frimble.core.testing.case import CoreCase
from frimble.core.testing.film_sheets import HELD_OUT_FROM, random_film, random_optics

_TOLERANCE_MM = 0.4


def meet(one, other):
    """Whether two boxes overlap within the tolerance."""
    return all(
        a < b + size + _TOLERANCE_MM and b < a + own + _TOLERANCE_MM
        for a, own, b, size in (
            (one.x_mm, one.width_mm, other.x_mm, other.width_mm),
            (one.y_mm, one.height_mm, other.y_mm, other.height_mm),
        )
    )


class HeldOutTests(CoreCase):
    """Sheets with seeds from HELD_OUT_FROM: skew, blur, flare, vignetting, noise, 400 to 720 dpi, 8 and 16 bits."""

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.truth, cls.found, cls.checks = [], [], []
        for seed in range(HELD_OUT_FROM, HELD_OUT_FROM + 12):
            film, optics = random_film(seed, columns=3, rows=2), random_optics(seed)
            codes, faults = scan(film, optics, seed)
            check = check_scan(
                Scan(codes, float(film.dpi), optics.encoding), limits_for(cls.house_settings), Wedge(*film.wedge)
            )
            cls.truth += [(seed, f) for f in faults]
            cls.found += [(seed, f) for f in check.findings]
            cls.checks.append((film, optics, check))

    def share_found(self, *kinds):
        wanted = [(s, t) for s, t in self.truth if t.kind in kinds]
        self.assertGreater(len(wanted), 3, kinds)
        hits = sum(any(s == o and f.kind == t.kind and meet(f, t) for o, f in self.found) for s, t in wanted)
        return hits / len(wanted)

    def test_pinholes_at_or_above_the_limit_are_found(self):
        self.assertGreaterEqual(self.share_found("pinhole"), 0.98)

    def test_weak_areas_scratches_banding_and_thin_lines_are_found(self):
        self.assertGreaterEqual(self.share_found("weak_area", "scratch"), 0.95)
        self.assertGreaterEqual(self.share_found("banding", "thin_line"), 0.95)

    def test_what_is_reported_is_real(self):
        real = sum(any(s == o and f.kind == t.kind and meet(f, t) for o, t in self.truth) for s, f in self.found)
        self.assertGreaterEqual(real / len(self.found), 0.95)

    def test_dmax_is_within_a_twentieth(self):
        answer = [(f, o, c) for f, o, c in self.checks if c.dmax is not None and not c.dmax_is_lower_bound]
        self.assertGreaterEqual(len(answer), 6, "half of the sheets at least tell their black")
        for film, optics, check in answer:
            self.assertAlmostEqual(check.dmax, film.dmax, delta=0.05, msg=str(optics))

    def test_skew_is_told(self):
        misses = [abs(check.skew_deg - optics.skew_deg) for _, optics, check in self.checks]
        self.assertLess(np.median(misses), 0.3)


class OneFaultTests(CoreCase):
    """Single sheets, each against a number known beforehand."""

    def check(self, film, optics=None, wedge=None, **limits):
        codes, _ = scan(film, optics or ScannerOptics(), 7)
        held = limits_for(self.house_settings)
        return check_scan(Scan(codes, float(film.dpi), (optics or ScannerOptics()).encoding), held, wedge, **limits)

    def test_pinhole_sizes_agree_with_a_general_library(self):
        film = SimulatedFilm(40, 40, 600)
        film.solid(4, 4, 32, 32)
        for k in range(4):
            film.pinhole(8 + 7 * k, 12 + 3.3 * k % 5, 0.3 + 0.05 * k)
        codes, _ = scan(film, ScannerOptics(noise=0), 1)
        result = check_scan(Scan(codes, 600.0), limits_for(self.house_settings)).findings
        # Source: scikit-image regionprops on the pixels that pass half of the clear film's light, away from the rim.
        inner = light_of(codes[120:-120, 120:-120], "srgb", 8) > 0.5 * 10**-film.dmin
        sizes = [r.equivalent_diameter_area * 25.4 / 600 for r in measure.regionprops(measure.label(inner))]
        self.assertEqual(len(result), len(sizes))
        for mine, theirs in zip(sorted(f.value for f in result), sorted(sizes), strict=True):
            self.assertAlmostEqual(mine, theirs, delta=0.04)

    def test_a_tint_is_measured(self):
        film = SimulatedFilm(60, 40, 600)
        film.solid(2, 2, 10, 10)
        film.halftone(15, 5, 20, 20, 45, 22.5, 0.2)
        check = self.check(film)
        self.assertEqual(len(check.tints), 1)
        tint = check.tints[0]
        # Source: geometry; 45 lines an inch, and a round dot of area c·p².
        self.assertAlmostEqual(tint.ruling_lpi, 45, delta=0.3)
        self.assertAlmostEqual(min(tint.angle_deg, 90 - tint.angle_deg), 22.5, delta=1)
        self.assertAlmostEqual(tint.coverage, 0.2, delta=0.01)
        self.assertAlmostEqual(tint.smallest_mm, 25.4 / 45 * np.sqrt(0.2 * 4 / np.pi), delta=0.02)
        self.assertEqual(check.findings, ())

    def test_dots_no_mesh_holds_are_named(self):
        film = SimulatedFilm(60, 40, 1200)
        film.solid(2, 2, 10, 10)
        film.halftone(15, 5, 15, 15, 85, 22.5, 0.03)
        result = [f for f in self.check(film, ScannerOptics(blur_mm=0.012)).findings if f.kind == "small_dot"]
        # Source: geometry of the tint; 25.4/85 mm × √(0.03·4/π) = 0.058 mm, under 0.088 mm, w + 2d of the finest usual mesh.
        self.assertEqual(len(result), 1)
        self.assertAlmostEqual(result[0].value, 0.058, delta=0.012)

    def test_a_linear_eight_bit_scan_says_at_least(self):
        film = SimulatedFilm(60, 40, 400, dmax=3.4)
        film.solid(5, 5, 40, 30)
        check = self.check(film, ScannerOptics(encoding="linear", noise=0.0005))
        # From memory: an 8-bit linear scan tells densities up to about 2.3 (1 of 255 is 2.41).
        self.assertTrue(check.dmax_is_lower_bound)
        self.assertAlmostEqual(check.dmax, 2.3, delta=0.15)
        # A density that was not measured does not pass.
        self.assertEqual(check.verdict, "not known")
        self.assertIn("hold-out test", check.reason)

    def test_flare_is_taken_off_by_the_wedge(self):
        film = SimulatedFilm(140, 60, 400, dmax=2.9)
        film.solid(5, 5, 60, 30)
        film.step_wedge(5, 45, 10)
        optics = ScannerOptics(flare=0.003, bits=16)
        bare, held = self.check(film, optics), self.check(film, optics, Wedge(*film.wedge))
        self.assertLess(bare.dmax, 2.6)
        self.assertAlmostEqual(held.dmax, 2.9, delta=0.05)

    def test_clear_film_that_is_not_clear_fails_a_film(self):
        # Source: T = 10^−D; an oiled sheet of 0.42 that dried in one place, 0.38 denser there.
        film = SimulatedFilm(140, 100, 400, dmax=3.0, dmin=0.4)
        film.solid(20, 20, 30, 30)
        film.dull(70, 30, 20, 15, 0.38)
        codes, _ = scan(film, ScannerOptics(vignetting=0.05), 3)
        result = check_scan(Scan(codes, 400), limits_for(self.house_settings))
        (dull,) = [f for f in result.findings if f.kind == "dull_clear"]
        self.assertAlmostEqual(dull.value - result.dmin, 0.38, delta=0.05)
        for place, true in ((dull.x_mm, 70), (dull.y_mm, 30), (dull.width_mm, 20), (dull.height_mm, 15)):
            self.assertAlmostEqual(place, true, delta=1.0)
        self.assertEqual(result.verdict, "faults")
        self.assertIn("oiled again on both faces", dull.remedy)

    def test_dust_alone_fails_no_film(self):
        film = SimulatedFilm(60, 40, 600)
        film.solid(5, 5, 20, 20)
        film.speck(45, 20, 0.25)
        check = self.check(film)
        self.assertEqual([f.kind for f in check.findings], ["speck"])
        self.assertTrue(check.passed)
        self.assertIn("1 speck", check.reason)

    def test_each_finding_says_why_and_what_to_do(self):
        film = SimulatedFilm(80, 60, 600)
        film.solid(5, 5, 60, 40)
        film.pinhole(20, 20, 0.2)
        film.weak_area(30, 20, 15, 10, 1.6)
        check = self.check(film)
        self.assertEqual({f.kind for f in check.findings}, {"pinhole", "weak_area"})
        for finding in check.findings:
            self.assertGreater(len(finding.why), 20)
            self.assertGreater(len(finding.remedy), 20)
        self.assertFalse(check.passed)


class CodingTests(CoreCase):
    def test_srgb_curve(self):
        # Source: IEC 61966-2-1; code 188 of 255 is 0.5029 of white, the toe is linear with 1/12.92.
        self.assertAlmostEqual(float(light_of(188, "srgb", 8)), 0.5029, places=3)
        self.assertAlmostEqual(float(light_of(5, "srgb", 8)), 5 / 255 / 12.92, places=9)

    def test_there_and_back(self):
        light = np.linspace(0, 1, 257)
        for encoding in ("srgb", "linear"):
            back = light_of(codes_of(light, encoding, 16), encoding, 16)
            np.testing.assert_allclose(back, light, atol=1e-9)
        with self.assertRaises(InvalidInput):
            light_of(1, "gamma", 8)


class WedgeTests(CoreCase):
    def test_bad_wedges_are_refused_with_their_reason(self):
        for text, says in (
            ("10,10,8", "not a wedge"),
            ("a,b,c,0.1/0.2/0.3", "not a wedge"),
            ("10,10,8,0.1/0.2", "patches"),
            ("10,10,8,-0.1/0.2/0.3", "between 0 and 6"),
            ("10,10,8,0.5/0.2/0.9", "must rise, or fall"),
            ("10,10,0.1,0.1/0.2/0.3", "between 1 and 100"),
            ("-5,10,8,0.1/0.2/0.3", "must lie on the scan"),
        ):
            with self.subTest(text), self.assertRaises(InvalidInput) as caught:
                parse_wedge(text)
            self.assertIn(says, str(caught.exception))

    def test_a_wedge_that_is_not_there_is_refused(self):
        film = SimulatedFilm(140, 60, 300)
        film.solid(5, 5, 60, 30)
        codes, _ = scan(film, ScannerOptics(), 1)
        for wedge, says in (
            (checked_wedge(5, 42, 10, WEDGE_DENSITIES), "no such wedge"),
            (checked_wedge(100, 42, 10, WEDGE_DENSITIES), "beyond the scan"),
        ):
            with self.assertRaises(InvalidInput) as caught:
                check_scan(Scan(codes, 300.0), limits_for(self.house_settings), wedge)
            self.assertIn(says, str(caught.exception))

    def test_eight_bits_never_say_less_than_they_see_nor_pass_what_they_cannot_see(self):
        # Source: ISO 5-2, T = 10^-D, and eight linear bits: code 1 of 255 is a density of 2.4, anything darker is lost.
        for dmax in (1.3, 1.58, 1.9, 2.3, 3.0):
            for white, noise in ((1.0, 0.0), (0.75, 0.0), (1.0, 0.001), (0.75, 0.001)):
                with self.subTest(dmax=dmax, white=white, noise=noise):
                    film, check = self.linear_scan(dmax, white, noise)
                    self.assertGreater(check.dmax, 1.2)
                    # What passes is dense enough in truth; noise dithers the codes, so that more can be told.
                    self.assertFalse(check.passed and dmax < 2.5 + film.dmin)
                    if check.dmax_is_lower_bound:
                        self.assertLessEqual(check.dmax, dmax + 0.05)
                        self.assertEqual(check.passed, check.dmax - check.dmin >= 2.5)
                        self.assertIn("Black at least" if check.passed else "is not known", check.reason)
                    else:
                        # Half a code of 255 is the last thing that can be told.
                        self.assertAlmostEqual(check.dmax, dmax, delta=max(0.05, 0.25 * 10**dmax / 255))
                        self.assertIn("is wanted", check.reason)

    def linear_scan(self, dmax, white, noise):
        """(film, its check) of a sheet scanned with eight linear bits, its wedge's last patches beyond what they hold."""
        film = SimulatedFilm(90, 80, 300, dmax=dmax)
        film.solid(10, 8, 40, 35)
        film.step_wedge(5, 66, 6)
        light = cv2.GaussianBlur(film.transmittance(), (0, 0), 0.5) * white
        light += np.random.default_rng(5).standard_normal(light.shape) * noise
        codes = np.rint(np.clip(light, 0, 1) * 255).astype(np.uint8)
        wedge = Wedge(5, 66, 6, WEDGE_DENSITIES)
        return film, check_scan(Scan(codes, 300.0, "linear"), limits_for(self.house_settings), wedge)

    def test_a_black_beyond_the_wedge_is_at_least_its_last_patch(self):
        # From memory: stray light differs from place to place, so a fit is not believed past what was laid beside.
        film = SimulatedFilm(90, 80, 300, dmax=2.95)
        film.solid(10, 8, 40, 35)
        film.step_wedge(5, 66, 7, WEDGE_DENSITIES[:10])
        codes, _ = scan(film, ScannerOptics(bits=16), 1)
        wedge = Wedge(5, 66, 7, WEDGE_DENSITIES[:10])
        check = check_scan(Scan(codes, 300.0), limits_for(self.house_settings), wedge)
        self.assertTrue(check.dmax_is_lower_bound)
        self.assertAlmostEqual(check.dmax, WEDGE_DENSITIES[9])

    def test_a_film_without_a_solid_is_not_known_to_be_dense(self):
        film = SimulatedFilm(90, 80, 300, dmax=3.0)
        film.line([(10, 20), (80, 22)], 0.4)
        codes, _ = scan(film, ScannerOptics(), 1)
        check = check_scan(Scan(codes, 300.0), limits_for(self.house_settings))
        self.assertEqual(check.verdict, "not known")
        self.assertIn("no solid", check.reason)

    def test_a_wedge_is_found_by_the_program(self):
        film = SimulatedFilm(160, 80, 300, dmax=2.9)
        film.solid(10, 10, 50, 30)
        film.step_wedge(20, 60, 10)
        codes, _ = scan(film, ScannerOptics(bits=16), 1)
        check = check_scan(Scan(codes, 300.0), limits_for(self.house_settings), find_wedge_of=WEDGE_DENSITIES)
        self.assertIn("Wedge found", check.notes[0])
        self.assertAlmostEqual(check.dmax, 2.9, delta=0.05)


class BadScanTests(CoreCase):
    def refused(self, codes, dpi=300.0):
        with self.assertRaises(InvalidInput) as caught:
            check_scan(Scan(codes, dpi), limits_for(self.house_settings))
        return str(caught.exception)

    def test_all_black_all_white_and_tiny(self):
        self.assertIn("black all over", self.refused(np.zeros((900, 900), np.uint8)))
        self.assertIn("no black", self.refused(np.full((900, 900), 250, np.uint8)))
        self.assertIn("too small", self.refused(np.zeros((1, 1), np.uint8)))

    def test_a_sheet_without_marks_or_solids_is_not_an_error(self):
        codes = np.full((900, 900), 240, np.uint8)
        cv2.line(codes, (100, 100), (800, 130), 5, 6, cv2.LINE_AA)
        check = check_scan(Scan(codes, 300.0), limits_for(self.house_settings))
        self.assertIsNone(check.dmax)
        self.assertIn("No solid", check.notes[-1])
