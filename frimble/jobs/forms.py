"""Forms of the press."""

from django import forms

from frimble.jobs.models import Job
from frimble.screens.forms import StepForm


class ToPressForm(StepForm):
    job = forms.ModelChoiceField(Job.objects.all(), label="Job", required=False, empty_label="No job named")


class FromPressForm(StepForm):
    impressions = forms.IntegerField(
        label="Impressions", widget=forms.TextInput(attrs={"inputmode": "numeric", "autocomplete": "off"}),
        error_messages={"invalid": "A whole number of impressions."},
    )  # fmt: skip
