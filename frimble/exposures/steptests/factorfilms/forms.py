"""A factor film as it is labelled."""

from django import forms

from frimble.screens.steps.forms import ActForm


class FactorFilmForm(ActForm):
    name = forms.CharField(label="Film", max_length=60, help_text="What is written on it")
    factors = forms.CharField(
        label="Factors on it", max_length=200, help_text="As printed, such as 1 0.7 0.5 0.33 0.25"
    )
    areas = forms.CharField(
        label="Its areas and what each is for, one a line",
        required=False,
        widget=forms.Textarea(attrs={"rows": 3}),
        help_text="Such as A: solid, for the colour change; B: fine lines; C: halftone dots",
    )
