"""The placement page and its files at true scale."""

import re

import pypdfium2

from frimble.testing.case import PageCase
from frimble.testing.shop import small_shop

_QUERY = "?frame_width=580&frame_height=31.1+in&arts=Pennant+250+x+180%0AStar+9+cm+x+90+tape&film=330&squeegee=300"


class PlacementFileTests(PageCase):
    @classmethod
    def setUpTestData(cls):
        cls.people = small_shop()

    def setUp(self):
        self.client.force_login(self.people["tamsin"])

    def test_the_page_draws_and_warns(self):
        page = self.client.get(f"/film/placement/{_QUERY}")
        self.assertContains(page, "It fits.")
        self.assertContains(page, "Tape out Star")
        self.assertContains(page, "Star, 90 × 90 mm")
        wide = self.client.get("/film/placement/?frame_width=580&frame_height=790&arts=Pennant+600+x+180")
        self.assertContains(wide, "into the side margin")

    def test_an_image_is_read_as_people_write_it(self):
        # Source: 25.4 mm an inch. A unit said once is meant for both sides; what follows may be set off by commas.
        for typed, size in (
            ("Pennant 10 x 12 in", "254 × 305 mm"),
            ("Pennant 4.5 x 4.5 in", "114 × 114 mm"),
            ('Pennant 4 x 5"', "102 × 127 mm"),
            ("Pennant 10 cm x 12 in", "100 × 305 mm"),
            ("Pennant 250 x 180, 95 s, tape", "250 × 180 mm"),
        ):
            with self.subTest(typed):
                page = self.client.get(
                    "/film/placement/", {"frame_width": "580", "frame_height": "790", "arts": f"Star 90 x 90\n{typed}"}
                )
                self.assertContains(page, f"Pennant, {size}")

    def test_what_cannot_be_read_is_told_and_kept(self):
        page = self.client.get("/film/placement/?frame_width=580&frame_height=790&arts=Pennant+big")
        self.assertContains(page, "is not an image", status_code=422)
        self.assertContains(page, "Pennant big", status_code=422)
        self.assertEqual(self.client.get("/film/placement.pdf?frame_width=x&frame_height=1&arts=A").status_code, 422)

    def test_the_pdf_is_of_the_frames_size(self):
        data = self.client.get(f"/film/placement.pdf{_QUERY}").content
        width, height = pypdfium2.PdfDocument(data)[0].get_size()
        # Source: PDF 32000, 72 units an inch.
        self.assertAlmostEqual(width / 72 * 25.4, 580, delta=0.1)
        self.assertAlmostEqual(height / 72 * 25.4, 789.9, delta=0.1)

    def test_the_svg_is_in_millimetres(self):
        text = self.client.get(f"/film/placement.svg{_QUERY}").content.decode()
        self.assertIn('width="580mm"', text)
        self.assertRegex(text, re.escape('viewBox="0 0 580 789.94"'))
        self.assertNotIn("class=", text)

    def test_names_are_escaped(self):
        page = self.client.get("/film/placement/?frame_width=580&frame_height=790&arts=%3Cb%3Ex+90+x+90")
        self.assertContains(page, "&lt;b&gt;x, 90 × 90 mm")
