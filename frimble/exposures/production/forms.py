"""Exposing a production screen."""

from django import forms

from frimble.core.exposure.light.sun import SKIES
from frimble.exposures.models import Lamp
from frimble.films.models import Film, FilmProcess
from frimble.screens.steps.forms import StepForm
from frimble.ui.forms.fields import NumberField, RecordField, SecondsField

DRY_TICK = "Dry: no tack, hard and slick to a damp gloved fingertip, no slime"


class LightForm(forms.Form):
    """Which lamp and which film: enough to look a time up."""

    lamp = RecordField(Lamp.objects.all(), label="Lamp", empty_label=None)
    film_process = RecordField(FilmProcess.objects.all(), label="Film process", empty_label=None)

    def offer_as(self, other: "LightForm") -> None:
        """Offer the lamps and films that another form has read."""
        for name in LightForm.base_fields:
            self.fields[name].offer(other.fields[name].records)


class SunForm(forms.Form):
    """What has to be known of the sun before it is used: the sky, and its light where there is a meter."""

    meter = NumberField(label="The light meter shows", unit="mW/cm²", required=False)
    sky = forms.ChoiceField(
        label="Sky", required=False, choices=[("", "say how it is"), *((sky, sky) for sky in SKIES)]
    )

    def clean(self):
        data = super().clean()
        lamp = data.get("lamp")
        if lamp and lamp.is_sun and not data.get("sky"):
            self.add_error("sky", "Say how the sky is: without it and a meter nobody can tell this light again.")
        return data


class ExposeForm(SunForm, StepForm, LightForm):
    film = RecordField(
        Film.objects.all(),
        label="Which film",
        required=False,
        empty_label="not on the film bench",
        help_text="First that of the colour this screen is held for, then the newest",
    )
    keeps_off = forms.BooleanField(
        label="The image keeps off the marks drawn on this mesh: I looked from the squeegee side", required=False
    )
    own_time_s = SecondsField(label="A time of your own", required=False)
    own_reason = forms.CharField(label="Why this time", required=False, max_length=200)
    dry = forms.BooleanField(
        label=DRY_TICK, error_messages={"required": "Feel it first: wet inside looks dry outside."}
    )

    def clean(self):
        data = super().clean()
        if data.get("own_time_s") and not data.get("own_reason"):
            self.add_error("own_reason", "Say why: this time is not calibrated.")
        return data
