"""One thing moved."""

from django import forms

from frimble.core.conclusions import InvalidInput
from frimble.screens.models import MeshType
from frimble.stencils.proofs.forms import ProofForm
from frimble.ui.forms.fields import NumberField, QuantityField, RecordField

CHANGES = {
    "mesh": "another mesh",
    "thread": "thread of the other colour",
    "formula": "another coat formula",
    "distance": "the lamp farther or nearer",
    "density": "a darker or paler film",
    "age": "an older batch",
}
# Which field holds the value of a change.
_FIELDS = {"mesh": "other_mesh", "formula": "other_formula", "distance": "distance_mm", "density": "dmax", "age": "age"}


class WhatIfForm(ProofForm):
    change = forms.ChoiceField(label="What if it had", choices=list(CHANGES.items()))
    other_mesh = RecordField(
        MeshType.objects.filter(thermal=False), label="Mesh then", required=False, empty_label="none"
    )
    other_formula = forms.CharField(label="Formula then", max_length=60, required=False)
    distance_mm = QuantityField(label="Distance then", unit="mm", required=False)
    dmax = NumberField(label="Black in UV then", unit="", required=False)
    age = NumberField(label="Life of the batch used then", unit="%", required=False)

    def clean(self):
        cleaned = super().clean()
        needed = _FIELDS.get(cleaned.get("change", ""))
        if needed and needed not in self.errors and cleaned.get(needed) in (None, ""):
            self.add_error(needed, "Say what it would be then.")
        return cleaned

    def moved(self) -> tuple[str, object]:
        """The change and its value, None for one that has none.

        Raises:
            InvalidInput: the form is not whole.
        """
        if not self.is_valid():
            raise InvalidInput("Say what it would be then.")
        change = self.cleaned_data["change"]
        return change, self.cleaned_data.get(_FIELDS.get(change, ""))
