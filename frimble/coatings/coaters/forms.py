"""A coater entered, and a look along its edge."""

from django import forms

from frimble.coatings.models import Coater
from frimble.core.coating.coater import CONDITIONS
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import QuantityField


class CoaterForm(ActForm):
    name = forms.CharField(label="Name on the coater", max_length=40)
    length_mm = QuantityField(label="Length of its edge", unit="mm")
    round_edge = forms.BooleanField(label="Has a round edge too", required=False, initial=True)
    ends = forms.ChoiceField(label="Its ends", required=False, choices=[("", "not written down"), *Coater.Ends.choices])
    lipped = forms.BooleanField(label="Lipped ends that set the angle", required=False)


class CoaterCheckForm(ActForm):
    finding = forms.ChoiceField(label="Along the edge", choices=[(k, v[0]) for k, v in CONDITIONS.items()])
    note = forms.CharField(label="Note", max_length=240, required=False)
