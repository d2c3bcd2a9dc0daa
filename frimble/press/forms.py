"""Sending a screen to press, and its coming back."""

from django import forms

from frimble.press.models import PressVisit
from frimble.screens.steps.forms import StepForm
from frimble.ui.forms.fields import RecordField, WholeField


class ToPressForm(StepForm):
    job = RecordField(PressVisit.objects.none(), label="Job", required=False, empty_label="No job named")

    went_on = forms.CharField(label="Goes to press all the same, because", max_length=300, required=False)

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["job"].queryset = PressVisit.job.get_queryset()


class FromPressForm(StepForm):
    impressions = WholeField(label="Impressions", error_messages={"invalid": "A whole number of impressions."})
