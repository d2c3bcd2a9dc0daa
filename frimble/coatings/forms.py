"""Forms of the coating rack."""

from django import forms
from django.utils import timezone

from frimble.coatings.models import Batch, CoatRecipe, Emulsion
from frimble.core.calculators import numbers
from frimble.core.conclusion import OutOfRange
from frimble.core.units import celsius
from frimble.screens.forms import ActForm, NumberField, QuantityField, StepForm


class CoatForm(StepForm):
    formula = forms.CharField(
        label="Coat formula", max_length=60,
        widget=forms.TextInput(attrs={"list": "recipes", "autocomplete": "off", "spellcheck": "false"}),
    )  # fmt: skip
    batch = forms.ModelChoiceField(Batch.objects.none(), label="Emulsion batch", empty_label="Choose a batch")
    air_c = NumberField(label="Cabinet temperature", unit="°C")
    humidity = NumberField(label="Cabinet humidity", unit="%")

    def __init__(self, *args, inch=False, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["batch"].queryset = Batch.objects.filter(finished_at__isnull=True).select_related("emulsion")
        self.recipes = CoatRecipe.objects.all()
        self.inch = inch
        if inch:
            self.fields["air_c"].unit = "°F"

    def clean_air_c(self):
        value = self.cleaned_data["air_c"]
        return celsius(value) if self.inch else value


class ThicknessForm(ActForm):
    """Gauge readings of one coat."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    simulated = forms.BooleanField(required=False, widget=forms.HiddenInput)
    bare_um = NumberField(label="Bare mesh", unit="µm")
    coated_um = forms.CharField(
        label="Coated, several places", max_length=120, help_text="Readings in µm, such as 148 151 150 149 152",
        widget=forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off"}),
    )  # fmt: skip
    note = forms.CharField(required=False, max_length=400, label="Note")

    def clean_coated_um(self) -> list[float]:
        try:
            return numbers(self.cleaned_data["coated_um"], "coated_um")
        except OutOfRange as error:
            raise forms.ValidationError(str(error)) from None

    def _say(self, field, message):
        super()._say({"coated": "coated_um"}.get(field, field), message)


class BatchForm(ActForm):
    code = forms.CharField(label="Batch code", max_length=16)
    emulsion = forms.ModelChoiceField(Emulsion.objects.all(), label="Emulsion", empty_label="Choose an emulsion")
    mixed_on = forms.DateField(
        label="Mixed on", widget=forms.TextInput(attrs={"placeholder": "2026-11-03", "autocomplete": "off"}),
        error_messages={"invalid": "Write the date as year-month-day, such as 2026-11-03."}, input_formats=["%Y-%m-%d"],
    )  # fmt: skip
    kept_c = QuantityField(label="Kept at", unit="°C", initial="20")

    def clean_mixed_on(self):
        day = self.cleaned_data["mixed_on"]
        if day > timezone.localdate():
            raise forms.ValidationError("This batch is dated in the future: check when it was mixed.")
        return day
