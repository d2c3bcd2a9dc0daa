"""A film as it comes to the bench, and what was done to it."""

from django import forms

from frimble.core.emulsion.batch import INKS
from frimble.films.models import FilmProcess
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import QuantityField, RecordField


class FilmForm(ActForm):
    """A film as it comes to the bench."""

    name = forms.CharField(label="Film", max_length=80, help_text="What a colleague would call it")
    job_number = forms.CharField(label="Job", max_length=12, required=False)
    separation = forms.CharField(label="Separation", max_length=60, required=False)
    process = RecordField(FilmProcess.objects.all(), label="Made by", required=False, empty_label="not known")
    ink = forms.ChoiceField(label="Printed with ink", required=False, choices=[("", "not known"), *INKS.items()])
    width_mm = QuantityField(label="Image width", unit="mm", required=False)
    height_mm = QuantityField(label="Image height", unit="mm", required=False)
    kept_at = forms.CharField(label="Kept at", max_length=60, required=False)


class TouchUpForm(ActForm):
    words = forms.CharField(label="Touched up", max_length=240, help_text="Such as: opaque pen on two pinholes")
