"""Gauge readings of one coat."""

from django import forms

from frimble.core.conclusions import InvalidInput
from frimble.core.numbers import read_numbers
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField


class ThicknessForm(ActForm):
    """Gauge readings of one coat."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    simulated = forms.BooleanField(required=False, widget=forms.HiddenInput)
    bare_um = NumberField(label="Bare mesh", unit="µm")
    coated_um = forms.CharField(
        label="Coated, several places",
        max_length=120,
        help_text="Readings in µm, such as 148 151 150 149 152",
        widget=forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off"}),
    )
    note = forms.CharField(required=False, max_length=400, label="Note")

    def clean_coated_um(self) -> list[float]:
        try:
            return read_numbers(self.cleaned_data["coated_um"], "coated_um")
        except InvalidInput as error:
            raise forms.ValidationError(str(error)) from None

    def _say(self, field, message):
        super()._say({"coated": "coated_um"}.get(field, field), message)
