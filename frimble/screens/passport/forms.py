"""Taking a record back, and what keeping a stencil is weighed by."""

from django import forms

from frimble.screens.steps.forms import ActForm, StepForm
from frimble.ui.forms.fields import NumberField


class KeepForm(ActForm):
    """What keeping a finished stencil is weighed by."""

    chance = NumberField(label="Chance that it is asked for again", unit="%")
    days = NumberField(label="In about", unit="days")
    minutes = NumberField(label="Remaking it takes", unit="min")
    goods = NumberField(label="Film, emulsion and other goods, in money")


class TakeBackForm(StepForm):
    reason = forms.CharField(label="What was wrong with it", max_length=400)
