"""Nine readings of a lamp's glass: all or none, told by their places."""

from django import forms
from django.test import SimpleTestCase

from frimble.ui.forms.grid import NineReadings


class GlassForm(forms.Form):
    field = NineReadings(required=False)


def typed(*values):
    return {f"field_{k}": value for k, value in enumerate(values)}


class NineReadingsTests(SimpleTestCase):
    def test_they_are_read_row_by_row_with_point_or_comma(self):
        form = GlassForm(typed("100", "99.5", "98,5", "97", "96", "95", "94", "93", "92"))
        self.assertTrue(form.is_valid(), form.errors)
        self.assertEqual(form.cleaned_data["field"], [[100, 99.5, 98.5], [97, 96, 95], [94, 93, 92]])

    def test_none_is_no_reading(self):
        for data in ({}, typed(*[""] * 9), typed(*["  "] * 9)):
            form = GlassForm(data)
            self.assertTrue(form.is_valid())
            self.assertIsNone(form.cleaned_data["field"])

    def test_those_still_to_be_read_are_named_by_their_places(self):
        form = GlassForm(typed("100", "", "98", "97", "96", "95", "94", "93", ""))
        self.assertEqual(form.errors["field"], ["All nine or none: upper middle, lower right still to read."])

    def test_what_is_no_number_is_told_with_its_place_and_stays_typed(self):
        form = GlassForm(typed("100", "99", "98", "97", "bright", "95", "94", "93", "92"))
        self.assertTrue(form.errors["field"][0].startswith("Middle: "))
        self.assertIn('name="field_4" value="bright" aria-label="Middle"', str(form["field"]))

    def test_they_lie_as_the_glass_does(self):
        drawn = str(GlassForm()["field"])
        self.assertEqual(drawn.count("<input"), 9)
        self.assertLess(drawn.index("Upper left"), drawn.index("Middle left"))
        self.assertLess(drawn.index("Middle left"), drawn.index("Lower left"))

    def test_what_was_typed_is_escaped(self):
        self.assertIn("&lt;b&gt;", str(GlassForm(typed("<b>"))["field"]))
