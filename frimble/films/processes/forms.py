"""A way of making films, and its densities: one form for each route."""

from django import forms

from frimble.core.film import densities
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField, QuantityField, SecondsField

_BAND = {"label": "Band", "choices": list(densities.BANDS.items())}


class DensitometerForm(ActForm):
    band = forms.ChoiceField(**_BAND)
    dmax = NumberField(label="Black")
    dmin = NumberField(label="Clear film")
    simulated = forms.BooleanField(required=False, widget=forms.HiddenInput)


class MeterForm(ActForm):
    band = forms.ChoiceField(**_BAND)
    without_film = NumberField(label="Without film")
    with_clear = NumberField(label="Under clear film")
    with_black = NumberField(label="Under the black")


class HoldOutForm(ActForm):
    gel_time_s = SecondsField(label="Gel time through clear film")
    work_s = SecondsField(label="Working time")
    last_clear = NumberField(label="Last multiple that rinsed clear", unit="×")
    first_scummed = NumberField(label="First that did not, empty when all were clear", unit="×", required=False)
    dmin = NumberField(label="Clear film, UV")


class HoldOutPlanForm(ActForm):
    """What a hold-out test is planned from."""

    gel_time_s = SecondsField(label="Gel time through clear film")
    work_s = SecondsField(label="Working time")


ROUTE_FORMS = {"densitometer": DensitometerForm, "meter": MeterForm, "hold_out": HoldOutForm}


class FilmProcessForm(ActForm):
    """A way of making films. Costs are in the shop's own money; left empty they are not known."""

    name = forms.CharField(label="Process", max_length=60)
    how_made = forms.CharField(label="How made", max_length=200, required=False)
    settings = forms.CharField(
        label="Printer, ink, sheet, driver and settings",
        max_length=240,
        required=False,
        help_text="Changing one makes the densities stale",
    )
    widest_mm = QuantityField(label="Widest sheet", unit="mm", required=False)
    machine_price = NumberField(label="Price of the machine", required=False)
    life_films = NumberField(label="Films in its life", required=False)
    ink_a_film = NumberField(label="Ink, price a film", required=False)
    sheet_a_film = NumberField(label="Sheet, price a film", required=False)
    spoilage = NumberField(label="Share spoiled, 0 to 1", required=False)
