"""A way of making films, and its densities: one form for each route."""

from django import forms

from frimble.core.film import densities
from frimble.films.models import FilmProcess
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField, QuantityField, RecordField, SecondsField

_BAND = {"label": "Band", "choices": list(densities.BANDS.items())}


def _trial() -> forms.CharField:
    return forms.CharField(
        label="A setting tried, empty for the one in use", max_length=60, required=False,
        help_text="Such as: heavy black, slow. Trials are set side by side",
    )  # fmt: skip


class DensitometerForm(ActForm):
    band = forms.ChoiceField(**_BAND)
    dmax = NumberField(label="Black")
    dmin = NumberField(label="Clear film")
    setting = _trial()
    simulated = forms.BooleanField(required=False, widget=forms.HiddenInput)


class MeterForm(ActForm):
    band = forms.ChoiceField(**_BAND)
    without_film = NumberField(label="Without film")
    with_clear = NumberField(label="Under clear film")
    with_black = NumberField(label="Under the black")
    setting = _trial()


class HoldOutForm(ActForm):
    gel_time_s = SecondsField(label="Gel time through clear film")
    work_s = SecondsField(label="Working time")
    last_clear = NumberField(label="Last multiple that rinsed clear", unit="×")
    first_scummed = NumberField(label="First that did not, empty when all were clear", unit="×", required=False)
    dmin = NumberField(label="Clear film, UV")
    setting = _trial()


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


class CompareMachinesForm(ActForm):
    """Two processes with their costs, and how many films each machine really lasts."""

    one = RecordField(FilmProcess.objects.none(), label="One", empty_label=None)
    one_life = NumberField(label="It lasts", unit="films", required=False)
    other = RecordField(FilmProcess.objects.none(), label="against", empty_label=None)
    other_life = NumberField(label="It lasts", unit="films", required=False)

    def __init__(self, *args, priced, **kwargs):
        super().__init__(*args, **kwargs)
        for name in ("one", "other"):
            self.fields[name].queryset = FilmProcess.objects.filter(pk__in=[p.pk for p in priced])

    def clean(self):
        data = super().clean()
        if data.get("one") and data.get("one") == data.get("other"):
            self.add_error("other", "Choose another than the first.")
        for name in ("one", "other"):
            life = data.get(f"{name}_life")
            if life is not None and life <= 0:
                self.add_error(f"{name}_life", "More than 0 films.")
        return data
