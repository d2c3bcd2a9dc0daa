"""Racks: defined, changed, walked along, and a screen put into one."""

from django import forms

from frimble.screens.forms import ActForm, QuantityField, StepForm, WholeField


class RackForm(ActForm):
    """A rack as it stands, with like slots in columns and rows."""

    code = forms.RegexField(
        r"^[A-Za-z][A-Za-z0-9]*$", label="Code", max_length=8, help_text="Slots are called after it, such as F-01",
        error_messages={"invalid": "A letter first, then letters and digits."},
    )  # fmt: skip
    name = forms.CharField(label="Name", max_length=60)
    columns = WholeField(label="Columns")
    rows = WholeField(label="Rows")
    width_mm = QuantityField(label="A slot, clear width", unit="mm")
    height_mm = QuantityField(label="A slot, clear height", unit="mm")
    dark = forms.BooleanField(label="Dark: live emulsion may stand here", required=False)
    level = forms.BooleanField(label="Level: wet coats may lie here", required=False)


class ChangeRackForm(ActForm):
    name = forms.CharField(label="Name", max_length=60)
    dark = forms.BooleanField(label="Dark: live emulsion may stand here", required=False)
    level = forms.BooleanField(label="Level: wet coats may lie here", required=False)


class WalkForm(ActForm):
    walk = forms.CharField(
        label="Slot after slot, one a line: slot, then the screen in it",
        widget=forms.Textarea(attrs={"rows": 10, "autocomplete": "off", "autocapitalize": "characters"}),
    )


class PlaceForm(StepForm):
    slot = forms.CharField(
        label="Slot", max_length=12,
        widget=forms.TextInput(attrs={"data-scan": "slot", "autocomplete": "off", "autocapitalize": "characters"}),
    )  # fmt: skip
