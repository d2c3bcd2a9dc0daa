"""What screens are looked for by."""

from django import forms

from frimble.core.conclusions import InvalidInput
from frimble.core.lifecycle import STATE_WORDS
from frimble.core.units import read_quantity
from frimble.screens.models import MeshType, Rack
from frimble.screens.search.queries import DUE, ORDERS
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField, RecordField


class SearchForm(ActForm):
    """What is looked for; every field may be left empty."""

    text = forms.CharField(label="Code, slot or mesh", required=False, max_length=40)
    mesh = RecordField(MeshType.objects.all(), label="Mesh", required=False, empty_label="any")
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
                raise InvalidInput("Write a size as 58 x 79 cm.")
            unit = "".join(c for c in sides[1] if c.isalpha() or c == '"')
            first = sides[0] if any(c.isalpha() for c in sides[0]) else sides[0].strip() + unit
            return tuple(read_quantity(side, "mm") for side in (first, sides[1]))
        except InvalidInput as error:
            raise forms.ValidationError(str(error)) from None

    def clean_order(self):
        return self.cleaned_data["order"] or "code"
