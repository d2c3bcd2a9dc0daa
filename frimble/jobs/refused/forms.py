"""Refused work as it is typed."""

from django import forms

from frimble.core.costing.refused import REFUSAL_WORDS, Refusal
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField, QuantityField


class RefusedForm(ActForm):
    words = forms.CharField(label="What was asked for", max_length=120)
    reason = forms.ChoiceField(label="Not taken because it is", choices=[(r.value, REFUSAL_WORDS[r]) for r in Refusal])
    width_mm = QuantityField(label="Image width", unit="mm", required=False)
    height_mm = QuantityField(label="Image height", unit="mm", required=False)
    money = NumberField(label="It would have brought", unit="", required=False, help_text="In the shop's money")
