"""A light source, and what is read off or done to one."""

from django import forms

from frimble.core.exposure.light import source as light_source
from frimble.core.exposure.light.kinds import KINDS
from frimble.exposures.models import LampRecord
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField, QuantityField, SecondsField
from frimble.ui.forms.grid import NineReadings


class LampForm(ActForm):
    """A light source."""

    name = forms.CharField(label="Name", max_length=40)
    kind = forms.ChoiceField(label="Kind", choices=[(key, kind.words) for key, kind in KINDS.items()])
    geometry = forms.ChoiceField(label="Shape", choices=list(light_source.GEOMETRIES.items()))
    contact = forms.ChoiceField(label="Film and screen are pressed by", choices=list(light_source.CONTACTS.items()))
    distance_mm = QuantityField(label="Lamp to glass, empty for the sun", unit="mm", required=False)
    warm_up_s = SecondsField(label="Warm-up", initial="0")
    start_lag_s = SecondsField(label="Start-up lag", initial="0")
    units_a_second = NumberField(label="Its integrator counts, a second", unit="light units", required=False)


READ_AS = {"meter": "readings of a light meter", "steps": "highest solid steps of nine grey scales, exposed at once"}


class LampRecordForm(ActForm):
    """Something read off or done to a lamp."""

    kind = forms.ChoiceField(choices=LampRecord.Kind.choices, widget=forms.HiddenInput)
    hours = NumberField(label="Hours", unit="h", required=False)
    light_mw_cm2 = NumberField(label="Light in the middle of the glass", unit="mW/cm²", required=False)
    field = NineReadings(
        label="Nine readings, as the places lie on the glass",
        required=False,
        help_text="The side away from you above",
    )
    read_as = forms.ChoiceField(label="They are", choices=list(READ_AS.items()), required=False)
    note = forms.CharField(label="Note", required=False, max_length=200)
    simulated = forms.BooleanField(required=False, widget=forms.HiddenInput)

    def given(self) -> dict:
        data = dict(self.cleaned_data)
        rows = data["field"]
        if rows and data.pop("read_as") == "steps":
            rows = light_source.light_of_steps(rows)
        data.pop("read_as", None)
        return data | {"field": rows}
