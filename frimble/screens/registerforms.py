"""Frames registered, mesh mounted on them, labels, and looking for screens."""

from django import forms

from frimble.core.conclusions import OutOfRange
from frimble.core.lifecycle import STATE_WORDS, Line
from frimble.core.units import read_quantity
from frimble.screens.forms import ActForm, NumberField, QuantityField, RecordField, WholeField
from frimble.screens.models import Frame, MeshKind, Rack
from frimble.screens.searching import DUE, ORDERS
from frimble.ui.labels import SHEETS

_LINES = [(Line.PHOTO, "photo emulsion"), (Line.HAND, "drawn or cut by hand")]


class RegisterForm(ActForm):
    """A new frame with its mesh, or several like it."""

    number = WholeField(label="How many", initial=1, required=False, help_text="Codes are counted on from the first")
    code = forms.RegexField(
        r"^[A-Za-z0-9][A-Za-z0-9-]*$", label="Code", max_length=16,
        error_messages={"invalid": "Letters, digits and dashes only, such as Q-065."},
        widget=forms.TextInput(attrs={"data-scan": "screen", "autocomplete": "off", "autocapitalize": "characters"}),
    )  # fmt: skip
    material = forms.ChoiceField(label="Frame", choices=Frame.Material.choices)
    width_mm = QuantityField(label="Outer width", unit="mm")
    height_mm = QuantityField(label="Outer height", unit="mm")
    inner_width_mm = QuantityField(label="Clear inside, width", unit="mm", required=False)
    inner_height_mm = QuantityField(label="Clear inside, height", unit="mm", required=False)
    mesh = RecordField(MeshKind.objects.all(), label="Mesh", empty_label="Choose a mesh")
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
    mesh = RecordField(MeshKind.objects.all(), label="Mesh", empty_label="Choose a mesh")
    line = forms.ChoiceField(label="Stencil", choices=_LINES, required=False)
    angle_deg = NumberField(label="Turned on the frame by", unit="°", initial=0)
    in_house = forms.BooleanField(
        label="Stretched here: its first, next-day and settled tension will be asked for", required=False
    )
    note = forms.CharField(required=False, max_length=400, label="Note")


class LabelForm(ActForm):
    codes = forms.CharField(label="Screens", max_length=6000, help_text="Such as Q-014, or Q-001..Q-020 for a run")
    sheet = forms.ChoiceField(label="Sheet", choices=[(key, sheet.words) for key, sheet in SHEETS.items()])
    start = WholeField(label="First free place", initial=1)


class SearchForm(ActForm):
    """What is looked for; every field may be left empty."""

    text = forms.CharField(label="Code, slot or mesh", required=False, max_length=40)
    mesh = RecordField(MeshKind.objects.all(), label="Mesh", required=False, empty_label="any")
    state = forms.ChoiceField(
        label="On the mesh", required=False, choices=[("", "any"), *((s.value, w) for s, w in STATE_WORDS.items())]
    )
    size = forms.CharField(label="Frame, outside", required=False, max_length=30, help_text="Such as 58 x 79 cm")
    rack = RecordField(Rack.objects.all(), label="Rack", required=False, empty_label="any or none")
    least = NumberField(label="Tension from", unit="N/cm", required=False)
    most = NumberField(label="Tension to", unit="N/cm", required=False)
    due = forms.ChoiceField(label="Due", required=False, choices=[("", "anything"), *DUE.items()])
    order = forms.ChoiceField(label="In order of", required=False, choices=list(ORDERS.items()))

    def clean_size(self):
        """(width, height) in mm; a unit at the end goes for both."""
        text = self.cleaned_data["size"].strip()
        if not text:
            return None
        sides = text.lower().replace("×", "x").split("x")
        try:
            if len(sides) != 2:
                raise OutOfRange("Write a size as 58 x 79 cm.")
            unit = "".join(c for c in sides[1] if c.isalpha() or c == '"')
            first = sides[0] if any(c.isalpha() for c in sides[0]) else sides[0].strip() + unit
            return tuple(read_quantity(side, "mm") for side in (first, sides[1]))
        except OutOfRange as error:
            raise forms.ValidationError(str(error)) from None

    def clean_order(self):
        return self.cleaned_data["order"] or "code"
