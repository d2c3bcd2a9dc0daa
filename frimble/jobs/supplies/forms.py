"""A supply, and what came, went or was counted."""

from django import forms

from frimble.core.supplies.stock import Moved
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import DayField, NumberField

_KINDS = {Moved.OUT: "taken out", Moved.IN: "came in", Moved.COUNTED: "counted, this is there"}


class SupplyForm(ActForm):
    name = forms.CharField(label="Supply", max_length=60)
    unit = forms.CharField(label="Counted in", max_length=12, help_text="Such as l, sheets, rolls, kg")
    code = forms.CharField(label="Code on its container", max_length=40, required=False)
    supplier_days = NumberField(label="Comes after ordering within", unit="days", initial=7)
    a_screen = NumberField(label="One screen takes", required=False)
    stored_at = forms.CharField(label="Stored", max_length=80, required=False)
    keep_from = forms.CharField(label="Must not meet", max_length=160, required=False)
    safety_sheet = forms.FileField(label="Safety sheet, PDF", required=False)


class SupplyRecordForm(ActForm):
    kind = forms.ChoiceField(label="What", choices=[(k.value, words) for k, words in _KINDS.items()])
    amount = NumberField(label="How much")
    batch = forms.CharField(label="Batch", max_length=40, required=False)
    expires_on = DayField(label="Good until", required=False)
