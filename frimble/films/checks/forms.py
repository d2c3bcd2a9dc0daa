"""A scan to be checked, checked again, and its findings judged."""

from django import forms

from frimble.core.film.scan.coding import ENCODINGS
from frimble.screens.models import MeshType
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField, RecordField


def _mesh_field():
    return RecordField(
        MeshType.objects.filter(thermal=False),
        label="For mesh",
        required=False,
        empty_label="none chosen: house limits",
    )


class ScanForm(ActForm):
    """A scan to be checked. A wedge is written as its first patch's corner, the patch's side and its densities."""

    scan = forms.FileField(label="Scan", help_text="PNG, TIFF, JPEG or PDF, scanned with light through the film")
    dpi = NumberField(label="Resolution", unit="dpi", required=False, help_text="The file's own when left empty")
    encoding = forms.ChoiceField(label="Coding", choices=list(ENCODINGS.items()))
    wedge = forms.CharField(
        label="Wedge",
        required=False,
        max_length=300,
        help_text="Densities, such as 0.05/0.35/0.65, to have it found; x,y,patch in mm before them to place it",
    )
    mesh = _mesh_field()


class AgainForm(ActForm):
    """A check made again: the wedge placed on the picture, its densities, and the mesh."""

    x_mm = NumberField(label="First patch, left edge", unit="mm", required=False)
    y_mm = NumberField(label="Its upper edge", unit="mm", required=False)
    patch_mm = NumberField(label="Side of a patch", unit="mm", required=False)
    densities = forms.CharField(
        label="Densities, first patch first",
        required=False,
        max_length=300,
        help_text="Such as 0.05/0.35/0.65",
    )
    mesh = _mesh_field()

    def clean(self) -> dict:
        """Puts the wedge together as it is written: placed, or its densities alone to have it found."""
        cleaned = super().clean()
        place = [cleaned.get(k) for k in ("x_mm", "y_mm", "patch_mm")]
        densities = cleaned.get("densities", "")
        if any(v is not None for v in place):
            if None in place or not densities:
                raise forms.ValidationError("A placed wedge wants its corner, the side of a patch and its densities.")
            densities = ",".join(f"{v:g}" for v in place) + "," + densities
        return {"wedge": densities, "mesh": cleaned.get("mesh")}


class JudgeForm(ActForm):
    finding = forms.IntegerField(widget=forms.HiddenInput)
    accepted = forms.BooleanField(required=False, widget=forms.HiddenInput)
    reason = forms.CharField(label="Why it does not matter", required=False, max_length=200)
