"""Racks: defined, changed, walked along, and a screen put into one."""

from django import forms

from frimble.screens.models import Rack
from frimble.screens.steps.forms import ActForm, StepForm
from frimble.ui.forms.fields import QuantityField, WholeField


class ChangeRackForm(ActForm):
    """How a rack stands."""

    name = forms.CharField(label="Name", max_length=60)
    dark = forms.BooleanField(label="Dark: live emulsion may stand here", required=False)
    level = forms.BooleanField(label="Level: wet coats may lie here", required=False)
    cabinet = forms.BooleanField(label="Drying cabinet: warm, for coated screens only", required=False)

    def clean(self):
        data = super().clean()
        if data.get("cabinet") and not (data.get("dark") and data.get("level")):
            self.add_error("cabinet", "A drying cabinet is dark and level: mark both.")
        return data


class RackForm(ChangeRackForm):
    """A rack as it stands, with like slots in columns and rows."""

    field_order = ["code", "name", "columns", "rows", "width_mm", "height_mm", "dark", "level", "cabinet"]
    code = forms.RegexField(
        r"^[A-Za-z][A-Za-z0-9]*$",
        label="Code",
        max_length=8,
        help_text="Slots are called after it, such as F-01",
        error_messages={"invalid": "A letter first, then letters and digits."},
    )
    columns = WholeField(label="Columns")
    rows = WholeField(label="Rows")
    width_mm = QuantityField(label="A slot, clear width", unit="mm")
    height_mm = QuantityField(label="A slot, clear height", unit="mm")


class DrawnRackForm(ActForm):
    """What is typed of a rack so far."""

    code = forms.CharField(max_length=8, required=False)
    name = forms.CharField(max_length=60, required=False)
    dark = forms.BooleanField(required=False)
    columns = WholeField()
    rows = WholeField()
    width_mm = QuantityField(unit="mm")
    height_mm = QuantityField(unit="mm")

    def clean(self):
        data = super().clean()
        code, name, dark = (data.pop(field, "") for field in ("code", "name", "dark"))
        data["rack"] = Rack(code=code.strip().upper() or "A", name=name or "Rack", dark=bool(dark))
        return data

    def first_problem(self) -> str:
        """What is wrong with the numbers, once all are there."""
        told = [e for errors in self.errors.as_data().values() for e in errors if e.code != "required"]
        return told[0].messages[0] if told else ""


class WalkForm(ActForm):
    walk = forms.CharField(
        label="Slot after slot, one a line: slot, then the screen in it",
        widget=forms.Textarea(attrs={"rows": 10, "autocomplete": "off", "autocapitalize": "characters"}),
    )


class PlaceForm(StepForm):
    slot = forms.CharField(
        label="Slot",
        max_length=12,
        widget=forms.TextInput(attrs={"data-scan": "slot", "autocomplete": "off", "autocapitalize": "characters"}),
    )
