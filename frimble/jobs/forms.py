"""Forms of the press."""

from django import forms

from frimble.jobs.models import Job, Photo
from frimble.screens.forms import ActForm, StepForm, WholeField


class PhotoForm(ActForm):
    picture = forms.FileField(label="Photograph")
    shows = forms.ChoiceField(label="Of the", choices=Photo.Shows.choices)
    words = forms.CharField(label="To remember", required=False, max_length=160)


class ToPressForm(StepForm):
    job = forms.ModelChoiceField(Job.objects.all(), label="Job", required=False, empty_label="No job named")


class FromPressForm(StepForm):
    impressions = WholeField(label="Impressions", error_messages={"invalid": "A whole number of impressions."})
