"""A close photo of a mesh, and its scale where no strip lies on it."""

from django import forms

from frimble.ui.forms.act import ActForm
from frimble.ui.forms.fields import NumberField


class MeshPhotoForm(ActForm):
    photo = forms.FileField(
        label="Close photo of the bare mesh against light",
        help_text="So near that single threads can be seen, the printed scale strip lying on the mesh.",
    )
    pixels_per_mm = NumberField(label="Scale, where no strip lies on it", unit="pixels a mm", required=False)
