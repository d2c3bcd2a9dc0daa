"""Several screens coated in one go."""

from django import forms

from frimble.coatings.coats.forms import FORMULA_INPUT
from frimble.coatings.models import FILLS, INKS, Batch, Coater
from frimble.screens.steps.forms import ActForm
from frimble.ui.forms.fields import NumberField, RecordField


class RunForm(ActForm):
    """Several screens to coat in one go, each with its formula."""

    batch = RecordField(Batch.objects.none(), label="Emulsion batch", empty_label=None)
    coater = RecordField(Coater.objects.filter(retired=False), label="Coater", empty_label=None)
    fill = forms.ChoiceField(label="Coater filled", choices=FILLS)
    ink = forms.ChoiceField(label="Ink they will print", required=False, choices=[("", "not known yet"), *INKS])
    poured_l = NumberField(label="Poured from the batch", unit="l", required=False)

    def __init__(self, *args, candidates, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["batch"].queryset = Batch.objects.in_use().prefetch_related(None)
        self.candidates = candidates
        for candidate in candidates:
            key = candidate.screen.pk
            self.fields[f"take_{key}"] = forms.BooleanField(label=candidate.screen.code, required=False, initial=True)
            self.fields[f"formula_{key}"] = forms.CharField(
                label=f"Formula for {candidate.screen.code}",
                max_length=60,
                required=False,
                initial=candidate.formula,
                widget=FORMULA_INPUT,
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
    returned_l = NumberField(label="Back into the container", unit="l")
    washed = forms.BooleanField(label="The coater is washed and looked along", required=False)
