"""A photo of a bare mesh, and from which side it was taken."""

from django import forms

from frimble.ui.forms.act import ActForm

PRINT, SQUEEGEE = "print", "squeegee"


class BareMeshForm(ActForm):
    photo = forms.FileField(
        label="Photo of the bare mesh against light",
        help_text="Clean and dry, the frame upright and whole in view, the room's lamps off.",
    )
    side = forms.ChoiceField(
        label="Taken from",
        choices=[(PRINT, "the print side (garment side)"), (SQUEEGEE, "the squeegee side (ink side)")],
        widget=forms.RadioSelect,
        initial=PRINT,
    )
