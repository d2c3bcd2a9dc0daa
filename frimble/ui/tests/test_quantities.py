"""Quantities as pages show them."""

from django.test import SimpleTestCase

from frimble.ui.templatetags.frimble import percent


class PercentTests(SimpleTestCase):
    def test_whole_percent_and_no_minus_zero(self):
        # Source: arithmetic.
        for share, words in ((0.5, "50 %"), (-0.003, "0 %"), (1.124, "112 %"), (-0.04, "-4 %")):
            with self.subTest(share):
                self.assertEqual(percent(share), words)
