"""Hardening, and the run it is for."""

from django import forms

from frimble.core.emulsion.batch import INKS
from frimble.core.stencil.hardening import HARDENERS
from frimble.screens.steps.forms import StepForm
from frimble.ui.forms.act import ActForm
from frimble.ui.forms.fields import SecondsField, WholeField


class RunForm(ActForm):
    """The run that the stencil is for, as it is asked in the address."""

    impressions = WholeField(label="Prints planned", required=False, min_value=1, max_value=1_000_000)
    ink = forms.ChoiceField(label="Ink", choices=[("", "not known"), *INKS.items()], required=False)


class HardenForm(StepForm):
    how = forms.ChoiceField(label="By", choices=[(str(k), w) for k, w in HARDENERS.items()], widget=forms.RadioSelect)
    seconds = SecondsField(label="Light, where it was light", required=False)
    for_good = forms.BooleanField(label="I know that a chemical hardener may never come off this mesh", required=False)
