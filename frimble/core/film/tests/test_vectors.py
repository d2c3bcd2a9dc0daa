"""Lines and words of a drawn file, of PDFs made by a general library whose measures are asked for in points."""

import io
from dataclasses import replace

import pypdfium2
from reportlab.pdfgen.canvas import Canvas

from frimble.core.film.findings import limits_for
from frimble.core.film.scan.vectors import Detail, details_of, too_fine
from frimble.core.testing.case import CoreCase

# Source: PDF, ISO 32000-1, 8.3.2.3: the default unit is 1/72 inch.
POINT_MM = 25.4 / 72
PAGE = (400, 300)


class DetailTests(CoreCase):
    def details(self, draw) -> tuple[Detail, ...]:
        out = io.BytesIO()
        canvas = Canvas(out, pagesize=PAGE)
        draw(canvas)
        canvas.save()
        document = pypdfium2.PdfDocument(out.getvalue())
        self.addCleanup(document.close)
        return details_of(document[0])

    def only(self, draw) -> Detail:
        details = self.details(draw)
        self.assertEqual(len(details), 1)
        return details[0]

    def test_a_line_has_the_width_it_was_drawn_with(self):
        def draw(canvas):
            canvas.setLineWidth(0.5)
            canvas.line(50, 100, 250, 100)

        line = self.only(draw)
        self.assertEqual(line.kind, "thin_line")
        self.assertAlmostEqual(line.value, 0.5 * POINT_MM, 4)
        self.assertAlmostEqual(line.x_mm, 50 * POINT_MM, 0)
        # Measured from the top, where a PDF counts from the foot.
        self.assertAlmostEqual(line.y_mm, 200 * POINT_MM, 0)

    def test_a_drawing_set_smaller_has_thinner_lines_and_smaller_words(self):
        # Source: ISO 32000-1, 8.3.3: a scale of the axes scales widths and type alike.
        def draw(canvas):
            canvas.scale(0.5, 0.5)
            canvas.setLineWidth(2)
            canvas.line(50, 100, 250, 100)
            canvas.setFont("Helvetica", 12)
            canvas.drawString(60, 200, "Quay")

        found = {d.kind: d for d in self.details(draw)}
        self.assertAlmostEqual(found["thin_line"].value, POINT_MM, 4)
        self.assertAlmostEqual(found["type_size"].value, 6, 4)

    def test_a_turn_changes_no_width(self):
        # Source: a rotation has a determinant of 1.
        def draw(canvas):
            canvas.translate(200, 100)
            canvas.rotate(30)
            canvas.setLineWidth(0.8)
            canvas.line(0, 0, 100, 0)

        self.assertAlmostEqual(self.only(draw).value, 0.8 * POINT_MM, 3)

    def test_a_filled_bar_is_as_wide_as_its_narrow_side(self):
        line = self.only(lambda canvas: canvas.rect(50, 100, 200, 0.6, stroke=0, fill=1))
        self.assertAlmostEqual(line.value, 0.6 * POINT_MM, 2)

    def test_a_short_bar_is_a_mark_and_no_line(self):
        self.assertEqual(self.details(lambda canvas: canvas.rect(50, 100, 4, 0.6, stroke=0, fill=1)), ())

    def test_times_has_serifs_and_helvetica_has_none(self):
        # Source: ISO 32000-1, 9.6.2.2, the standard fonts.
        for face, serif in (("Times-Roman", True), ("Helvetica", False)):
            with self.subTest(face):

                def draw(canvas, face=face):
                    canvas.setFont(face, 9)
                    canvas.drawString(60, 200, "Oyster")

                words = self.only(draw)
                self.assertEqual((words.kind, words.serif), ("type_size", serif))
                self.assertAlmostEqual(words.value, 9, 3)


class TooFineTests(CoreCase):
    def setUp(self):
        super().setUp()
        self.limits = replace(limits_for(self.house_settings), line_mm=0.25, sans_pt=6.0, serif_pt=8.0)

    def kinds(self, *details):
        return [(f.kind, f.value) for f in too_fine(details, self.limits)]

    def test_what_is_at_its_floor_holds_and_what_is_under_it_does_not(self):
        at, under = (Detail("thin_line", 0, 0, 30, 0.3, value) for value in (0.25, 0.24))
        self.assertEqual(self.kinds(at, under), [("thin_line", 0.24)])

    def test_faces_with_serifs_have_a_floor_of_their_own(self):
        # Common practice, no source: hairlines of a serif face close before a plain stroke does.
        plain, serif = (Detail("type_size", 0, 0, 30, 3, 7.0, serif=s) for s in (False, True))
        self.assertEqual(self.kinds(plain, serif), [("type_size", 7.0)])

    def test_the_finding_lies_where_the_detail_does(self):
        found = too_fine((Detail("thin_line", 12.0, 34.0, 56.0, 0.1, 0.1),), self.limits)[0]
        self.assertEqual((found.x_mm, found.y_mm, found.width_mm, found.height_mm), (12.0, 34.0, 56.0, 0.1))
