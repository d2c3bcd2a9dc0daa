"""What is typed about batches."""

from django import forms
from django.utils import timezone

from frimble.coatings.models import Batch, Emulsion
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import AmountField, NumberField, QuantityField, RatioField, RecordField


class BatchForm(ActForm):
    code = forms.CharField(label="Batch code", max_length=16)
    emulsion = RecordField(Emulsion.objects.all(), label="Emulsion", empty_label="Choose an emulsion")
    mixed_on = forms.DateField(
        label="Mixed or opened on",
        widget=forms.TextInput(attrs={"placeholder": "2026-11-03", "autocomplete": "off"}),
        error_messages={"invalid": "Write the date as year-month-day, such as 2026-11-03."},
        input_formats=["%Y-%m-%d"],
    )
    kept_c = QuantityField(label="Kept at", unit="°C", initial="20")
    base_l = NumberField(label="Emulsion before sensitiser", unit="l", required=False)
    ratio = RatioField(label="Parts to one of sensitiser, empty for the label's", required=False)
    capacity_l = NumberField(label="The container holds", unit="l", required=False)

    def clean_mixed_on(self):
        day = self.cleaned_data["mixed_on"]
        if day > timezone.localdate():
            raise forms.ValidationError("This batch is dated in the future: check when it was mixed.")
        return day


class MoveForm(ActForm):
    kept_c = QuantityField(label="Now kept at", unit="°C")


class LitresForm(ActForm):
    kind = forms.ChoiceField(
        label="What",
        choices=[("counted", "measured, in the container now"), ("thrown", "thrown away")],
        initial="counted",
    )
    litres = NumberField(label="Litres", unit="l")


class TopUpForm(ActForm):
    code = forms.CharField(label="Code of the blend", max_length=16)
    base_l = NumberField(label="New base", unit="l")


class MixForm(ActForm):
    """Any amount, by volume or by weight: what comes out is in the unit of the base."""

    emulsion = RecordField(Emulsion.objects.all(), label="Emulsion", required=False, empty_label="any")
    base = AmountField(label="New base", help_text="By volume or weight: 250 g, 8 oz, 1.5 l; ml without a unit")
    ratio = RatioField(label="Parts to one of sensitiser", initial="10")
    remainder = AmountField(label="Sensitised remainder in the container", required=False)
    remainder_of = RecordField(Batch.objects.in_use(), label="of batch", required=False, empty_label="not on record")
    remainder_age_days = NumberField(label="or mixed so long ago", unit="days", required=False)

    def clean(self):
        data = super().clean()
        base, remainder = data.get("base"), data.get("remainder")
        if base and remainder and base.base != remainder.base:
            self.add_error("remainder", "Type both by volume or both by weight.")
        return data
