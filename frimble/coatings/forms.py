"""Forms of the coating rack: coating a screen, measuring it, planning a formula, a run of several."""

from django import forms

from frimble.coatings.models import FILLS, Batch, Coater, CoatRecipe, Emulsion
from frimble.core.calculators import numbers
from frimble.core.coating.drying import FANS, Air
from frimble.core.conclusions import OutOfRange
from frimble.core.units import celsius
from frimble.screens.models import MeshKind
from frimble.screens.steps.forms import ActForm, StepForm
from frimble.ui.forms.fields import NumberField, RecordField

_TYPED = forms.TextInput(attrs={"list": "recipes", "autocomplete": "off", "spellcheck": "false"})


class AirForm(ActForm):
    """Temperature, humidity and fan, in the person's own unit of temperature."""

    air_c = NumberField(label="Temperature", unit="°C")
    humidity = NumberField(label="Humidity", unit="%")
    fan = forms.ChoiceField(label="Fan", choices=list(FANS.items()), initial="low", required=False)
    simulated = forms.BooleanField(required=False, widget=forms.HiddenInput)

    def __init__(self, *args, inch=False, **kwargs):
        super().__init__(*args, **kwargs)
        self.inch = inch
        if inch:
            self.fields["air_c"].unit = "°F"

    def clean_air_c(self):
        value = self.cleaned_data["air_c"]
        return celsius(value) if self.inch else value

    def clean_fan(self):
        return self.cleaned_data["fan"] or "low"

    def air(self) -> Air:
        data = self.cleaned_data
        return Air(data["air_c"], data["humidity"] / 100, data["fan"])


class CoatForm(AirForm, StepForm):
    simulated = None
    formula = forms.CharField(label="Coat formula", max_length=60, widget=_TYPED)
    batch = RecordField(Batch.objects.none(), label="Emulsion batch", empty_label="Choose a batch")
    coater = RecordField(
        Coater.objects.filter(retired=False), label="Coater", required=False, empty_label="not written down"
    )
    fill = forms.ChoiceField(label="Coater filled", required=False, choices=[("", "not written down"), *FILLS])
    stroke_s = NumberField(label="One stroke took", unit="s", required=False)

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["batch"].queryset = Batch.objects.in_use()
        self.fields["air_c"].label, self.fields["humidity"].label = "Cabinet temperature", "Cabinet humidity"
        self.recipes = CoatRecipe.objects.all()


class ThicknessForm(ActForm):
    """Gauge readings of one coat."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    simulated = forms.BooleanField(required=False, widget=forms.HiddenInput)
    bare_um = NumberField(label="Bare mesh", unit="µm")
    coated_um = forms.CharField(
        label="Coated, several places", max_length=120, help_text="Readings in µm, such as 148 151 150 149 152",
        widget=forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off"}),
    )  # fmt: skip
    note = forms.CharField(required=False, max_length=400, label="Note")

    def clean_coated_um(self) -> list[float]:
        try:
            return numbers(self.cleaned_data["coated_um"], "coated_um")
        except OutOfRange as error:
            raise forms.ValidationError(str(error)) from None

    def _say(self, field, message):
        super()._say({"coated": "coated_um"}.get(field, field), message)


class PlannerForm(ActForm):
    """A formula to try on a mesh."""

    formula = forms.CharField(label="Coat formula", max_length=60, widget=_TYPED)
    mesh = RecordField(MeshKind.objects.filter(thermal=False), label="Mesh", empty_label=None)
    emulsion = RecordField(Emulsion.objects.all(), label="Emulsion", empty_label=None)
    fill = forms.ChoiceField(label="Coater filled", choices=FILLS)
    width_mm = NumberField(label="Coated width", unit="mm")
    height_mm = NumberField(label="Coated height", unit="mm")
    ink = forms.ChoiceField(
        label="Ink",
        required=False,
        choices=[("", "any"), ("water", "water-based"), ("solvent", "solvent or plastisol")],
    )


class NameFormulaForm(ActForm):
    """A formula kept under a name."""

    formula = forms.CharField(max_length=60, widget=forms.HiddenInput)
    name = forms.CharField(label="Name", max_length=60)
    use = forms.CharField(label="What for", max_length=200)
    coarsest_per_cm = NumberField(label="On meshes from", unit="/cm", initial="0")
    finest_per_cm = NumberField(label="up to", unit="/cm", initial="200")


class RunForm(ActForm):
    """Several screens to coat in one go, each with its formula."""

    batch = RecordField(Batch.objects.none(), label="Emulsion batch", empty_label=None)
    coater = RecordField(Coater.objects.filter(retired=False), label="Coater", empty_label=None)
    fill = forms.ChoiceField(label="Coater filled", choices=FILLS)
    poured_l = NumberField(label="Poured from the pot", unit="l", required=False)

    def __init__(self, *args, candidates, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["batch"].queryset = Batch.objects.in_use()
        self.candidates = candidates
        for found in candidates:
            key = found.screen.pk
            self.fields[f"take_{key}"] = forms.BooleanField(label=found.screen.code, required=False, initial=True)
            self.fields[f"formula_{key}"] = forms.CharField(
                label=f"Formula for {found.screen.code}",
                max_length=60,
                required=False,
                initial=found.formula,
                widget=_TYPED,
            )

    def rows(self):
        """Each candidate with its two fields."""
        return [(c, self[f"take_{c.screen.pk}"], self[f"formula_{c.screen.pk}"]) for c in self.candidates]

    def chosen(self):
        """(screen, formula) of those that are ticked."""
        data = self.cleaned_data
        return [
            (c.screen, data[f"formula_{c.screen.pk}"] or c.formula)
            for c in self.candidates
            if data.get(f"take_{c.screen.pk}")
        ]


class FinishForm(ActForm):
    returned_l = NumberField(label="Back into the pot", unit="l")
    washed = forms.BooleanField(label="The coater is washed and looked along", required=False)
