"""Meshes: added, measured, chosen, laid under a halftone, worked out by use."""

from django import forms

from frimble.core.mesh import choice as mesh_choice
from frimble.core.mesh import practice as mesh_practice
from frimble.screens.models import MeshType
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField


class MeshForm(ActForm):
    """A cloth typed as people write it."""

    notation = forms.CharField(label="Mesh", help_text="As on its label: 43-80, 156-64 white, 90/cm-40")
    colour = forms.ChoiceField(label="Thread", choices=MeshType.Colour.choices)
    fabric_thickness_um = NumberField(label="Fabric thickness, if measured", unit="µm", required=False)


class MeasuredForm(ActForm):
    """What was measured on a cloth; left empty, the estimate stands."""

    fabric_thickness_um = NumberField(label="Fabric thickness", unit="µm", required=False)
    measured_opening_um = NumberField(label="Opening", unit="µm", required=False)
    thread_um = NumberField(label="Thread, from the label or the supplier", unit="µm", required=False)

    def __init__(self, *args, thread_assumed=False, **kwargs):
        super().__init__(*args, **kwargs)
        if not thread_assumed:
            del self.fields["thread_um"]


def _custom_field(aspect, label):
    named = [(name, custom.words) for name, custom in mesh_practice.CUSTOMS[aspect].items()]
    return forms.ChoiceField(label=label, required=False, choices=[("", "any"), *named])


class ChooserForm(ActForm):
    """What is to be printed. Empty fields ask nothing of the mesh."""

    ruling_lpi = NumberField(label="Halftone ruling", unit="lines/in", required=False)
    finest_um = NumberField(label="Finest line or gap", unit="µm", required=False)
    particle_um = NumberField(label="Largest particle in the ink", unit="µm", required=False)
    deposit_cm3_per_m2 = NumberField(label="Least wet deposit", unit="cm³/m²", required=False)
    role = _custom_field("role", "What the plate is for")
    ink = _custom_field("ink", "Ink")
    goods = _custom_field("goods", "Goods")
    stroke = _custom_field("stroke", "Printed")
    school = forms.ChoiceField(label="Choose for", choices=list(mesh_choice.SCHOOLS.items()))
    owned = forms.ChoiceField(label="From", choices=[("owned", "our meshes"), ("all", "all usual")])


class MoireForm(ActForm):
    """A halftone on a mesh."""

    ruling_lpi = NumberField(label="Halftone ruling", unit="lines/in")
    dot_angle = NumberField(label="Dot angle", unit="°")
    mesh_angle = NumberField(label="Mesh turned on the frame by", unit="°")
    plates = forms.CharField(
        label="Dot angles of all plates, if several", required=False, max_length=80, help_text="Such as 15 45 75 0"
    )


class CostForm(ActForm):
    price = NumberField(label="Mesh for a frame, in money")
    stretching = NumberField(label="Stretching it")
    reclaim = NumberField(label="A reclaim")
