"""Forms of the film bench: one for each route to a density."""

from django import forms

from frimble.core.film import densities
from frimble.screens.forms import ActForm, NumberField

_BAND = {"label": "Band", "choices": list(densities.BANDS.items())}


class DensitometerForm(ActForm):
    band = forms.ChoiceField(**_BAND)
    dmax = NumberField(label="Black")
    dmin = NumberField(label="Clear film")
    simulated = forms.BooleanField(required=False, widget=forms.HiddenInput)


class MeterForm(ActForm):
    band = forms.ChoiceField(**_BAND)
    without_film = NumberField(label="Without film")
    with_clear = NumberField(label="Under clear film")
    with_black = NumberField(label="Under the black")


class HoldOutForm(ActForm):
    gel_time_s = NumberField(label="Gel time through clear film", unit="s")
    work_s = NumberField(label="Working time", unit="s")
    last_clear = NumberField(label="Last multiple that rinsed clear", unit="×")
    first_scummed = NumberField(label="First that did not, empty when all were clear", unit="×", required=False)
    dmin = NumberField(label="Clear film, UV")


ROUTE_FORMS = {"densitometer": DensitometerForm, "meter": MeterForm, "hold_out": HoldOutForm}
