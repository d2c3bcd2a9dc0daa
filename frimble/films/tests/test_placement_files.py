"""The placement page, places kept with the films, and its files at true scale."""

import re

import pypdfium2

from frimble.films.library import services as library_services
from frimble.films.models import Film, FilmProcess
from frimble.films.placement.files import tiles_over
from frimble.testing.case import PageCase
from frimble.testing.shop import small_shop


def asked(*images, **bench):
    """The address's question for these images, each a mapping by field."""
    given = {"frame_width": "580", "frame_height": "790", "images-TOTAL_FORMS": len(images), "images-INITIAL_FORMS": 0}
    rows = {f"images-{k}-{name}": value for k, image in enumerate(images) for name, value in image.items()}
    return given | rows | bench


_PENNANT = {"name": "Pennant", "width": "250", "height": "180"}
_STAR = {"name": "Star", "width": "9 cm", "height": "90", "taped": "on"}


class PlacementFileTests(PageCase):
    @classmethod
    def setUpTestData(cls):
        cls.people = small_shop()

    def setUp(self):
        self.client.force_login(self.people["tamsin"])

    def page(self, *images, **bench):
        return self.client.get("/film/placement/", asked(*images, **bench))

    def film(self, name="Pennant", **fields):
        given = {"job_number": "J-1", "separation": "", "process": FilmProcess.objects.first(), "kept_at": ""} | fields
        return library_services.add_film(self.people["tamsin"], name=name, **given)

    def test_the_page_draws_and_warns(self):
        page = self.page(_PENNANT, _STAR, frame_height="31.1 in", film="330", squeegee="300")
        self.assertContains(page, "It fits.")
        self.assertContains(page, "Tape out Star")
        self.assertContains(page, "Star, 90 × 90 mm")
        self.assertContains(self.page(_PENNANT | {"width": "450"}), "into the side margin")

    def test_sizes_may_be_typed_in_inches(self):
        # Source: 25.4 mm an inch.
        for width, height, size in (("10 in", "12 in", "254 × 305 mm"), ("4.5 in", '4.5"', "114 × 114 mm")):
            with self.subTest(width):
                self.assertContains(self.page(_PENNANT | {"width": width, "height": height}), f"Pennant, {size}")

    def test_what_cannot_be_read_is_told_and_kept(self):
        page = self.page(_PENNANT | {"width": "big"})
        self.assertContains(page, 'value="big"', status_code=422)
        self.assertContains(self.page({"name": "Flag", "width": "30"}), "Flag: its width and height", status_code=422)
        self.assertContains(self.page(_PENNANT, screen="Q-999"), "No screen is called Q-999", status_code=422)
        self.assertEqual(self.client.get("/film/placement.pdf", asked()).status_code, 422)

    def test_a_place_is_kept_with_its_film_and_taken_by_the_jobs_others(self):
        white, red = (self.film(name, width_mm=200, height_mm=100) for name in ("White", "Red"))
        question = asked({"record": white.pk, "x": "30", "y": "-20", "turned": "on"}, job="J-1")
        answer = self.client.post("/film/placement/", query_params=question)
        self.assertEqual(answer.status_code, 302)
        white.refresh_from_db()
        self.assertEqual((white.centre_mm, white.turned), ((30, -20), True))
        # Source: arithmetic; the middle of 580 × 790 is 290, 395; turned it is 100 wide and 200 high.
        self.assertContains(self.page({"record": red.pk}, job="J-1"), 'x="270" y="275" width="100" height="200"')
        other = self.film("Blue", width_mm=200, height_mm=100, job_number="J-2")
        self.assertContains(self.page({"record": other.pk}, job="J-2"), 'x="190" y="345" width="200" height="100"')

    def test_a_jobs_films_stand_there_from_the_start(self):
        self.film("White", width_mm=200, height_mm=100)
        self.film("Unmeasured")
        page = self.client.get("/film/placement/?job=J-1")
        self.assertContains(page, "Unmeasured: its width and height are not known", status_code=422)
        Film.objects.filter(name="Unmeasured").delete()
        self.assertContains(self.client.get("/film/placement/?job=J-1"), "White, 200 × 100 mm")

    def test_the_pdf_is_of_the_frames_size(self):
        data = self.client.get("/film/placement.pdf", asked(_PENNANT, frame_height="31.1 in")).content
        width, height = pypdfium2.PdfDocument(data)[0].get_size()
        # Source: PDF 32000, 72 units an inch.
        self.assertAlmostEqual(width / 72 * 25.4, 580, delta=0.1)
        self.assertAlmostEqual(height / 72 * 25.4, 789.9, delta=0.1)

    def test_the_plan_is_tiled_over_sheets_of_a_desk_printer(self):
        # Source: arithmetic; A4 less 8 mm all round prints 194 × 281 mm, over 580 × 790 mm with 10 mm laid over; Letter
        # prints 199.9 × 263.4 mm, and three of 199.9 end 0.3 mm short of 580.
        self.assertEqual((tiles_over(580, 194), tiles_over(790, 281)), (4, 3))
        for paper, size, sheets in (("a4", (210, 297), 12), ("letter", (215.9, 279.4), 16)):
            with self.subTest(paper):
                pages = pypdfium2.PdfDocument(
                    self.client.get("/film/placement.pdf", asked(_PENNANT, paper=paper)).content
                )
                self.assertEqual(len(pages), sheets)
                for side, mm in zip(pages[0].get_size(), size, strict=True):
                    self.assertAlmostEqual(side / 72 * 25.4, mm, delta=0.1)
                words = pages[1].get_textpage().get_text_range()
                self.assertIn("Row 1 of", words)
        self.assertEqual(self.client.get("/film/placement.pdf", asked(_PENNANT, paper="b9")).status_code, 404)

    def test_tiled_sheets_show_the_image_where_it_lies(self):
        # Source: arithmetic; on 388 × 562 mm the image begins 44 mm from the left and 91 mm from the top, so on the first
        # sheet, behind its 8 mm of margin.
        image = {"name": "Flag", "width": "100", "height": "80", "x": "-100", "y": "-150"}
        question = asked(image, frame_width="388", frame_height="562", paper="a4")
        data = self.client.get("/film/placement.pdf", question).content
        picture = pypdfium2.PdfDocument(data)[0].render(scale=4).to_numpy()[..., :3].min(2)
        per_mm = 4 * 72 / 25.4
        row = picture[round((8 + 91 + 20) * per_mm)]
        left = [x for x in range(len(row)) if row[x] < 200 and abs(x / per_mm - 52) < 2]
        self.assertTrue(left)
        self.assertAlmostEqual(sum(left) / len(left) / per_mm, 52, delta=0.4)

    def test_the_svg_is_in_millimetres(self):
        text = self.client.get("/film/placement.svg", asked(_PENNANT, frame_height="31.1 in")).content.decode()
        self.assertIn('width="580mm"', text)
        self.assertRegex(text, re.escape('viewBox="0 0 580 789.94"'))
        self.assertNotIn("class=", text)
        self.assertNotIn("tabindex", text)

    def test_names_are_escaped(self):
        self.assertContains(self.page(_PENNANT | {"name": "<b>x"}), "&lt;b&gt;x, 250 × 180 mm")
