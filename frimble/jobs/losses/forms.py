"""What is looked at, and what is tried."""

from django import forms

from frimble.core.stencil.losses import KEYS
from frimble.ui.forms.act import ActForm

_DAYS = [("30", "30 days"), ("90", "90 days"), ("365", "a year")]


class LossesForm(ActForm):
    by = forms.ChoiceField(label="By", choices=[(key, words) for key, (words, _) in KEYS.items()])
    days = forms.ChoiceField(label="Of the last", choices=_DAYS)


class TrialForm(ActForm):
    changed = forms.CharField(
        label="One thing changed", max_length=200, help_text="One only, or nothing follows from it"
    )
    expected = forms.CharField(label="What should come of it", max_length=200, required=False)


class ResultForm(ActForm):
    result = forms.CharField(label="Result", max_length=300)
    conclusion = forms.CharField(label="Conclusion", max_length=300)
