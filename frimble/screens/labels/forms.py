"""Which screens get a label, on which sheet."""

from django import forms

from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import WholeField
from frimble.ui.labels import SHEETS


class LabelForm(ActForm):
    codes = forms.CharField(label="Screens", max_length=6000, help_text="Such as Q-014, or Q-001..Q-020 for a run")
    sheet = forms.ChoiceField(label="Sheet", choices=[(key, sheet.words) for key, sheet in SHEETS.items()])
    start = WholeField(label="First free place", initial=1)
