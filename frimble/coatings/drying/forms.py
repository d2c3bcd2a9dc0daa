"""The air of a cabinet, and a look at a drying coat."""

from django import forms

from frimble.core.coating.drying import FANS, Air
from frimble.core.coating.dryness import DAMP_SIGNS, METHODS
from frimble.core.units import celsius
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField


class AirForm(ActForm):
    """Temperature, humidity and fan, in the person's own unit of temperature."""

    air_c = NumberField(label="Temperature", unit="°C")
    humidity = NumberField(label="Humidity", unit="%")
    fan = forms.ChoiceField(label="Fan", choices=list(FANS.items()), initial="low", required=False)
    simulated = forms.BooleanField(required=False, widget=forms.HiddenInput)

    def __init__(self, *args, inch=False, **kwargs):
        super().__init__(*args, **kwargs)
        self.inch = inch
        if inch:
            self.fields["air_c"].unit = "°F"

    def clean_air_c(self):
        value = self.cleaned_data["air_c"]
        return celsius(value) if self.inch else value

    def clean_fan(self):
        return self.cleaned_data["fan"] or "low"

    def air(self) -> Air:
        data = self.cleaned_data
        return Air(data["air_c"], data["humidity"] / 100, data["fan"])


class DryCheckForm(ActForm):
    """A look at a drying coat: what was felt, weighed or read."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    method = forms.ChoiceField(label="How", choices=list(METHODS.items()), widget=forms.RadioSelect, initial="touch")
    signs = forms.MultipleChoiceField(
        label="What the fingertip finds",
        choices=list(DAMP_SIGNS.items()),
        widget=forms.CheckboxSelectMultiple,
        required=False,
    )
    first_g = NumberField(label="First weighing", unit="g", required=False)
    second_g = NumberField(label="Second weighing", unit="g", required=False)
    apart_min = NumberField(label="Minutes between", unit="min", required=False, initial="10")
    step_g = NumberField(label="The scale's step", unit="g", required=False, initial="0.1")
    percent = NumberField(label="Moisture", unit="%", required=False)
    note = forms.CharField(required=False, max_length=400, label="Note")

    _ASKED = {"weight": ("first_g", "second_g", "apart_min", "step_g"), "meter": ("percent",)}

    def clean(self):
        data = super().clean()
        for name in self._ASKED.get(data.get("method"), ()):
            if data.get(name) is None and name not in self.errors:
                self.add_error(name, "Type a number.")
        return data
