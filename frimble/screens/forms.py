"""Forms of the register. Every form about one screen carries the revision it was made from."""

from django import forms

from frimble.core import meshchoice, meshcustoms
from frimble.core.conclusion import OutOfRange, Refused, require_between
from frimble.core.lifecycle import STATE_WORDS, Line
from frimble.core.reclaim import BLEMISHES
from frimble.core.tension import DIRECTIONS, FIVE_PLACES, NINE_PLACES, STAGES, TensionReading, check_reading
from frimble.core.units import read_quantity
from frimble.screens.actions import PRE_COAT_LOOKS, RECLAIM_OUTCOMES
from frimble.screens.ledger import Conflict
from frimble.screens.meshings import ENDINGS
from frimble.screens.models import Frame, MeshKind, Rack, ReclaimProduct
from frimble.screens.searching import DUE, ORDERS
from frimble.ui.labels import SHEETS

_LINES = [(Line.PHOTO, "photo emulsion"), (Line.HAND, "drawn or cut by hand")]


class NumberField(forms.FloatField):
    """A number typed with a point or a comma, with its unit shown beside it."""

    default_error_messages = {"invalid": "That is not a number.", "required": "Type a number."}

    def __init__(self, *, unit="", **kwargs):
        kwargs.setdefault("widget", forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off"}))
        super().__init__(**kwargs)
        self.unit = unit

    def to_python(self, value):
        text = str(value).strip().replace(",", ".") if value not in self.empty_values else value
        try:
            return super().to_python(text)
        except forms.ValidationError:
            raise forms.ValidationError(f"“{value}” is not a number.") from None


def _whole():
    return forms.TextInput(attrs={"inputmode": "numeric", "autocomplete": "off"})


class QuantityField(forms.CharField):
    """A quantity typed with or without its unit, cleaned to `unit`."""

    def __init__(self, *, unit, **kwargs):
        super().__init__(**kwargs)
        self.unit = unit

    def clean(self, value):
        text = super().clean(value)
        if not text:
            return None
        try:
            return read_quantity(text, self.unit)
        except OutOfRange as error:
            raise forms.ValidationError(str(error)) from None


class ActForm(forms.Form):
    """A form whose action may still find fault with what was typed."""

    refusal: Refused | None = None

    def attempt(self, act):
        """Run `act(cleaned data)`; what the core or another person says goes beside the field.

        Returns the action's record, or None with the form's errors filled.
        """
        if not self.is_valid():
            return None
        try:
            return act(self.cleaned_data)
        except OutOfRange as error:
            self._say(error.field, str(error))
        except Refused as refusal:
            self.refusal = refusal
            self._say(refusal.field, refusal.reason)
        except Conflict as conflict:
            self.data = self.data.copy()
            self.data[self.add_prefix("revision")] = conflict.revision
            self._say("", str(conflict))
        return None

    def _say(self, field, message):
        self.add_error(field if field in self.fields else None, message)


class StepForm(ActForm):
    """Base of every form that records something on one screen."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    override_reason = forms.CharField(
        required=False, max_length=300, label="Go on regardless, because", widget=forms.TextInput
    )
    note = forms.CharField(required=False, max_length=400, label="Note")

    def common(self):
        """The arguments that every recorded step takes."""
        return {k: self.cleaned_data[k] for k in ("revision", "override_reason", "note")}


class DegreaseForm(StepForm):
    dwell_s = NumberField(label="Degreaser dwell", unit="s")
    look = forms.ChoiceField(
        label="Against the light", choices=list(PRE_COAT_LOOKS.items()), initial="clean", required=False
    )
    rinsed = forms.BooleanField(
        label="Rinsed until no foam, and then longer: left degreaser makes the coat lift", required=False
    )


class ReclaimForm(StepForm):
    old = forms.BooleanField(required=False, widget=forms.HiddenInput)
    rounds = forms.IntegerField(
        label="Rounds of remover", initial=1,
        widget=forms.TextInput(attrs={"inputmode": "numeric", "autocomplete": "off"}),
        error_messages={"invalid": "A whole number of rounds."},
    )  # fmt: skip
    minutes = NumberField(label="Time at the booth", unit="min", initial=8)
    outcome = forms.ChoiceField(
        label="Against the light, before it dries", choices=list(RECLAIM_OUTCOMES.items()), widget=forms.RadioSelect
    )


class TakeOffForm(StepForm):
    ending = forms.ChoiceField(label="Why", choices=list(ENDINGS.items()), widget=forms.RadioSelect)


class MountForm(ActForm):
    """New mesh on a frame."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    mesh = forms.ModelChoiceField(MeshKind.objects.all(), label="Mesh", empty_label="Choose a mesh")
    line = forms.ChoiceField(label="Stencil", choices=_LINES, required=False)
    angle_deg = NumberField(label="Turned on the frame by", unit="°", initial=0)
    in_house = forms.BooleanField(
        label="Stretched here: its first, next-day and settled tension will be asked for", required=False
    )
    note = forms.CharField(required=False, max_length=400, label="Note")


class ProductForm(ActForm):
    """A product and its dwell for each step that uses one."""

    def __init__(self, *args, steps, kept, **kwargs):
        super().__init__(*args, **kwargs)
        self.steps = steps
        for number, step in enumerate(steps):
            was = kept.get(step)
            self.fields[f"name_{number}"] = forms.CharField(
                label=step.capitalize(), max_length=60, required=False, initial=was.name if was else ""
            )
            self.fields[f"dwell_{number}"] = NumberField(
                label="Its dwell, empty for the house's", unit="s", required=False, initial=was.dwell_s if was else None
            )

    def store(self) -> bool:
        """Write what was typed; an emptied name takes its product away."""
        for number, step in enumerate(self.steps):
            name, dwell = self.cleaned_data[f"name_{number}"], self.cleaned_data[f"dwell_{number}"]
            if dwell is not None:
                require_between(dwell, 1, 3600, "A dwell, in s,", f"dwell_{number}")
            if name:
                ReclaimProduct.objects.update_or_create(step=step, defaults={"name": name, "dwell_s": dwell})
            else:
                ReclaimProduct.objects.filter(step=step).delete()
        return True


class BlemishForm(ActForm):
    """Where something lies on the mesh, tapped on the drawing or typed."""

    kind = forms.ChoiceField(label="What", choices=list(BLEMISHES.items()))
    x_mm = NumberField(label="From the left", unit="mm")
    y_mm = NumberField(label="From the top", unit="mm")
    width_mm = NumberField(label="Wide", unit="mm")
    height_mm = NumberField(label="High", unit="mm")
    photo = forms.FileField(label="Photograph", required=False)


class KeepForm(ActForm):
    """What keeping a finished stencil is weighed by."""

    chance = NumberField(label="Chance that it is asked for again", unit="%")
    days = NumberField(label="In about", unit="days")
    minutes = NumberField(label="Remaking it takes", unit="min")
    goods = NumberField(label="Film, emulsion and other goods, in money")


class RackForm(ActForm):
    """A rack as it stands, with like slots in columns and rows."""

    code = forms.RegexField(
        r"^[A-Za-z][A-Za-z0-9]*$", label="Code", max_length=8, help_text="Slots are called after it, such as F-01",
        error_messages={"invalid": "A letter first, then letters and digits."},
    )  # fmt: skip
    name = forms.CharField(label="Name", max_length=60)
    columns = forms.IntegerField(label="Columns", error_messages={"invalid": "A whole number."}, widget=_whole())
    rows = forms.IntegerField(label="Rows", error_messages={"invalid": "A whole number."}, widget=_whole())
    width_mm = QuantityField(label="A slot, clear width", unit="mm")
    height_mm = QuantityField(label="A slot, clear height", unit="mm")
    dark = forms.BooleanField(label="Dark: live emulsion may stand here", required=False)
    level = forms.BooleanField(label="Level: wet coats may lie here", required=False)


class ChangeRackForm(ActForm):
    name = forms.CharField(label="Name", max_length=60)
    dark = forms.BooleanField(label="Dark: live emulsion may stand here", required=False)
    level = forms.BooleanField(label="Level: wet coats may lie here", required=False)


class WalkForm(ActForm):
    walk = forms.CharField(
        label="Slot after slot, one a line: slot, then the screen in it",
        widget=forms.Textarea(attrs={"rows": 10, "autocomplete": "off", "autocapitalize": "characters"}),
    )


class LabelForm(ActForm):
    codes = forms.CharField(label="Screens", max_length=6000, help_text="Such as Q-014, or Q-001..Q-020 for a run")
    sheet = forms.ChoiceField(label="Sheet", choices=[(key, sheet.words) for key, sheet in SHEETS.items()])
    start = forms.IntegerField(label="First free place", initial=1, widget=_whole())


class SearchForm(ActForm):
    """What is looked for; every field may be left empty."""

    text = forms.CharField(label="Code, slot or mesh", required=False, max_length=40)
    mesh = forms.ModelChoiceField(MeshKind.objects.all(), label="Mesh", required=False, empty_label="any")
    state = forms.ChoiceField(
        label="On the mesh", required=False, choices=[("", "any"), *((s.value, w) for s, w in STATE_WORDS.items())]
    )
    size = forms.CharField(label="Frame, outside", required=False, max_length=30, help_text="Such as 58 x 79 cm")
    rack = forms.ModelChoiceField(Rack.objects.all(), label="Rack", required=False, empty_label="any or none")
    least = NumberField(label="Tension from", unit="N/cm", required=False)
    most = NumberField(label="Tension to", unit="N/cm", required=False)
    due = forms.ChoiceField(label="Due", required=False, choices=[("", "anything"), *DUE.items()])
    order = forms.ChoiceField(label="In order of", required=False, choices=list(ORDERS.items()))

    def clean_size(self):
        """(width, height) in mm; a unit at the end goes for both."""
        text = self.cleaned_data["size"].strip()
        if not text:
            return None
        sides = text.lower().replace("×", "x").split("x")
        try:
            if len(sides) != 2:
                raise OutOfRange("Write a size as 58 x 79 cm.")
            unit = "".join(c for c in sides[1] if c.isalpha() or c == '"')
            first = sides[0] if any(c.isalpha() for c in sides[0]) else sides[0].strip() + unit
            return tuple(read_quantity(side, "mm") for side in (first, sides[1]))
        except OutOfRange as error:
            raise forms.ValidationError(str(error)) from None

    def clean_order(self):
        return self.cleaned_data["order"] or "code"


class CostForm(ActForm):
    price = NumberField(label="Mesh for a frame, in money")
    stretching = NumberField(label="Stretching it")
    reclaim = NumberField(label="A reclaim")


class TakeBackForm(StepForm):
    reason = forms.CharField(label="What was wrong with it", max_length=400)


class PlaceForm(StepForm):
    slot = forms.CharField(
        label="Slot", max_length=12,
        widget=forms.TextInput(attrs={"data-scan": "slot", "autocomplete": "off", "autocapitalize": "characters"}),
    )  # fmt: skip


class TensionForm(StepForm):
    """Two presses in warp and weft at each of five places or nine; the second press may be left out."""

    PRESSES = (1, 2)
    simulated = forms.BooleanField(required=False, widget=forms.HiddenInput)
    sure = forms.BooleanField(required=False, label="It is right: I measured again")
    stage = forms.ChoiceField(
        required=False, label="After stretching", choices=[("", "ordinary measuring"), *STAGES.items()]
    )

    def __init__(self, *args, standards, nine=False, **kwargs):
        super().__init__(*args, **kwargs)
        self.standards = standards
        self.nine = nine
        for place in self._places:
            for direction in DIRECTIONS:
                for press in self.PRESSES:
                    label = f"{place}, {direction}, {'first' if press == 1 else 'second'} reading"
                    self.fields[self.name(place, direction, press)] = NumberField(
                        label=label, unit="N/cm", required=press == 1
                    )

    @property
    def _places(self):
        return NINE_PLACES if self.nine else FIVE_PLACES

    @staticmethod
    def name(place, direction, press):
        return f"{place.replace(' ', '_')}_{direction}_{press}"

    def clean(self):
        cleaned = super().clean()
        for name in list(cleaned):
            if name.rsplit("_", 1)[-1] in ("1", "2") and cleaned[name] is not None:
                try:
                    check_reading(cleaned[name], self.standards)
                except OutOfRange as error:
                    self.add_error(name, str(error))
        return cleaned

    def places(self):
        """(place, [(direction, [bound fields])]) for the page, in the order of the plate."""
        return [
            (place, [(d, [self[self.name(place, d, p)] for p in self.PRESSES]) for d in DIRECTIONS])
            for place in self._places
        ]

    def readings(self):
        found = []
        for place in self._places:
            for direction in DIRECTIONS:
                for press in self.PRESSES:
                    value = self.cleaned_data.get(self.name(place, direction, press))
                    if value is not None:
                        found.append(TensionReading(place, direction, value))
        return found


class RegisterForm(ActForm):
    """A new frame with its mesh, or several like it."""

    number = forms.IntegerField(
        label="How many", initial=1, required=False, help_text="Codes are counted on from the first",
        widget=forms.TextInput(attrs={"inputmode": "numeric", "autocomplete": "off"}),
        error_messages={"invalid": "A whole number."},
    )  # fmt: skip
    code = forms.RegexField(
        r"^[A-Za-z0-9][A-Za-z0-9-]*$", label="Code", max_length=16,
        error_messages={"invalid": "Letters, digits and dashes only, such as Q-065."},
        widget=forms.TextInput(attrs={"data-scan": "screen", "autocomplete": "off", "autocapitalize": "characters"}),
    )  # fmt: skip
    material = forms.ChoiceField(label="Frame", choices=Frame.Material.choices)
    width_mm = QuantityField(label="Outer width", unit="mm")
    height_mm = QuantityField(label="Outer height", unit="mm")
    inner_width_mm = QuantityField(label="Clear inside, width", unit="mm", required=False)
    inner_height_mm = QuantityField(label="Clear inside, height", unit="mm", required=False)
    mesh = forms.ModelChoiceField(MeshKind.objects.all(), label="Mesh", empty_label="Choose a mesh")
    angle_deg = NumberField(label="Mesh turned on the frame by", unit="°", initial=0, required=False)
    line = forms.ChoiceField(label="Stencil", choices=_LINES, required=False)

    def clean(self) -> dict:
        """One, and not turned, where nothing is typed."""
        cleaned = super().clean()
        if "number" in cleaned:
            cleaned["number"] = 1 if cleaned["number"] is None else cleaned["number"]
        if "angle_deg" in cleaned:
            cleaned["angle_deg"] = cleaned["angle_deg"] or 0.0
        return cleaned


class MeshForm(ActForm):
    """A cloth typed as people write it."""

    notation = forms.CharField(label="Mesh", help_text="As on its label: 43-80, 156-64 white, 90/cm-40")
    colour = forms.ChoiceField(label="Thread", choices=MeshKind.Colour.choices)
    fabric_thickness_um = NumberField(label="Fabric thickness, if measured", unit="µm", required=False)


class MeasuredForm(ActForm):
    """What was measured on a cloth; left empty, the estimate stands."""

    fabric_thickness_um = NumberField(label="Fabric thickness", unit="µm", required=False)
    measured_opening_um = NumberField(label="Opening", unit="µm", required=False)


def _custom_field(aspect, label):
    named = [(name, custom.words) for name, custom in meshcustoms.CUSTOMS[aspect].items()]
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
    school = forms.ChoiceField(label="Choose for", choices=list(meshchoice.SCHOOLS.items()))
    owned = forms.ChoiceField(label="From", choices=[("owned", "our meshes"), ("all", "all usual")])


class MoireForm(ActForm):
    """A halftone on a mesh."""

    ruling_lpi = NumberField(label="Halftone ruling", unit="lines/in")
    dot_angle = NumberField(label="Dot angle", unit="°")
    mesh_angle = NumberField(label="Mesh turned on the frame by", unit="°")
    plates = forms.CharField(
        label="Dot angles of all plates, if several", required=False, max_length=80, help_text="Such as 15 45 75 0"
    )
