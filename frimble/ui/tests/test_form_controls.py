"""Controls drawn in Python have the markup of Django's own templates."""

from django import forms
from django.forms.renderers import DjangoTemplates
from django.test import SimpleTestCase
from django.utils.html import escape

from frimble.ui.formrenderer import PlainControls

CHOICES = [("", "none"), ("a&b", "A & B"), ("Coats", [("1", "first <coat>"), ("2", "second")])]


class ControlsForm(forms.Form):
    name = forms.CharField(max_length=40, help_text="as on the label")
    note = forms.CharField(widget=forms.Textarea, required=False)
    count = forms.IntegerField(min_value=1, widget=forms.NumberInput(attrs={"autofocus": True, "hidden": False}))
    day = forms.DateField(widget=forms.DateInput)
    secret = forms.CharField(widget=forms.PasswordInput)
    photo = forms.FileField(widget=forms.FileInput)
    revision = forms.IntegerField(widget=forms.HiddenInput)
    dry = forms.BooleanField()
    formula = forms.ChoiceField(choices=CHOICES)
    grade = forms.ChoiceField(choices=CHOICES[:2], widget=forms.RadioSelect)
    seen = forms.MultipleChoiceField(choices=CHOICES[:2], widget=forms.CheckboxSelectMultiple)
    racks = forms.MultipleChoiceField(choices=CHOICES[2:])


TYPED = {
    "name": '"><b>', "note": "<i>", "count": "x", "day": "3 May", "secret": "s", "revision": "7", "dry": "on",
    "formula": "a&b", "grade": "a&b", "seen": ["a&b"], "racks": ["1", "2"],
}  # fmt: skip


class PlainControlsTests(SimpleTestCase):
    # Source: Django's own widget templates, rendered beside ours.
    def assertAlike(self, data):
        ours, theirs = (ControlsForm(data, renderer=renderer()) for renderer in (PlainControls, DjangoTemplates))
        for name in ours.fields:
            with self.subTest(control=name, typed=data is not None):
                self.assertHTMLEqual(str(ours[name]), str(theirs[name]))

    def test_empty_controls(self):
        self.assertAlike(None)

    def test_what_was_typed_wrong_stays(self):
        self.assertAlike(TYPED)

    def test_single_choices_as_the_pages_draw_them(self):
        ours, theirs = (ControlsForm(TYPED, renderer=renderer()) for renderer in (PlainControls, DjangoTemplates))
        for one, other in zip(ours["grade"], theirs["grade"], strict=True):
            self.assertHTMLEqual(one.tag(), other.tag())
            self.assertHTMLEqual(one.tag(wrap_label=True), other.tag(wrap_label=True))

    def test_what_was_typed_is_escaped(self):
        self.assertIn(escape(TYPED["name"]), str(ControlsForm(TYPED, renderer=PlainControls())["name"]))

    def test_a_control_of_another_kind_goes_through_its_template(self):
        form = ControlsForm({"note": "kept"}, renderer=PlainControls())
        self.assertHTMLEqual(
            str(form["note"]), '<textarea name="note" cols="40" rows="10" id="id_note">kept</textarea>'
        )

    def test_the_application_uses_it(self):
        self.assertIsInstance(ControlsForm().renderer, PlainControls)
