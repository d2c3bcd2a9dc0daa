"""Forms of the lamp, the loupe and the booth."""

from django import forms

from frimble.core.exposure import steptest
from frimble.core.exposure.reading import GRADES, SCHOOLS, StepGrade
from frimble.exposures.models import Lamp
from frimble.films.models import FilmSystem, Positive
from frimble.screens.forms import ActForm, NumberField, QuantityField, StepForm, WholeField

DRY_TICK = "Dry: no tack, hard and slick to a damp gloved fingertip, no slime"


class LightForm(forms.Form):
    """Which lamp and which film: enough to look a time up."""

    lamp = forms.ModelChoiceField(Lamp.objects.all(), label="Lamp", empty_label=None)
    film = forms.ModelChoiceField(FilmSystem.objects.all(), label="Film system", empty_label=None)


class ExposeForm(StepForm, LightForm):
    positive = forms.ModelChoiceField(
        Positive.objects.all(), label="Which film", required=False, empty_label="not on the film bench"
    )
    own_time_s = NumberField(label="A time of your own", unit="s", required=False)
    own_reason = forms.CharField(label="Why this time", required=False, max_length=200)
    dry = forms.BooleanField(
        label=DRY_TICK, error_messages={"required": "Feel it first: wet inside looks dry outside."}
    )

    def clean(self):
        data = super().clean()
        if data.get("own_time_s") and not data.get("own_reason"):
            self.add_error("own_reason", "Say why: this time is not calibrated.")
        return data


class PlanForm(StepForm, LightForm):
    note = None
    guess_s = NumberField(label="Your guess", unit="s")
    steps = WholeField(label="Steps", error_messages={"invalid": "A whole number of steps."})
    series = forms.ChoiceField(label="Series", choices=list(steptest.SERIES_WORDS.items()))
    card = forms.ChoiceField(label="Card", choices=[("cover", "covers strips"), ("uncover", "uncovers strips")])
    length_mm = QuantityField(label="Length of the test", unit="mm")
    revision = forms.IntegerField(widget=forms.HiddenInput, required=False)

    def plan(self, standards):
        """The core's plan for what was typed."""
        data = self.cleaned_data
        return steptest.plan_moving_card(
            data["guess_s"], data["steps"], data["series"], standards, data["card"], data["lamp"].start_lag_s
        )

    def common(self):
        return {k: self.cleaned_data[k] for k in ("revision", "override_reason")}


class StartTestForm(PlanForm):
    dry = forms.BooleanField(
        label=DRY_TICK, error_messages={"required": "Feel it first: wet inside looks dry outside."}
    )


class ReadingForm(ActForm):
    """A grade for each strip, and what the loupe shows where it was used."""

    school = forms.ChoiceField(label="Choose by", choices=list(SCHOOLS.items()), widget=forms.RadioSelect)
    wanted_opening_um = NumberField(label="Finest detail wanted, open and standing", unit="µm")

    def __init__(self, *args, times_s, **kwargs):
        super().__init__(*args, **kwargs)
        self.times_s = times_s
        for strip in range(1, len(times_s) + 1):
            self.fields[f"grade_{strip}"] = forms.ChoiceField(
                label=f"Grade of strip {strip}", choices=[(g, g) for g in GRADES], widget=forms.RadioSelect,
                error_messages={"required": "Grade this strip."},
            )  # fmt: skip
            self.fields[f"opening_{strip}"] = NumberField(label="Finest opening clear", unit="µm", required=False)
            self.fields[f"line_{strip}"] = NumberField(label="Thinnest line standing", unit="µm", required=False)

    def _say(self, field, message):
        if field.startswith("strip "):
            field = f"grade_{field.removeprefix('strip ')}"
        super()._say(field, message)

    def steps(self):
        data = self.cleaned_data
        return [
            StepGrade(n, time, data[f"grade_{n}"], data[f"opening_{n}"], data[f"line_{n}"])
            for n, time in enumerate(self.times_s, start=1)
        ]

    def strips(self):
        """(strip, time, grade field, opening field, line field), shortest time first, as the page lays them out."""
        rows = [
            (n, time, self[f"grade_{n}"], self[f"opening_{n}"], self[f"line_{n}"])
            for n, time in enumerate(self.times_s, start=1)
        ]
        return sorted(rows, key=lambda row: row[1])


class PhotoForm(ActForm):
    """A photo of the rinsed test, and what the film on it measured as printed."""

    photo = forms.FileField(
        label="Photo of the rinsed test", help_text="JPEG, PNG or WebP from a phone, from straight above, lit through"
    )
    scale_bar_mm = NumberField(label="The film's scale bar measures", unit="mm", initial="200")
    dpi = WholeField(label="Film printed at, dpi", initial=600)
    wanted_um = NumberField(label="Finest opening wanted", unit="µm")


class PhotoGradesForm(ActForm):
    """The photo's grades, each to be set right by hand."""

    school = forms.ChoiceField(label="Choose by", choices=list(SCHOOLS.items()), widget=forms.RadioSelect)

    def __init__(self, *args, steps, **kwargs):
        super().__init__(*args, **kwargs)
        self.steps = steps
        for step in steps:
            self.fields[f"grade_{step.index}"] = forms.ChoiceField(
                label=f"Grade of step {step.index}", choices=[(g, g) for g in GRADES], initial=step.verdict
            )

    def rows(self):
        """(step, grade field), shortest time first."""
        return sorted(((s, self[f"grade_{s.index}"]) for s in self.steps), key=lambda row: row[0].time_s)

    def changed_grades(self) -> dict[int, str]:
        """Grades that were set otherwise than the photo's."""
        chosen = {s.index: self.cleaned_data[f"grade_{s.index}"] for s in self.steps}
        return {s.index: chosen[s.index] for s in self.steps if chosen[s.index] != s.verdict}


class FilmForm(ActForm):
    """The step-test film to print."""

    steps = WholeField(label="Steps")
    dpi = WholeField(label="Printer, dpi")


class WashForm(StepForm):
    soak_s = NumberField(label="Soak", unit="s")
    rinse_s = NumberField(label="Rinse", unit="s")


class InspectForm(StepForm):
    verdict = forms.ChoiceField(
        label="Against the light",
        choices=[("pass", "passes: every image area is open, edges whole"), ("fail", "fails: reclaim and remake")],
        widget=forms.RadioSelect,
    )
    pinholes = WholeField(
        label="Pinholes blocked", initial=0, error_messages={"invalid": "A whole number of pinholes."}
    )
