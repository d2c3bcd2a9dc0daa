"""Decimal commas on pages: words change, code and what was typed do not, and what is shown can be typed again."""

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from frimble.core.numbers import read_number
from frimble.ui.decimals import with_commas


class DecimalCommaTests(SimpleTestCase):
    def test_numbers_in_words_bear_a_comma(self):
        # Source: ISO 80000-1, 7.3.2: the decimal sign is a comma or a point on the line; thousands are set apart by a space.
        for page, shown in (
            ("<p>26.0 N/cm, 1.26 times</p>", "<p>26,0 N/cm, 1,26 times</p>"),
            ("<text x='1.5'>-0.25 D</text>", "<text x='1.5'>-0,25 D</text>"),
            ('<b aria-label="22.5 of 25">22</b>', '<b aria-label="22,5 of 25">22</b>'),
            ("<p>20,000 h</p>", "<p>20\N{NARROW NO-BREAK SPACE}000 h</p>"),
        ):
            with self.subTest(page):
                self.assertEqual(with_commas(page), shown)

    def test_code_addresses_and_attributes_stay(self):
        for page in (
            "<script>const ratio = 1.41;</script>",
            "<style>p { margin: .5em 1.5em }</style>",
            "<p>https://192.168.0.12:8443</p>",
            '<path d="M 1.5 2.5"/>',
            '<b data-title="1.5" data-value="2.5">so</b>',
            "<textarea>Held at 0.5 bar</textarea>",
            '<input inputmode="decimal" value="8.5 10.1 12.7">',
            "<p>Read on 3 May, 14:05. Then 7 screens.</p>",
        ):
            with self.subTest(page):
                self.assertEqual(with_commas(page), page)

    def test_a_value_in_a_field_is_shown_alike(self):
        self.assertEqual(
            with_commas('<input type="text" inputmode="decimal" value="23.8">'),
            '<input type="text" inputmode="decimal" value="23,8">',
        )
        self.assertEqual(with_commas('<input type="hidden" value="23.8">'), '<input type="hidden" value="23.8">')

    @given(st.decimals(min_value=0, max_value=99999, places=3))
    def test_what_is_shown_can_be_typed(self, number):
        # Source: Python's own reading of the number.
        shown = with_commas(f"<p>{number}</p>")[3:-4]
        self.assertAlmostEqual(read_number(shown), float(number))
