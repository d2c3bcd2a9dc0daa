"""Where something lies on a mesh."""

from django import forms

from frimble.core.mesh.blemishes import BLEMISHES
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField


class BlemishForm(ActForm):
    """Where something lies on the mesh, tapped on the drawing or typed."""

    kind = forms.ChoiceField(label="What", choices=list(BLEMISHES.items()))
    x_mm = NumberField(label="From the left", unit="mm")
    y_mm = NumberField(label="From the top", unit="mm")
    width_mm = NumberField(label="Wide", unit="mm")
    height_mm = NumberField(label="High", unit="mm")
    photo = forms.FileField(label="Photograph, if you like", required=False)
