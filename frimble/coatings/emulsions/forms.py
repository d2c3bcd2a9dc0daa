"""What is asked of an emulsion, and one entered."""

from django import forms

from frimble.coatings.models import Emulsion
from frimble.core.emulsion.batch import INKS, KINDS
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField, RatioField

_COLOUR = forms.TextInput(attrs={"type": "color"})


class EmulsionForm(ActForm):
    """What is asked of an emulsion."""

    ink = forms.ChoiceField(label="Ink", choices=list(INKS.items()))
    dyed = forms.ChoiceField(label="Mesh", choices=[("", "white"), ("dyed", "dyed")], required=False)
    detail_um = NumberField(label="Finest detail", unit="µm", required=False)


class EmulsionCardForm(ActForm):
    """One emulsion as its label and the shop know it."""

    name = forms.CharField(label="Name", max_length=60)
    kind = forms.ChoiceField(label="Kind", choices=list(KINDS.items()))
    solids = NumberField(label="Solids", unit="%")
    ratio = RatioField(label="Parts to one of sensitiser, empty when ready-sensitised", required=False)
    resists = forms.ChoiceField(label="Stands", choices=Emulsion.Resists.choices)
    suits = forms.ChoiceField(label="For", choices=Emulsion.Cloth.choices)
    speed = forms.ChoiceField(label="Speed", choices=Emulsion.Speed.choices)
    finest_um = NumberField(label="Finest detail it holds", unit="µm", required=False)
    cost_l = NumberField(label="Cost of a litre", required=False)
    colour = forms.CharField(label="Colour before light", widget=_COLOUR, initial="#7FA99B")
    exposed_colour = forms.CharField(label="Colour after light", widget=_COLOUR, initial="#4F7F70")
