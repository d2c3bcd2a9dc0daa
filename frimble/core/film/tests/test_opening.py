"""Every kind of file people hand in, good and bad."""

import io

import numpy as np
import tifffile
from PIL import Image
from reportlab.pdfgen import canvas

from frimble.core.conclusions import InvalidInput
from frimble.core.film.check import check_scan
from frimble.core.film.findings import limits_for
from frimble.core.film.scan.opening import open_scan
from frimble.core.settings import HouseSettings
from frimble.core.testing.case import CoreCase


def saved(image, form, **options) -> bytes:
    file = io.BytesIO()
    image.save(file, form, **options)
    return file.getvalue()


class OpeningTests(CoreCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        grey = np.full((200, 300), 240, np.uint8)
        grey[40:120, 50:200] = 10
        cls.grey = grey

    def open(self, data, dpi=300.0, encoding="srgb"):
        return open_scan(data, dpi, encoding, self.house_settings)

    def refusal(self, data, dpi=300.0):
        with self.assertRaises(InvalidInput) as caught:
            self.open(data, dpi)
        return str(caught.exception)

    def test_png_and_its_own_resolution(self):
        scan = self.open(saved(Image.fromarray(self.grey), "PNG", dpi=(400, 400)), dpi=None)
        np.testing.assert_array_equal(scan.codes, self.grey)
        self.assertAlmostEqual(scan.dpi, 400, delta=0.1)
        self.assertIn("taken from the file", scan.notes[-1])

    def test_sixteen_bits_big_endian_tiff(self):
        deep = (self.grey.astype(np.uint16) * 257).astype(">u2")
        file = io.BytesIO()
        tifffile.imwrite(file, deep, byteorder=">")
        scan = self.open(file.getvalue())
        self.assertEqual(scan.bits, 16)
        np.testing.assert_array_equal(scan.codes, deep.astype(np.uint16))

    def test_several_pages_are_a_stated_choice(self):
        file = io.BytesIO()
        tifffile.imwrite(file, np.stack([self.grey, 255 - self.grey]), photometric="minisblack")
        scan = self.open(file.getvalue())
        np.testing.assert_array_equal(scan.codes, self.grey)
        self.assertIn("2 pages: the first was checked.", scan.notes)

    def test_cmyk_is_a_stated_choice(self):
        inks = np.zeros((*self.grey.shape, 4), np.uint8)
        inks[..., 3] = 255 - self.grey
        for form in ("TIFF", "JPEG"):
            scan = self.open(saved(Image.fromarray(inks, "CMYK"), form))
            self.assertIn("CMYK", scan.notes[0])
            self.assertLess(np.abs(scan.codes[60:100, 80:180].astype(int) - 10).max(), 8, form)

    def test_colour_reads_the_green(self):
        scan = self.open(saved(Image.fromarray(np.stack([self.grey * 0, self.grey, self.grey * 0], -1)), "PNG"))
        np.testing.assert_array_equal(scan.codes, self.grey)

    def test_one_bit_artwork(self):
        scan = self.open(saved(Image.fromarray(self.grey).convert("1"), "TIFF"))
        self.assertEqual(set(np.unique(scan.codes)), {0, 255})
        self.assertTrue(scan.artwork)
        self.assertIn("Artwork", scan.notes[-1])
        check = check_scan(scan, limits_for(HouseSettings()))
        self.assertIsNone(check.dmax)
        self.assertIsNone(check.dmin)

    def test_pdf_is_rendered_at_the_chosen_resolution(self):
        file = io.BytesIO()
        page = canvas.Canvas(file, pagesize=(144, 72))
        page.rect(36, 18, 72, 36, fill=1)
        page.save()
        scan = self.open(file.getvalue(), dpi=600.0)
        # Source: PDF 32000, user space of 72 units an inch; 2 × 1 in at 600 dpi.
        self.assertEqual(scan.codes.shape, (600, 1200))
        self.assertLess(scan.codes[300, 600], 5)
        self.assertGreater(scan.codes[20, 20], 250)

    def test_the_lines_and_words_a_pdf_draws_are_measured_as_drawn(self):
        file = io.BytesIO()
        page = canvas.Canvas(file, pagesize=(144, 144))
        page.rect(10, 100, 120, 30, fill=1)
        page.setLineWidth(0.25)
        page.line(10, 90, 130, 90)
        page.rect(10, 80, 60, 0.5, stroke=0, fill=1)
        page.setLineWidth(1)
        page.line(10, 70, 130, 70)
        for face, size, y in (
            ("Helvetica", 6, 60),
            ("Helvetica", 9, 50),
            ("Times-Roman", 9, 35),
            ("Times-Roman", 12, 15),
        ):
            page.setFont(face, size)
            page.drawString(10, y, "Tide clock")
        page.saveState()
        page.scale(0.5, 0.5)
        page.setLineWidth(0.8)
        page.line(20, 10, 200, 10)
        page.restoreState()
        page.save()
        scan = self.open(file.getvalue(), dpi=600.0)
        check = check_scan(scan, limits_for(HouseSettings()))
        lines = sorted(f.value for f in check.findings if f.kind == "thin_line")
        # Source: ISO 32000-1, user space of 72 units an inch, line width scaled with its matrix; 1 pt is above 0.25 mm.
        np.testing.assert_allclose(lines, [0.25 * 25.4 / 72, 0.4 * 25.4 / 72, 0.5 * 25.4 / 72], rtol=1e-3)
        # Common practice, no source: 8 pt without serifs, 11 pt with them.
        self.assertEqual(sorted(f.value for f in check.findings if f.kind == "type_size"), [6, 9])
        quarter = next(f for f in check.findings if f.kind == "thin_line" and abs(f.value - 0.0882) < 1e-3)
        self.assertAlmostEqual(quarter.y_mm + quarter.height_mm / 2, (144 - 90) * 25.4 / 72, 2)
        self.assertFalse(check.passed)

    def test_what_is_no_picture(self):
        self.assertIn("PNG, TIFF, JPEG and PDF", self.refusal(b"MZ" + b"\0" * 500))
        self.assertIn("PNG, TIFF, JPEG and PDF", self.refusal(b""))
        self.assertIn("cannot be read", self.refusal(b"\x89PNG\r\n\x1a\n" + b"junk" * 40))
        self.assertIn("PDF cannot be read", self.refusal(b"%PDF-1.7 nothing more"))

    def test_cut_short(self):
        for form in ("PNG", "JPEG", "TIFF"):
            whole = saved(Image.fromarray(self.grey), form)
            self.assertRegex(self.refusal(whole[: len(whole) * 2 // 3]), "cut short|damaged|cannot be read", form)

    def test_a_decompression_bomb_is_refused_by_its_header(self):
        bomb = saved(Image.new("1", (40_000, 40_000)), "PNG")
        self.assertLess(len(bomb), 1_000_000)
        self.assertIn("more than 300 million", self.refusal(bomb))

    def test_one_pixel_and_absurd_resolutions(self):
        self.assertIn("too few", self.refusal(saved(Image.new("L", (1, 1)), "PNG")))
        good = saved(Image.fromarray(self.grey), "PNG")
        self.assertIn("does not say its resolution", self.refusal(good, None))
        for dpi in (1, -300, 1e6):
            self.assertIn("not between", self.refusal(good, dpi))
