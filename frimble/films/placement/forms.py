"""What is to lie on which screen, and where."""

from django import forms

from frimble.core.film.placement import SHEETS
from frimble.films.models import Film
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField, QuantityField, RecordField, SecondsField

_MOST_IMAGES = 12


class PlacementForm(ActForm):
    """The screen and the tools. Lengths may be typed with their unit."""

    job = forms.CharField(label="Job", required=False, max_length=12, help_text="Its films are offered")
    screen = forms.CharField(
        label="Screen",
        required=False,
        max_length=16,
        help_text="Its size and ghost images are taken",
        widget=forms.TextInput(attrs={"data-scan": "screen", "autocomplete": "off", "autocapitalize": "characters"}),
    )
    frame_width = QuantityField(label="Frame width, outside", unit="mm", required=False)
    frame_height = QuantityField(label="Frame height, outside", unit="mm", required=False)
    sheet = forms.ChoiceField(
        label="Sheet of film", required=False, choices=[("", "as typed below"), *((name, name) for name in SHEETS)]
    )
    film = QuantityField(label="Film width", unit="mm", required=False)
    film_length = QuantityField(label="Film length, empty off a roll", unit="mm", required=False)
    coater = QuantityField(label="Coater", unit="mm", required=False)
    squeegee = QuantityField(label="Squeegee", unit="mm", required=False)
    platen_width = QuantityField(label="Platen or goods, width", unit="mm", required=False)
    platen_height = QuantityField(label="Platen or goods, height", unit="mm", required=False)
    travel = QuantityField(label="Longest stroke of the press", unit="mm", required=False)
    transfer = forms.BooleanField(label="Transfer: the print is mirrored", required=False)


class ImageForm(ActForm):
    """One image: a film on record, or a name and a size; and where it lies."""

    record = RecordField(Film.objects.none(), label="Film on record", required=False, empty_label="none")
    name = forms.CharField(label="Image", max_length=60, required=False)
    width = QuantityField(label="Width", unit="mm", required=False)
    height = QuantityField(label="Height", unit="mm", required=False)
    x = NumberField(label="Right of middle", unit="mm", required=False)
    y = NumberField(label="Below middle", unit="mm", required=False)
    time = SecondsField(label="Its exposure", required=False)
    turned = forms.BooleanField(label="Turned", required=False)
    taped = forms.BooleanField(label="Taped out in this print", required=False)

    def __init__(self, *args, films, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["record"].queryset = films


ImageFormSet = forms.formset_factory(ImageForm, extra=1, max_num=_MOST_IMAGES)
