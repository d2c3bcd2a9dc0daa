"""Frames registered, and mesh mounted on them."""

from django import forms

from frimble.core.lifecycle import Line
from frimble.screens.models import Frame, MeshType
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField, QuantityField, RecordField, WholeField

_LINES = [(Line.PHOTO, "photo emulsion"), (Line.HAND, "drawn or cut by hand")]


class RegisterForm(ActForm):
    """A new frame with its mesh, or several like it."""

    number = WholeField(label="How many", initial=1, required=False, help_text="Codes are counted on from the first")
    code = forms.RegexField(
        r"^[A-Za-z0-9][A-Za-z0-9-]*$",
        label="Code",
        max_length=16,
        error_messages={"invalid": "Letters, digits and dashes only, such as Q-065."},
        widget=forms.TextInput(attrs={"data-scan": "screen", "autocomplete": "off", "autocapitalize": "characters"}),
    )
    material = forms.ChoiceField(label="Frame", choices=Frame.Material.choices)
    width_mm = QuantityField(label="Outer width", unit="mm")
    height_mm = QuantityField(label="Outer height", unit="mm")
    inner_width_mm = QuantityField(label="Clear inside, width", unit="mm", required=False)
    inner_height_mm = QuantityField(label="Clear inside, height", unit="mm", required=False)
    mesh = RecordField(MeshType.objects.all(), label="Mesh", empty_label="Choose a mesh")
    angle_deg = NumberField(label="Mesh turned on the frame by", unit="°", initial=0, required=False)
    line = forms.ChoiceField(label="Stencil", choices=_LINES, required=False)

    def clean(self) -> dict:
        """One, and not turned, where nothing is typed."""
        cleaned = super().clean()
        if "number" in cleaned:
            cleaned["number"] = 1 if cleaned["number"] is None else cleaned["number"]
        if "angle_deg" in cleaned:
            cleaned["angle_deg"] = cleaned["angle_deg"] or 0.0
        return cleaned


class MountForm(ActForm):
    """New mesh on a frame."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    mesh = RecordField(MeshType.objects.all(), label="Mesh", empty_label="Choose a mesh")
    line = forms.ChoiceField(label="Stencil", choices=_LINES, required=False)
    angle_deg = NumberField(label="Turned on the frame by", unit="°", initial=0)
    in_house = forms.BooleanField(
        label="Stretched here: its first, next-day and settled tension will be asked for", required=False
    )
    note = forms.CharField(required=False, max_length=400, label="Note")
