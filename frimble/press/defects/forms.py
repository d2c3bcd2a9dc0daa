"""A place on a print, and what is wrong there."""

from django import forms

from frimble.core.press.defects import PRINT_FAULTS
from frimble.ui.forms.act import ActForm
from frimble.ui.forms.fields import NumberField


class DefectForm(ActForm):
    kind = forms.ChoiceField(label="What", choices=[(str(k), card.label) for k, card in PRINT_FAULTS.items()])
    x_mm = NumberField(label="From the left", unit="mm")
    y_mm = NumberField(label="From the top", unit="mm")


class ShowsForm(ActForm):
    """Whether a fault that was mended or left shows on the print."""

    fault = forms.IntegerField(min_value=0)
    shows = forms.TypedChoiceField(
        choices=[("yes", "shows"), ("no", "does not show")], coerce=lambda said: said == "yes"
    )
