"""What is to lie on which screen."""

from django import forms

from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import QuantityField


class PlacementForm(ActForm):
    """What is to lie on which screen. Lengths may be typed with their unit."""

    screen = forms.CharField(
        label="Screen",
        required=False,
        max_length=16,
        help_text="Its size is taken and its ghost images are looked at",
        widget=forms.TextInput(attrs={"data-scan": "screen", "autocomplete": "off", "autocapitalize": "characters"}),
    )
    frame_width = QuantityField(label="Frame width, outside", unit="mm")
    frame_height = QuantityField(label="Frame height, outside", unit="mm")
    arts = forms.CharField(
        label="Images, one a line",
        widget=forms.Textarea(attrs={"rows": 3}),
        help_text="Such as Pennant 250 x 180; then its exposure if known, 95 s; then tape when not printed now",
    )
    coater = QuantityField(label="Coater", unit="mm", required=False)
    squeegee = QuantityField(label="Squeegee", unit="mm", required=False)
    film = QuantityField(label="Widest film", unit="mm", required=False)
    platen_width = QuantityField(label="Platen or goods, width", unit="mm", required=False)
    platen_height = QuantityField(label="Platen or goods, height", unit="mm", required=False)
    travel = QuantityField(label="Longest stroke of the press", unit="mm", required=False)
    transfer = forms.BooleanField(label="Transfer: the print is mirrored", required=False)
