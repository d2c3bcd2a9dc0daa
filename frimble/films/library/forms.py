"""A film as it comes to the bench, and what was done to it."""

from django import forms

from frimble.core.emulsion.batch import INKS
from frimble.core.film.angles import SETS, SHAPES
from frimble.films.models import FilmProcess, TouchUp
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField, QuantityField, RecordField


class FilmForm(ActForm):
    """A film as it comes to the bench."""

    name = forms.CharField(label="Film", max_length=80, help_text="What a colleague would call it")
    job_number = forms.CharField(label="Job", max_length=12, required=False)
    separation = forms.CharField(label="Separation", max_length=60, required=False)
    process = RecordField(FilmProcess.objects.all(), label="Made by", required=False, empty_label="not known")
    ruling_lpi = NumberField(label="Halftone ruling", unit="lines/in", required=False)
    angle_deg = NumberField(
        label="Dot angle",
        unit="°",
        required=False,
        help_text="Usual: "
        + "; ".join(f"{s.name} {'/'.join(f'{a:g}' for a in dict.fromkeys(s.angles))}" for s in SETS),
    )
    dot_shape = forms.ChoiceField(label="Shape of dot", required=False, choices=[("", "no halftone"), *SHAPES.items()])
    ink = forms.ChoiceField(label="Printed with ink", required=False, choices=[("", "not known"), *INKS.items()])
    width_mm = QuantityField(label="Image width", unit="mm", required=False)
    height_mm = QuantityField(label="Image height", unit="mm", required=False)
    kept_at = forms.CharField(label="Kept at", max_length=60, required=False)


class TouchUpForm(ActForm):
    kind = forms.ChoiceField(label="With", choices=TouchUp.Kind.choices, initial=TouchUp.Kind.PEN)
    words = forms.CharField(label="Touched up", max_length=240, help_text="Such as: opaque pen on two pinholes")
    density_before = NumberField(label="Black before", required=False)
    density_after = NumberField(label="and after", required=False)
