"""Coating a screen."""

from django import forms

from frimble.coatings.drying.forms import AirForm
from frimble.coatings.models import FILLS, INKS, Batch, Coater, CoatRecipe
from frimble.screens.steps.forms import StepForm
from frimble.ui.forms.fields import RecordField, SecondsField

FORMULA_INPUT = forms.TextInput(attrs={"list": "recipes", "autocomplete": "off", "spellcheck": "false"})


class CoatForm(AirForm, StepForm):
    simulated = None
    formula = forms.CharField(label="Coat formula", max_length=60, widget=FORMULA_INPUT)
    batch = RecordField(Batch.objects.none(), label="Emulsion batch", empty_label="Choose a batch")
    coater = RecordField(
        Coater.objects.filter(retired=False), label="Coater", required=False, empty_label="not written down"
    )
    fill = forms.ChoiceField(label="Coater filled", required=False, choices=[("", "not written down"), *FILLS])
    ink = forms.ChoiceField(label="Ink it will print", required=False, choices=[("", "not known yet"), *INKS])
    stroke_s = SecondsField(label="One stroke took", required=False)

    def __init__(self, *args, coaters=None, **kwargs):
        super().__init__(*args, **kwargs)
        if coaters is not None:
            self.fields["coater"].offer(coaters)
        self.fields["batch"].queryset = Batch.objects.in_use()
        self.fields["air_c"].label, self.fields["humidity"].label = "Cabinet temperature", "Cabinet humidity"
        self.recipes = CoatRecipe.objects.all()
