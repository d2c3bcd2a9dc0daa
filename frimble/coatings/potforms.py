"""What is typed about pots, emulsions, coaters and looks at drying coats."""

from django import forms
from django.utils import timezone

from frimble.coatings.models import Batch, Emulsion
from frimble.core.coating.coater import CONDITIONS
from frimble.core.coating.dryness import DAMP_SIGNS, METHODS
from frimble.core.emulsion.batch import KINDS
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField, QuantityField, RecordField

_COLOUR = forms.TextInput(attrs={"type": "color"})


class BatchForm(ActForm):
    code = forms.CharField(label="Batch code", max_length=16)
    emulsion = RecordField(Emulsion.objects.all(), label="Emulsion", empty_label="Choose an emulsion")
    mixed_on = forms.DateField(
        label="Mixed or opened on", widget=forms.TextInput(attrs={"placeholder": "2026-11-03", "autocomplete": "off"}),
        error_messages={"invalid": "Write the date as year-month-day, such as 2026-11-03."}, input_formats=["%Y-%m-%d"],
    )  # fmt: skip
    kept_c = QuantityField(label="Kept at", unit="°C", initial="20")
    base_l = NumberField(label="Emulsion before sensitiser", unit="l", required=False)
    ratio = NumberField(label="Parts to one of sensitiser, empty for the label's", required=False)
    pot_l = NumberField(label="The pot holds", unit="l", required=False)

    def clean_mixed_on(self):
        day = self.cleaned_data["mixed_on"]
        if day > timezone.localdate():
            raise forms.ValidationError("This batch is dated in the future: check when it was mixed.")
        return day


class MoveForm(ActForm):
    kept_c = QuantityField(label="Now kept at", unit="°C")


class LitresForm(ActForm):
    kind = forms.ChoiceField(
        label="What", choices=[("counted", "measured, in the pot now"), ("thrown", "thrown away")], initial="counted"
    )
    litres = NumberField(label="Litres", unit="l")


class TopUpForm(ActForm):
    code = forms.CharField(label="Code of the blend", max_length=16)
    base_l = NumberField(label="New base", unit="l")


class MixForm(ActForm):
    """Any amount, by volume or by weight: what comes out is in the same unit."""

    base = NumberField(label="New base, in ml or g")
    ratio = NumberField(label="Parts to one of sensitiser", initial="10")
    remainder = NumberField(label="Sensitised remainder in the pot", required=False)
    remainder_of = RecordField(Batch.objects.in_use(), label="of batch", required=False, empty_label="none")


class EmulsionForm(ActForm):
    """What is asked of an emulsion."""

    ink = forms.ChoiceField(label="Ink", choices=[("water", "water-based"), ("solvent", "solvent or plastisol")])
    dyed = forms.ChoiceField(label="Mesh", choices=[("", "white"), ("dyed", "dyed")], required=False)
    detail_um = NumberField(label="Finest detail", unit="µm", required=False)


class EmulsionCardForm(ActForm):
    """One emulsion as its label and the shop know it."""

    name = forms.CharField(label="Name", max_length=60)
    kind = forms.ChoiceField(label="Kind", choices=list(KINDS.items()))
    solids = NumberField(label="Solids", unit="%")
    ratio = NumberField(label="Parts to one of sensitiser, empty when ready-sensitised", required=False)
    resists = forms.ChoiceField(label="Stands", choices=Emulsion.Resists.choices)
    suits = forms.ChoiceField(label="For", choices=Emulsion.Cloth.choices)
    speed = forms.ChoiceField(label="Speed", choices=Emulsion.Speed.choices)
    finest_um = NumberField(label="Finest detail it holds", unit="µm", required=False)
    cost_l = NumberField(label="Cost of a litre", required=False)
    colour = forms.CharField(label="Colour before light", widget=_COLOUR, initial="#7FA99B")
    exposed_colour = forms.CharField(label="Colour after light", widget=_COLOUR, initial="#4F7F70")


class CoaterForm(ActForm):
    name = forms.CharField(label="Name on the coater", max_length=40)
    length_mm = QuantityField(label="Length of its edge", unit="mm")
    round_edge = forms.BooleanField(label="Has a round edge too", required=False, initial=True)


class CoaterCheckForm(ActForm):
    finding = forms.ChoiceField(label="Along the edge", choices=[(k, v[0]) for k, v in CONDITIONS.items()])
    note = forms.CharField(label="Note", max_length=240, required=False)


class DryCheckForm(ActForm):
    """A look at a drying coat: what was felt, weighed or read."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    method = forms.ChoiceField(label="How", choices=list(METHODS.items()), widget=forms.RadioSelect, initial="touch")
    signs = forms.MultipleChoiceField(
        label="What the fingertip finds", choices=list(DAMP_SIGNS.items()), widget=forms.CheckboxSelectMultiple,
        required=False,
    )  # fmt: skip
    first_g = NumberField(label="First weighing", unit="g", required=False)
    second_g = NumberField(label="Second weighing", unit="g", required=False)
    apart_min = NumberField(label="Minutes between", unit="min", required=False, initial="10")
    step_g = NumberField(label="The scale's step", unit="g", required=False, initial="0.1")
    percent = NumberField(label="Moisture", unit="%", required=False)
    note = forms.CharField(required=False, max_length=400, label="Note")

    _ASKED = {"weight": ("first_g", "second_g", "apart_min", "step_g"), "meter": ("percent",)}

    def clean(self):
        data = super().clean()
        for name in self._ASKED.get(data.get("method"), ()):
            if data.get(name) is None and name not in self.errors:
                self.add_error(name, "Type a number.")
        return data
