"""Reading a step test by eye."""

from django import forms

from frimble.core.exposure.steptest.reading import GRADES, SCHOOLS, StepGrade
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField


class StripsForm(ActForm):
    """What is asked of every strip of a test, and by what the time is chosen."""

    school = forms.ChoiceField(label="Choose by", choices=list(SCHOOLS.items()), widget=forms.RadioSelect)
    wanted_opening_um = NumberField(label="Finest detail wanted, open and standing", unit="µm")

    def __init__(self, *args, times_s, factors=None, **kwargs):
        super().__init__(*args, **kwargs)
        self.times_s, self.factors = times_s, sorted(factors, reverse=True) if factors else None
        for strip, _ in self.sure():
            self.fields |= self.asked_of(strip)
            self.fields[f"slimy_{strip}"] = forms.BooleanField(label="Squeegee side slimy", required=False)
            self.fields[f"pale_{strip}"] = forms.BooleanField(label="Colour not changed through", required=False)

    def sure(self) -> list[tuple[int, float]]:
        """(strip, s) of each strip whose light is sure."""
        return [(n, time) for n, time in enumerate(self.times_s, start=1) if time is not None]

    def name_of(self, strip: int) -> str:
        """How a strip is told on the screen: by the factor printed on it, else by its number."""
        return f"× {self.factors[strip - 1]:g}" if self.factors else f"strip {strip}"

    def asked_of(self, strip: int) -> dict[str, forms.Field]:
        raise NotImplementedError


class ReadingForm(StripsForm):
    """A grade for each strip, and what the loupe shows where it was used."""

    def asked_of(self, strip):
        grade = forms.ChoiceField(
            label=f"Grade of strip {strip}",
            choices=[(g, g) for g in GRADES],
            widget=forms.RadioSelect,
            error_messages={"required": "Grade this strip."},
        )
        return {
            f"grade_{strip}": grade,
            f"opening_{strip}": NumberField(label="Finest opening clear", unit="µm", required=False),
            f"line_{strip}": NumberField(label="Thinnest line standing", unit="µm", required=False),
            f"dot_{strip}": NumberField(label="Smallest highlight dot clear", unit="%", required=False),
        }

    def _say(self, field, message):
        if field.startswith("strip "):
            field = f"grade_{field.removeprefix('strip ')}"
        super()._say(field, message)

    def steps(self):
        data = self.cleaned_data
        seen = ("grade", "opening", "line", "dot", "slimy", "pale")
        return [StepGrade(n, time, *(data[f"{name}_{n}"] for name in seen)) for n, time in self.sure()]

    def strips(self):
        """(strip, its name, time, grade field, what was seen), shortest time first, as the page lays them out."""
        rows = [
            (
                n,
                self.name_of(n),
                time,
                self[f"grade_{n}"],
                [self[f"{seen}_{n}"] for seen in ("opening", "line", "dot", "slimy", "pale")],
            )
            for n, time in self.sure()
        ]
        return sorted(rows, key=lambda row: row[2])


class GreyScaleForm(ActForm):
    """What a grey scale shows."""

    solid_step = NumberField(label="Highest step that stands solid")
    school = forms.ChoiceField(choices=list(SCHOOLS.items()), widget=forms.HiddenInput)
