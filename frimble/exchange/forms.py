"""Forms of lists in and out."""

from django import forms

from frimble.exchange import matching
from frimble.screens.steps.forms import ActForm


class ListForm(ActForm):
    file = forms.FileField(
        label="List",
        help_text="CSV or XLSX, one screen a row, headings in the first",
        error_messages={"required": "Choose the list's file."},
    )


class ChoicesForm(ActForm):
    """Which column is which, and what the file does not say of itself."""

    unit = forms.ChoiceField(label="Bare sizes are in", choices=list(matching.UNITS.items()))
    counts = forms.ChoiceField(label="Bare mesh counts are", choices=list(matching.COUNTS.items()))
    dates = forms.ChoiceField(label="Dates with slashes are", choices=list(matching.DATES.items()))

    def __init__(self, *args, headings, **kwargs):
        super().__init__(*args, **kwargs)
        columns = [("", "not in the list"), *((str(k), h or f"column {k + 1}") for k, h in enumerate(headings))]
        for name, (label, _) in matching.FIELDS.items():
            self.fields[f"column_{name}"] = forms.ChoiceField(label=label, choices=columns, required=False)

    def choices(self) -> matching.Choices:
        """What was chosen, for the dry run."""
        given = self.cleaned_data
        columns = {name: int(given[f"column_{name}"]) for name in matching.FIELDS if given[f"column_{name}"]}
        return matching.Choices(columns, given["unit"], given["counts"], given["dates"])


class PackageForm(ActForm):
    file = forms.FileField(
        label="Data package",
        help_text="A zip that this page wrote; the shop must be empty",
        error_messages={"required": "Choose the package's file."},
    )
