"""A formula to try on a mesh, and one kept under a name."""

from django import forms

from frimble.coatings.coats.forms import FORMULA_INPUT
from frimble.coatings.models import FILLS, Emulsion
from frimble.core.emulsion.batch import INKS
from frimble.screens.models import MeshType
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField, RecordField


class PlannerForm(ActForm):
    """A formula to try on a mesh."""

    formula = forms.CharField(label="Coat formula", max_length=60, widget=FORMULA_INPUT)
    mesh = RecordField(MeshType.objects.filter(thermal=False), label="Mesh", empty_label=None)
    emulsion = RecordField(Emulsion.objects.all(), label="Emulsion", empty_label=None)
    fill = forms.ChoiceField(label="Coater filled", choices=FILLS)
    width_mm = NumberField(label="Coated width", unit="mm")
    height_mm = NumberField(label="Coated height", unit="mm")
    ink = forms.ChoiceField(
        label="Ink",
        required=False,
        choices=[("", "any"), *INKS.items()],
    )


class NameFormulaForm(ActForm):
    """A formula kept under a name."""

    formula = forms.CharField(max_length=60, widget=forms.HiddenInput)
    name = forms.CharField(label="Name", max_length=60)
    use = forms.CharField(label="What for", max_length=200)
    coarsest_per_cm = NumberField(label="On meshes from", unit="/cm", initial="0")
    finest_per_cm = NumberField(label="up to", unit="/cm", initial="200")
