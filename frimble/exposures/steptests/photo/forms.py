"""A photo of a step test: sent, corrected, set beside another."""

from django import forms

from frimble.core.exposure.steptest.reading import GRADES, SCHOOLS
from frimble.core.units import show_seconds
from frimble.exposures.models import StepPhoto
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField, RecordField, WholeField


class StepPhotoForm(ActForm):
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


class PairForm(ActForm):
    """Two photographed steps to be seen side by side."""

    a = WholeField(label="Step")
    other = RecordField(StepPhoto.objects.none(), label="Beside it, on", required=False)
    b = WholeField(label="Step there")

    def __init__(self, *args, photo, steps, **kwargs):
        super().__init__(*args, **kwargs)
        others = StepPhoto.objects.exclude(straight="").filter(refused="").exclude(pk=photo.pk)
        self.fields["other"].queryset = others.select_related("step_test")
        self.fields["other"].empty_label = "this photo"
        choices = [(s.index, f"{s.index}, {show_seconds(s.time_s)}") for s in sorted(steps, key=lambda s: s.time_s)]
        self.fields["a"].widget = forms.Select(choices=choices)
