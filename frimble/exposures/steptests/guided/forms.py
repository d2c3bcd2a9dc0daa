"""Reading a step test feature by feature."""

from django import forms

from frimble.core.exposure.steptest.guided import FEATURES, StripMarks, rank
from frimble.core.exposure.steptest.reading import StepGrade
from frimble.exposures.steptests.reading.forms import StripsForm


class GuidedForm(StripsForm):
    """What is seen of each strip, feature by feature: its grade follows."""

    def asked_of(self, strip):
        return {
            f"{name}_{strip}": forms.ChoiceField(
                label=words,
                choices=[(mark, f"{mark}: {meaning}") for mark, meaning in known.items()],
                widget=forms.RadioSelect,
                error_messages={"required": "Say what you see."},
            )
            for name, (words, known) in FEATURES.items()
        }

    def marks(self) -> dict[int, dict[str, str]]:
        """By strip, the mark of each feature."""
        data = self.cleaned_data
        return {n: {name: data[f"{name}_{n}"] for name in FEATURES} for n, _ in self.sure()}

    def steps(self) -> list[StepGrade]:
        """Every strip with the grade its marks come to."""
        data, marks = self.cleaned_data, []
        for n, seen in self.marks().items():
            slimy, pale = data[f"slimy_{n}"], data[f"pale_{n}"]
            grade = rank(StripMarks(**seen, slimy=slimy, pale=pale)).grade
            marks.append(StepGrade(n, self.times_s[n - 1], grade, slimy=slimy, pale=pale))
        return marks

    def strips(self):
        """(strip, time, its fields), shortest time first."""
        names = (*FEATURES, "slimy", "pale")
        rows = [(n, time, [self[f"{name}_{n}"] for name in names]) for n, time in self.sure()]
        return sorted(rows, key=lambda row: row[1])
