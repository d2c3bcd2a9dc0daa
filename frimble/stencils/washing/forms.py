"""Washing out: what was seen before, how long it was soaked and rinsed, and how."""

from django import forms

from frimble.core.stencil.latent import LATENT_WORDS
from frimble.screens.steps.forms import StepForm
from frimble.stencils.washing.models import Washout
from frimble.ui.forms.fields import NumberField, SecondsField

_NOT_WRITTEN = ("", "not written down")


class WashForm(StepForm):
    latent = forms.ChoiceField(
        label="The image before the wash",
        choices=[*((k.value, words) for k, words in LATENT_WORDS.items()), ("", "not looked")],
        required=False,
        widget=forms.RadioSelect,
    )
    latent_photo = forms.FileField(label="Photograph of it, if you like", required=False)
    soak_s = SecondsField(label="Soak")
    rinse_s = SecondsField(label="Rinse")
    side = forms.ChoiceField(label="Rinsed from", choices=[_NOT_WRITTEN, *Washout.Side.choices], required=False)
    pressure = forms.ChoiceField(label="Pressure", choices=[_NOT_WRITTEN, *Washout.Pressure.choices], required=False)
    water_c = NumberField(label="Water", unit="°C", required=False)
    distance_cm = NumberField(label="Nozzle from the mesh", unit="cm", required=False)
