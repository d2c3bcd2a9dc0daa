"""Quantities as pages and fields show them."""

from django.test import SimpleTestCase

from frimble.ui.forms.fields import NumberField, QuantityField, SecondsField
from frimble.ui.templatetags.frimble import percent


class PercentTests(SimpleTestCase):
    def test_whole_percent_and_no_minus_zero(self):
        # Source: arithmetic.
        for share, words in ((0.5, "50 %"), (-0.003, "0 %"), (1.124, "112 %"), (-0.04, "-4 %")):
            with self.subTest(share):
                self.assertEqual(percent(share), words)


class FieldTests(SimpleTestCase):
    def test_a_field_begins_with_its_number_as_a_hand_would_write_it(self):
        # Common practice, no source.
        for field in (NumberField(), SecondsField(), QuantityField(unit="mm")):
            for value, words in (
                (330.0, "330"),
                (0.06, "0.06"),
                (1234567.5, "1234567.5"),
                ("3,5", "3,5"),
                (None, None),
            ):
                with self.subTest(field=type(field).__name__, value=value):
                    self.assertEqual(field.prepare_value(value), words)
